using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>Whether the hub's unit prices are net or gross.</summary>
[JsonConverter(typeof(CamelCaseEnum<OrderTaxTarget>))]
public enum OrderTaxTarget
{
    /// <summary>Net.</summary>
    Net,

    /// <summary>Gross.</summary>
    Gross,
}
