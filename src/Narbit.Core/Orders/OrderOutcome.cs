using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What becomes of an order; the later beats the earlier.</summary>
[JsonConverter(typeof(CamelCaseEnum<OrderOutcome>))]
public enum OrderOutcome
{
    /// <summary>It goes to the hub.</summary>
    Take,

    /// <summary>It is looked at again later, by itself.</summary>
    Wait,

    /// <summary>A person decides.</summary>
    Hold,

    /// <summary>It is none of the hub's.</summary>
    Skip,
}
