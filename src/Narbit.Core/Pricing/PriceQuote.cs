using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>What a price rule makes of an item: amounts in the target currency with at least its decimals.</summary>
/// <param name="Price">The price, or null.</param>
/// <param name="SalePrice">The carried sale price, or null.</param>
/// <param name="CompareAt">The price to strike through, or null.</param>
/// <param name="Outcome">How it ended.</param>
/// <param name="Trace">A line for every step.</param>
[JsonNumberHandling(JsonNumberHandling.WriteAsString)]
public sealed record PriceQuote(
    decimal? Price,
    decimal? SalePrice,
    decimal? CompareAt,
    PriceOutcome Outcome,
    IReadOnlyList<TraceStep> Trace
)
{
    /// <summary>The price list that the amount was picked from; null: none has one.</summary>
    [JsonIgnore]
    public string? PickedFrom { get; init; }

    /// <summary>The amount that was picked, in the source currency.</summary>
    [JsonIgnore]
    public decimal? Picked { get; init; }
}
