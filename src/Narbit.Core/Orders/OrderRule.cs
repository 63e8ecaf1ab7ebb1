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

/// <summary>What is done where an address is missing or outside.</summary>
[JsonConverter(typeof(CamelCaseEnum<AddressChoice>))]
public enum AddressChoice
{
    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>The rule's own address takes its place.</summary>
    Placeholder,

    /// <summary>The order goes as it is.</summary>
    Take,
}

/// <summary>By what a customer is found.</summary>
[JsonConverter(typeof(CamelCaseEnum<CustomerKey>))]
public enum CustomerKey
{
    /// <summary>The account.</summary>
    Account,

    /// <summary>The mail address.</summary>
    Email,

    /// <summary>The telephone number.</summary>
    Phone,

    /// <summary>Name and postcode together.</summary>
    NameAndPostcode,
}

/// <summary>What is done where no customer is found.</summary>
[JsonConverter(typeof(CamelCaseEnum<MissingCustomer>))]
public enum MissingCustomer
{
    /// <summary>One is created.</summary>
    Create,

    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>The rule's own customer is used.</summary>
    Use,
}

/// <summary>What is done with a SKU that the hub does not know.</summary>
[JsonConverter(typeof(CamelCaseEnum<UnknownItem>))]
public enum UnknownItem
{
    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>The rule's own item is used.</summary>
    Use,

    /// <summary>The line is left out.</summary>
    Omit,
}

/// <summary>Whether kits go as they are or as their components.</summary>
[JsonConverter(typeof(CamelCaseEnum<KitChoice>))]
public enum KitChoice
{
    /// <summary>As any other SKU.</summary>
    Keep,

    /// <summary>As their components.</summary>
    Split,
}

/// <summary>How the order's discounts are shown.</summary>
[JsonConverter(typeof(CamelCaseEnum<DiscountChoice>))]
public enum DiscountChoice
{
    /// <summary>As lines of their own, one for each tax rate.</summary>
    Line,

    /// <summary>Taken off the goods.</summary>
    Spread,
}

/// <summary>What is done where an order does not add up.</summary>
[JsonConverter(typeof(CamelCaseEnum<DifferenceChoice>))]
public enum DifferenceChoice
{
    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>A line makes up for it, up to a bound.</summary>
    Line,
}

/// <summary>Whether the hub's unit prices are net or gross.</summary>
[JsonConverter(typeof(CamelCaseEnum<OrderTaxTarget>))]
public enum OrderTaxTarget
{
    /// <summary>Net.</summary>
    Net,

    /// <summary>Gross.</summary>
    Gross,
}

/// <summary>Whether tax is rounded line by line or rate by rate.</summary>
[JsonConverter(typeof(CamelCaseEnum<TaxRounding>))]
public enum TaxRounding
{
    /// <summary>Line by line.</summary>
    Line,

    /// <summary>All lines of one rate together.</summary>
    Rate,
}

