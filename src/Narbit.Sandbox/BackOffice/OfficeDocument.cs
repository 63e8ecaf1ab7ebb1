using Narbit.Sandbox.Orders;

namespace Narbit.Sandbox.BackOffice;

/// <summary>An order, invoice or whatever else an order becomes.</summary>
public sealed record OfficeDocument
{
    public required string Number { get; init; }

    public required string ExternalNumber { get; init; }

    public string Kind { get; init; } = "order";

    public string State { get; init; } = "open";

    public required string Customer { get; init; }

    public DateTimeOffset? PlacedAt { get; init; }

    public string Currency { get; init; } = "EUR";

    public string ShippingCode { get; init; } = "";

    public string Location { get; init; } = "";

    public string Register { get; init; } = "";

    /// <summary>The ledger account of the channel.</summary>
    public string ChannelAccount { get; init; } = "";

    public string SalesPerson { get; init; } = "";

    public string Tags { get; init; } = "";

    /// <summary>The number that the buyer gave the order.</summary>
    public string TheirNumber { get; init; } = "";

    /// <summary>What the office answers the buyer.</summary>
    public string Answer { get; init; } = "";

    public string Remark { get; init; } = "";

    public PostAddress? ShipTo { get; init; }

    public IReadOnlyList<OfficeLine> Lines { get; init; } = [];

    public IReadOnlyList<OfficePayment> Payments { get; init; } = [];

    public IReadOnlyList<Parcel> Parcels { get; init; } = [];

    public DateTimeOffset ChangedAt { get; init; }
}
