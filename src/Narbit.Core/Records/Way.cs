using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>Which way a write goes.</summary>
[JsonConverter(typeof(CamelCaseEnum<Way>))]
public enum Way
{
    /// <summary>To the lane's target.</summary>
    There,

    /// <summary>Back to its source.</summary>
    Back,
}
