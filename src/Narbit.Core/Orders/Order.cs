using System.Text.Json.Serialization;

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

/// <param name="State">The state that the store gives the payment.</param>
/// <param name="Method">The store's word for how it was paid.</param>
public sealed record OrderPayment(string? State, string? Method);

/// <summary>A line of an order.</summary>
public sealed record OrderLine
{
    /// <summary>Its id within the order.</summary>
    public required string Id { get; init; }

    /// <summary>The SKU as the store has it.</summary>
    public string? Sku { get; init; }

    /// <summary>What it is called.</summary>
    public string? Title { get; init; }

    /// <summary>How many, at least 1.</summary>
    public int Quantity { get; init; } = 1;

    /// <summary>The price of one.</summary>
    public decimal Price { get; init; }

    /// <summary>What is taken off the line.</summary>
    public decimal Discount { get; init; }

    /// <summary>In percent; null: the store does not say.</summary>
    public decimal? TaxRate { get; init; }
}

/// <param name="Method">The store's word for how it is sent.</param>
/// <param name="Amount">What that costs.</param>
/// <param name="TaxRate">In percent; null: the rule says.</param>
public sealed record OrderShipping(string? Method, decimal Amount, decimal? TaxRate = null);

/// <param name="Title">What it is called.</param>
/// <param name="Amount">What is taken off.</param>
public sealed record OrderDiscount(string? Title, decimal Amount);

/// <param name="Title">What it is called.</param>
/// <param name="Amount">What is added.</param>
/// <param name="TaxRate">In percent; null: the rule says.</param>
public sealed record OrderFee(string? Title, decimal Amount, decimal? TaxRate = null);

/// <param name="Code">The voucher's code.</param>
/// <param name="Amount">What is paid with it, gross.</param>
public sealed record OrderVoucher(string? Code, decimal Amount);

/// <summary>What was given back of an order.</summary>
public sealed record OrderRefund
{
    /// <summary>Its id within the store.</summary>
    public required string Id { get; init; }

    /// <summary>When.</summary>
    public DateTimeOffset? At { get; init; }

    /// <summary>How many of which lines.</summary>
    public IReadOnlyList<RefundedLine> Lines { get; init; } = [];

    /// <summary>How much of the shipping, gross.</summary>
    public decimal Shipping { get; init; }

    /// <summary>What was paid back, gross.</summary>
    public decimal Total { get; init; }

    /// <summary>Whether the goods come back into stock.</summary>
    public bool Restock { get; init; }
}

/// <param name="Line">The line's id.</param>
/// <param name="Quantity">How many of it.</param>
public sealed record RefundedLine(string Line, int Quantity);

/// <summary>An address; it is passed on with just the parts that were given.</summary>
[JsonConverter(typeof(OrderAddressJson))]
public sealed record OrderAddress
{
    /// <summary>What its parts are called in JSON, in the order of the properties.</summary>
    public static IReadOnlyList<string> Parts { get; } = ["name", "company", "street", "city", "postcode", "country", "phone"];

    /// <summary>The person's name.</summary>
    public string? Name { get; init; }

    /// <summary>The company's name.</summary>
    public string? Company { get; init; }

    /// <summary>Street and number.</summary>
    public string? Street { get; init; }

    /// <summary>Town.</summary>
    public string? City { get; init; }

    /// <summary>Postcode.</summary>
    public string? Postcode { get; init; }

    /// <summary>ISO 3166-1 alpha-2.</summary>
    public string? Country { get; init; }

    /// <summary>Telephone number of whoever receives it.</summary>
    public string? Phone { get; init; }

    /// <summary>The parts that were given, by their names in JSON.</summary>
    [JsonIgnore]
    public IReadOnlyList<string> Given { get; init; } = Parts;

    /// <summary>A part by what it is called in JSON.</summary>
    public string? Part(string name) =>
        name switch
        {
            "name" => Name,
            "company" => Company,
            "street" => Street,
            "city" => City,
            "postcode" => Postcode,
            "country" => Country,
            _ => Phone,
        };
}

/// <summary>What the hub knows already.</summary>
public sealed record KnownToHub
{
    /// <summary>Item codes of the hub by the store's SKUs.</summary>
    public IReadOnlyDictionary<string, string> Items { get; init; } = new Dictionary<string, string>();

    /// <summary>What the store sells as one and the hub keeps apart, by the store's SKUs.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<KitComponent>> Kits { get; init; } =
        new Dictionary<string, IReadOnlyList<KitComponent>>();

    /// <summary>The hub's customers.</summary>
    public IReadOnlyList<KnownCustomer> Customers { get; init; } = [];

    // Made when it is first asked for; a copy with other customers makes its own.
    private CustomerIndex? _index;

    /// <summary>The customers by what they are known by.</summary>
    internal CustomerIndex Index => ReferenceEquals(_index?.Customers, Customers) ? _index! : _index = new CustomerIndex(Customers);

    /// <summary>Ids of orders that were taken before.</summary>
    public IReadOnlyList<string> Taken { get; init; } = [];

    /// <summary>Ids of refunds that have a credit note.</summary>
    public IReadOnlyList<string> Credited { get; init; } = [];
}

/// <param name="Item">The hub's item code.</param>
/// <param name="Quantity">How many of it are in one kit.</param>
/// <param name="Price">What one costs by itself; what the kit's amount is shared out by.</param>
public sealed record KitComponent(string Item, int Quantity, decimal Price = 0);

/// <summary>A customer of the hub.</summary>
public sealed record KnownCustomer
{
    /// <summary>The hub's key.</summary>
    public required string Key { get; init; }

    /// <summary>The account.</summary>
    public string? Account { get; init; }

    /// <summary>The mail address.</summary>
    public string? Email { get; init; }

    /// <summary>The telephone number.</summary>
    public string? Phone { get; init; }

    /// <summary>The name.</summary>
    public string? Name { get; init; }

    /// <summary>The postcode.</summary>
    public string? Postcode { get; init; }
}