/// <summary>How orders of a store become documents of the hub.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record OrderRule
{
    /// <summary>Orders that were placed before are none of the hub's; null: all are.</summary>
    public DateTimeOffset? CutOff { get; init; }

    /// <summary>What becomes of an order by its state.</summary>
    public IReadOnlyDictionary<string, OrderOutcome> States { get; init; } = new Dictionary<string, OrderOutcome>();

    /// <summary>What becomes of one in any other state.</summary>
    public OrderOutcome OtherState { get; init; } = OrderOutcome.Hold;

    /// <summary>What becomes of an order by its payment's state, over the usual.</summary>
    public IReadOnlyDictionary<string, OrderOutcome> Payments { get; init; } = new Dictionary<string, OrderOutcome>();

    /// <summary>The hub's payment types by the store's methods.</summary>
    public IReadOnlyDictionary<string, string> Methods { get; init; } = new Dictionary<string, string>();

    /// <summary>The payment type of any other method; null: the order is held.</summary>
    public string? OtherMethod { get; init; }

    /// <summary>The hub's shipping codes by the store's methods.</summary>
    public IReadOnlyDictionary<string, string> ShippingMethods { get; init; } = new Dictionary<string, string>();

    /// <summary>The shipping code of any other method; null: the order is held.</summary>
    public string? OtherShipping { get; init; }

    /// <summary>Where orders may go; none: everywhere.</summary>
    public IReadOnlyList<ShippingZone> Zones { get; init; } = [];

    /// <summary>What is done outside of them.</summary>
    public AddressChoice OutsideZone { get; init; }

    /// <summary>What is done without a whole address.</summary>
    public AddressChoice NoAddress { get; init; }

    /// <summary>The address that takes the place of one that is missing or outside.</summary>
    public OrderAddress? Placeholder { get; init; }

    /// <summary>How the customer is found.</summary>
    public CustomerRule Customer { get; init; } = new();

    /// <summary>What is done with a SKU that the hub does not know.</summary>
    public UnknownItem UnknownItem { get; init; }

    /// <summary>The item that takes its place.</summary>
    public string? UseItem { get; init; }

    /// <summary>Whether kits are split.</summary>
    public KitChoice Kits { get; init; }

    /// <summary>How the order's discounts are shown.</summary>
    public DiscountChoice Discounts { get; init; }

    /// <summary>The hub's item for shipping.</summary>
    public string? ShippingItem { get; init; }

    /// <summary>The hub's item for discounts.</summary>
    public string? DiscountItem { get; init; }

    /// <summary>The hub's item for fees.</summary>
    public string? FeeItem { get; init; }

    /// <summary>The hub's item for what does not add up.</summary>
    public string? DifferenceItem { get; init; }

    /// <summary>The hub's payment type for vouchers.</summary>
    public string VoucherType { get; init; } = "voucher";

    /// <summary>How tax is reckoned.</summary>
    public OrderTax Tax { get; init; } = new();

    /// <summary>By how much an order may be off without a word.</summary>
    public decimal Tolerance { get; init; }

    /// <summary>What is done where it is off by more.</summary>
    public DifferenceChoice Difference { get; init; }

    /// <summary>Up to how much a line makes up for it.</summary>
    public decimal DifferenceUpTo { get; init; } = 0.05m;

    /// <summary>The document's number, with <c>{number}</c> and <c>{id}</c> filled in.</summary>
    public string Number { get; init; } = "{number}";

    /// <summary>The kind of document.</summary>
    public string Document { get; init; } = "order";

    /// <summary>Kinds of document for some orders; the first that fits counts.</summary>
    public IReadOnlyList<DocumentChoice> Documents { get; init; } = [];
}

/// <summary>A country, or a part of it, that orders may go to.</summary>
public sealed record ShippingZone
{
    /// <summary>ISO 3166-1 alpha-2.</summary>
    public required string Country { get; init; }

    /// <summary>What its postcodes begin with; none: all of them.</summary>
    public IReadOnlyList<string> Prefixes { get; init; } = [];

    /// <summary>What postcodes that are left out begin with.</summary>
    public IReadOnlyList<string> Except { get; init; } = [];
}

/// <summary>How a customer is found, and what is done where none is.</summary>
public sealed record CustomerRule
{
    /// <summary>By what, in turn.</summary>
    public IReadOnlyList<CustomerKey> Match { get; init; } =
    [CustomerKey.Account, CustomerKey.Email, CustomerKey.Phone, CustomerKey.NameAndPostcode];

    /// <summary>What is done where none is found.</summary>
    public MissingCustomer Missing { get; init; }

    /// <summary>The customer that is used then.</summary>
    public string? Use { get; init; }
}

/// <summary>How tax is reckoned.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record OrderTax
{
    /// <summary>Whether the hub's unit prices are net or gross.</summary>
    public OrderTaxTarget Target { get; init; }

    /// <summary>The rate of shipping and fees that have none of their own.</summary>
    public ShippingRate ShippingRate { get; init; } = ShippingRate.Highest;

    /// <summary>The rate of lines that have none of their own, in percent; null: the order is held.</summary>
    public decimal? DefaultRate { get; init; }

    /// <summary>Line by line or rate by rate.</summary>
    public TaxRounding Rounding { get; init; }
}

/// <summary>The rate of shipping: the highest of the goods, spread over their rates, or a number in percent.</summary>
/// <param name="Spread">Whether it is spread.</param>
/// <param name="Fixed">The number; null: the highest, or spread.</param>
[JsonConverter(typeof(ShippingRateJson))]
public sealed record ShippingRate(bool Spread, decimal? Fixed)
{
    /// <summary>The highest of the goods.</summary>
    public static ShippingRate Highest { get; } = new(Spread: false, Fixed: null);
}

/// <summary>A kind of document for orders that fit.</summary>
public sealed record DocumentChoice
{
    /// <summary>The store's payment method; null: any.</summary>
    public string? Method { get; init; }

    /// <summary>The order's state; null: any.</summary>
    public string? State { get; init; }

    /// <summary>The kind of document.</summary>
    public required string As { get; init; }
}
