using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>How a computation ended.</summary>
[JsonConverter(typeof(CamelCaseEnum<PriceOutcome>))]
public enum PriceOutcome
{
    /// <summary>There is a price.</summary>
    Ok,

    /// <summary>None of the lists has a price for the item.</summary>
    NoPrice,

    /// <summary>There is a price, but the carried sale price did not end up below it and was dropped.</summary>
    SaleNotLower,
}
