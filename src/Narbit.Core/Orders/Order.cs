namespace Narbit.Core.Orders;

/// <summary>
/// An order as it was placed. Amounts are gross where <see cref="TaxIncluded"/> says so, else net; <see cref="Total"/>, vouchers, and the
/// shipping and total of a refund are always gross. All but the price of a line are whole numbers of the currency's smallest unit.
/// </summary>
public sealed record Order
{
    /// <summary>The store's own id: what an order is known by, once and for all.</summary>
    public required string Id { get; init; }

    /// <summary>The number that people use.</summary>
    public string? Number { get; init; }

    /// <summary>When it was placed.</summary>
    public DateTimeOffset PlacedAt { get; init; }

    /// <summary>The state that the store gives it.</summary>
    public string? State { get; init; }

    /// <summary>ISO 4217.</summary>
    public string? Currency { get; init; }

    /// <summary>The currency's digits after the point, 0 to 6.</summary>
    public int Decimals { get; init; } = 2;

    /// <summary>Whether amounts are gross.</summary>
    public bool TaxIncluded { get; init; }

    /// <summary>Whether and how it was paid.</summary>
    public OrderPayment Payment { get; init; } = new(null, null);

    /// <summary>The buyer's mail address.</summary>
    public string? Email { get; init; }

    /// <summary>The buyer's telephone number.</summary>
    public string? Phone { get; init; }

    /// <summary>The buyer's account.</summary>
    public string? Account { get; init; }

    /// <summary>Who is billed.</summary>
    public OrderAddress? BillTo { get; init; }

    /// <summary>Where it goes; null: to <see cref="BillTo"/>.</summary>
    public OrderAddress? ShipTo { get; init; }

    /// <summary>What was ordered.</summary>
    public IReadOnlyList<OrderLine> Lines { get; init; } = [];

    /// <summary>How it is sent.</summary>
    public IReadOnlyList<OrderShipping> Shipping { get; init; } = [];

    /// <summary>What is taken off the whole.</summary>
    public IReadOnlyList<OrderDiscount> Discounts { get; init; } = [];

    /// <summary>What is added to the whole.</summary>
    public IReadOnlyList<OrderFee> Fees { get; init; } = [];

    /// <summary>What is paid with vouchers.</summary>
    public IReadOnlyList<OrderVoucher> Vouchers { get; init; } = [];

    /// <summary>What the buyer pays, gross.</summary>
    public decimal Total { get; init; }

    /// <summary>The tax in it, by the store's own reckoning; null: it does not say.</summary>
    public decimal? TaxTotal { get; init; }

    /// <summary>What was given back.</summary>
    public IReadOnlyList<OrderRefund> Refunds { get; init; } = [];
}
