using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>How the order's discounts are shown.</summary>
[JsonConverter(typeof(CamelCaseEnum<DiscountChoice>))]
public enum DiscountChoice
{
    /// <summary>As lines of their own, one for each tax rate.</summary>
    Line,

    /// <summary>Taken off the goods.</summary>
    Spread,
}
