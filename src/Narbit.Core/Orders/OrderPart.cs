using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>A part of an order that may change after it was posted.</summary>
[JsonConverter(typeof(CamelCaseEnum<OrderPart>))]
public enum OrderPart
{
    /// <summary>Lines, amounts, shipping: all that the total is made of.</summary>
    Goods,

    /// <summary>Where it is sent.</summary>
    Address,

    /// <summary>How it was paid, and whether.</summary>
    Payment,

    /// <summary>The order as a whole: it is no longer wanted.</summary>
    Cancelled,
}
