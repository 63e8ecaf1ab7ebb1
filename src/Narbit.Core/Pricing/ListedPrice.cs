using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>An amount in one price list.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString | JsonNumberHandling.WriteAsString)]
public sealed record ListedPrice
{
    /// <summary>The regular amount.</summary>
    public decimal? Amount { get; init; }

    /// <summary>The sale amount.</summary>
    public decimal? Sale { get; init; }

    /// <summary>The first instant of the sale; null: open.</summary>
    public DateTimeOffset? SaleFrom { get; init; }

    /// <summary>The first instant after the sale; null: open.</summary>
    public DateTimeOffset? SaleTo { get; init; }
}
