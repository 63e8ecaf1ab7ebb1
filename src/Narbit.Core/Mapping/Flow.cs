using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>Which way a field's value may flow.</summary>
[JsonConverter(typeof(CamelCaseEnum<Flow>))]
public enum Flow
{
    /// <summary>To the target only.</summary>
    ToTarget,

    /// <summary>To the source only.</summary>
    ToSource,

    /// <summary>Either way.</summary>
    Both,
}
