using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>Which way an ending may move an amount.</summary>
[JsonConverter(typeof(CamelCaseEnum<Direction>))]
public enum Direction
{
    /// <summary>To the nearest; ties go up.</summary>
    Nearest,

    /// <summary>Never below the amount.</summary>
    Up,

    /// <summary>Never above the amount, if there is such a candidate.</summary>
    Down,
}
