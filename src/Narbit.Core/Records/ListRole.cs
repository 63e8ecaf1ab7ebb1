using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>What a list within a record means, whatever its name.</summary>
[JsonConverter(typeof(CamelCaseEnum<ListRole>))]
public enum ListRole
{
    /// <summary>No meaning that Narbit knows.</summary>
    None,

    /// <summary>What was ordered; at the hub, all lines of a document.</summary>
    Lines,

    /// <summary>Who is billed: one entry at most.</summary>
    BillTo,

    /// <summary>Where it goes: one entry at most.</summary>
    ShipTo,

    /// <summary>How it is sent and what that costs.</summary>
    Shipping,

    /// <summary>What is taken off the whole.</summary>
    Discounts,

    /// <summary>What is added to the whole.</summary>
    Fees,

    /// <summary>What is paid with vouchers.</summary>
    Vouchers,

    /// <summary>How it was paid.</summary>
    Payments,

    /// <summary>What was given back.</summary>
    Refunds,

    /// <summary>How many of which lines were given back.</summary>
    RefundedLines,

    /// <summary>What was sent, with its carrier and tracking number.</summary>
    Shipments,

    /// <summary>The addresses of a customer.</summary>
    Addresses,
}
