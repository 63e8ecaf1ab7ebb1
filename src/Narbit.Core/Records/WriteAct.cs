using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>What a write does to a record.</summary>
[JsonConverter(typeof(CamelCaseEnum<WriteAct>))]
public enum WriteAct
{
    /// <summary>It changes some of its fields.</summary>
    Update,

    /// <summary>It makes it.</summary>
    Create,

    /// <summary>It ends it: the record is no longer there, or no longer offered.</summary>
    End,
}
