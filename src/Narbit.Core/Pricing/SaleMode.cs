using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>What becomes of a live sale amount.</summary>
[JsonConverter(typeof(CamelCaseEnum<SaleMode>))]
public enum SaleMode
{
    /// <summary>Nothing: the regular amount is the price.</summary>
    Ignore,

    /// <summary>It becomes the price, when lower than the regular amount or when a higher one is allowed.</summary>
    Merge,

    /// <summary>It goes to the target as a sale price of its own.</summary>
    Carry,
}
