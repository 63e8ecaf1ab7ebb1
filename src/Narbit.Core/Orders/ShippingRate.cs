using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>The rate of shipping: the highest of the goods, spread over their rates, or a number in percent.</summary>
/// <param name="Spread">Whether it is spread.</param>
/// <param name="Fixed">The number; null: the highest, or spread.</param>
[JsonConverter(typeof(ShippingRateJson))]
public sealed record ShippingRate(bool Spread, decimal? Fixed)
{
    /// <summary>The highest of the goods.</summary>
    public static ShippingRate Highest { get; } = new(Spread: false, Fixed: null);
}
