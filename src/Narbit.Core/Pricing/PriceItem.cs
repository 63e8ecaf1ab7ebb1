using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>What a price rule needs to know about an item.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString | JsonNumberHandling.WriteAsString)]
public sealed record PriceItem
{
    /// <summary>The amounts by price list.</summary>
    public IReadOnlyDictionary<string, ListedPrice> Prices { get; init; } = new Dictionary<string, ListedPrice>();

    /// <summary>The tax rate in percent.</summary>
    public decimal TaxRate { get; init; }

    /// <summary>The net cost in the source currency; null: unknown.</summary>
    public decimal? Cost { get; init; }

    /// <summary>The instant to compute for; decides which sales are live.</summary>
    public DateTimeOffset? At { get; init; }

    /// <summary>The target currency's digits after the point, 0 to 6.</summary>
    public int Decimals { get; init; } = 2;
}
