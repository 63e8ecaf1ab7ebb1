using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>How a target's quantity follows the offer, with its limits in pieces.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record Replenish
{
    /// <summary>The kind.</summary>
    public ReplenishKind Kind { get; init; }

    /// <summary>Follow increase: the most the target grows to.</summary>
    public decimal? Limit { get; init; }

    /// <summary>Top up: act when the target has this many or fewer.</summary>
    public decimal? AtOrBelow { get; init; }

    /// <summary>Top up: fill to this many.</summary>
    public decimal? To { get; init; }
}
