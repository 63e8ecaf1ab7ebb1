namespace Narbit.Sandbox.Orders;

/// <summary>An order as a store has it. Amounts are gross or net as the store's prices are; the total is gross.</summary>
public sealed record StoreOrder
{
    public required string Id { get; init; }

    public required string Number { get; init; }

    public required DateTimeOffset PlacedAt { get; init; }

    public DateTimeOffset ChangedAt { get; init; }

    public required string State { get; init; }

    public required string PaymentState { get; init; }

    public string Method { get; init; } = "";

    public string Email { get; init; } = "";

    public string Phone { get; init; } = "";

    public string Account { get; init; } = "";

    /// <summary>The buyer's own number for the order.</summary>
    public string TheirNumber { get; init; } = "";

    /// <summary>The number of the order in the store that it was bought in.</summary>
    public string External { get; init; } = "";

    /// <summary>The key of the program that placed it.</summary>
    public string Key { get; init; } = "";

    /// <summary>The register that it was sold at.</summary>
    public string Register { get; init; } = "";

    public PostAddress? BillTo { get; init; }

    public PostAddress? ShipTo { get; init; }

    public IReadOnlyList<OrderedLine> Lines { get; init; } = [];

    public IReadOnlyList<Sending> Shipping { get; init; } = [];

    public IReadOnlyList<OnTop> Discounts { get; init; } = [];

    public IReadOnlyList<OnTop> Fees { get; init; } = [];

    public IReadOnlyList<UsedVoucher> Vouchers { get; init; } = [];

    public decimal Total { get; init; }

    public decimal TaxTotal { get; init; }

    public IReadOnlyList<GivenBack> Refunds { get; init; } = [];

    public string Comment { get; init; } = "";

    /// <summary>What the seller answered.</summary>
    public string Answer { get; init; } = "";

    /// <summary>The number under which the back office has it.</summary>
    public string HubNumber { get; init; } = "";

    public IReadOnlyList<Parcel> Parcels { get; init; } = [];
}
