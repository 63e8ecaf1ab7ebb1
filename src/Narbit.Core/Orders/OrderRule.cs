using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

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
