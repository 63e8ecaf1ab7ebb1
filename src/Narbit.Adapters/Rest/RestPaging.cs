using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Adapters.Rest;

/// <summary>How pages follow each other.</summary>
[JsonConverter(typeof(CamelCaseEnum<RestPaging>))]
public enum RestPaging
{
    /// <summary>All records in one reply.</summary>
    None,

    /// <summary>Each reply names the cursor of the next page.</summary>
    Cursor,

    /// <summary>Pages are numbered.</summary>
    Page,

    /// <summary>Each page is asked for by the number of entries before it.</summary>
    Offset,

    /// <summary>Each reply has the address of the next page in its Link header, RFC 8288.</summary>
    Link,

    /// <summary>Each page is asked for by the key of the last record of the page before.</summary>
    LastKey,
}
