using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>Where a mapping takes its value from.</summary>
[JsonConverter(typeof(CamelCaseEnum<SourceRecord>))]
public enum SourceRecord
{
    /// <summary>The source's own record.</summary>
    Own,

    /// <summary>The record around it: the first of its group.</summary>
    Parent,

    /// <summary>The stock levels that belong to it, one value each.</summary>
    StockLevels,

    /// <summary>The paired record at the target, as it is now.</summary>
    There,
}
