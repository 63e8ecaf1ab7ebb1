namespace Narbit.Sandbox.Orders;

/// <summary>Where something is sent, or who is billed.</summary>
public sealed record PostAddress(
    string Name,
    string Company,
    string Street,
    string City,
    string Postcode,
    string Country,
    string Phone = ""
);

/// <summary>What was ordered.</summary>
public sealed record OrderedLine(
    string Id,
    string Sku,
    string Title,
    int Quantity,
    decimal Price,
    decimal Discount = 0,
    decimal? TaxRate = null
);

/// <summary>How it is sent and what that costs.</summary>
public sealed record Sending(string Method, decimal Amount, decimal? TaxRate = null);

/// <summary>What is taken off the whole, or added to it.</summary>
public sealed record OnTop(string Title, decimal Amount, decimal? TaxRate = null);

/// <summary>A voucher that was paid with.</summary>
public sealed record UsedVoucher(string Code, decimal Amount);

/// <summary>How many of a line were given back.</summary>
public sealed record ReturnedLine(string Line, int Quantity);

/// <summary>What was given back.</summary>
public sealed record GivenBack(
    string Id,
    DateTimeOffset At,
    IReadOnlyList<ReturnedLine> Lines,
    decimal Shipping,
    decimal Total,
    bool Restock
);

/// <summary>What was sent.</summary>
public sealed record Parcel(string Id, DateTimeOffset? At, string Carrier, string Tracking);

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

/// <summary>What a program says of an order; what is null stays.</summary>
public sealed record OrderNews(string Id, string? Key, string? State, string? HubNumber, IReadOnlyList<Parcel>? Parcels)
{
    public string? Answer { get; init; }

    /// <summary>The lines that stay, with their quantities.</summary>
    public IReadOnlyList<ReturnedLine>? Lines { get; init; }

    public PostAddress? ShipTo { get; init; }
}

/// <summary>Adds up orders as a store does: each line rounded for itself.</summary>
public static class Reckoning
{
    /// <summary>The order with its totals.</summary>
    /// <param name="order">An order.</param>
    /// <param name="gross">Whether its amounts are gross.</param>
    public static StoreOrder Added(StoreOrder order, bool gross)
    {
        var (total, tax) = (0m, 0m);
        void Add(decimal amount, decimal rate)
        {
            var share = gross
                ? amount - Math.Round(amount / (1 + rate / 100), 2, MidpointRounding.AwayFromZero)
                : Math.Round(amount * rate / 100, 2, MidpointRounding.AwayFromZero);
            total += gross ? amount : amount + share;
            tax += share;
        }

        foreach (var line in order.Lines)
            Add(Math.Round(line.Price * line.Quantity, 2, MidpointRounding.AwayFromZero) - line.Discount, line.TaxRate ?? 20);
        var highest = order.Lines.Select(l => l.TaxRate ?? 20).DefaultIfEmpty(0).Max();
        foreach (var off in order.Discounts)
            Add(-off.Amount, highest);
        foreach (var sending in order.Shipping)
            Add(sending.Amount, sending.TaxRate ?? highest);
        foreach (var fee in order.Fees)
            Add(fee.Amount, fee.TaxRate ?? highest);
        return order with { Total = total, TaxTotal = tax };
    }
}
