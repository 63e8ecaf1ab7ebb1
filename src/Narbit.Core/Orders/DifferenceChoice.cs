using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What is done where an order does not add up.</summary>
[JsonConverter(typeof(CamelCaseEnum<DifferenceChoice>))]
public enum DifferenceChoice
{
    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>A line makes up for it, up to a bound.</summary>
    Line,
}
