using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>How tax is reckoned.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record OrderTax
{
    /// <summary>Whether the hub's unit prices are net or gross.</summary>
    public OrderTaxTarget Target { get; init; }

    /// <summary>The rate of shipping and fees that have none of their own.</summary>
    public ShippingRate ShippingRate { get; init; } = ShippingRate.Highest;

    /// <summary>The rate of lines that have none of their own, in percent; null: the order is held.</summary>
    public decimal? DefaultRate { get; init; }

    /// <summary>Line by line or rate by rate.</summary>
    public TaxRounding Rounding { get; init; }
}
