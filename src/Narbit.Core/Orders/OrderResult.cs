using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>Something that keeps an order, or a refund, from being taken.</summary>
/// <param name="Code">A stable word.</param>
/// <param name="Outcome">What it asks for.</param>
[JsonConverter(typeof(OrderCauseJson))]
public sealed record OrderCause(string Code, OrderOutcome Outcome)
{
    /// <summary>The line that it is about; null: none, or the shipping.</summary>
    public string? Line { get; init; }

    /// <summary>Whether the cause is about lines, so that a missing one is told as such.</summary>
    [JsonIgnore]
    public bool NamesLine { get; init; }

    /// <summary>By how much; null: there is no amount.</summary>
    public decimal? By { get; init; }
}

/// <summary>What a line of a document is.</summary>
[JsonConverter(typeof(CamelCaseEnum<DocumentLineKind>))]
public enum DocumentLineKind
{
    /// <summary>What was ordered.</summary>
    Goods,

    /// <summary>What is taken off.</summary>
    Discount,

    /// <summary>What sending it costs.</summary>
    Shipping,

    /// <summary>What is added.</summary>
    Fee,

    /// <summary>What makes up for what does not add up.</summary>
    Difference,
}

/// <summary>A line of a document of the hub.</summary>
public sealed record DocumentLine
{
    /// <summary>What it is.</summary>
    public required DocumentLineKind Kind { get; init; }

    /// <summary>The hub's item code; null: none is known.</summary>
    public string? Item { get; init; }

    /// <summary>The order's line that it comes from; null: none.</summary>
    public string? Line { get; init; }

    /// <summary>How many.</summary>
    public long Quantity { get; init; }

    /// <summary>The price of one, to four digits; null in a credit note.</summary>
    [JsonConverter(typeof(PlainDecimal)), JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public decimal? UnitPrice { get; init; }

    /// <summary>Net.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal Net { get; init; }

    /// <summary>Tax.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal Tax { get; init; }

    /// <summary>Gross.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal Gross { get; init; }

    /// <summary>In percent.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal TaxRate { get; init; }
}

/// <summary>Sums of a document.</summary>
/// <param name="Net">Net.</param>
/// <param name="Tax">Tax.</param>
/// <param name="Gross">Gross.</param>
public sealed record DocumentTotals(
    [property: JsonConverter(typeof(PlainDecimal))] decimal Net,
    [property: JsonConverter(typeof(PlainDecimal))] decimal Tax,
    [property: JsonConverter(typeof(PlainDecimal))] decimal Gross
);

/// <summary>A payment of a document.</summary>
/// <param name="Type">The hub's payment type; null: none is known.</param>
/// <param name="Amount">How much.</param>
public sealed record DocumentPayment(string? Type, [property: JsonConverter(typeof(PlainDecimal))] decimal Amount);

/// <summary>Whose order it is: a customer of the hub, or one that is to be created.</summary>
/// <param name="Key">The hub's key; null: one is created.</param>
/// <param name="Create">What is created; null: there is one.</param>
[JsonConverter(typeof(OrderCustomerJson))]
public sealed record OrderCustomer(string? Key, NewCustomer? Create);

/// <summary>A customer that is to be created.</summary>
public sealed record NewCustomer
{
    /// <summary>The name.</summary>
    public string? Name { get; init; }

    /// <summary>The company.</summary>
    public string? Company { get; init; }

    /// <summary>The mail address.</summary>
    public string? Email { get; init; }

    /// <summary>The telephone number.</summary>
    public string? Phone { get; init; }

    /// <summary>The account.</summary>
    public string? Account { get; init; }

    /// <summary>The postcode.</summary>
    public string? Postcode { get; init; }
}

/// <summary>An order as the hub keeps it.</summary>
public sealed record HubDocument
{
    /// <summary>Its number.</summary>
    public required string Number { get; init; }

    /// <summary>The kind of document.</summary>
    public required string As { get; init; }

    /// <summary>Whose it is; null: nobody is known.</summary>
    public OrderCustomer? Customer { get; init; }

    /// <summary>Where it goes.</summary>
    public OrderAddress? ShipTo { get; init; }

    /// <summary>Whether that is the rule's own address.</summary>
    public bool Placeholder { get; init; }

    /// <summary>The hub's shipping codes; null where none is known.</summary>
    public IReadOnlyList<string?> ShippingCodes { get; init; } = [];

    /// <summary>How it was paid.</summary>
    public IReadOnlyList<DocumentPayment> Payments { get; init; } = [];

    /// <summary>Its lines: goods, discounts, shipping, fees, difference.</summary>
    public IReadOnlyList<DocumentLine> Lines { get; init; } = [];

    /// <summary>Its sums.</summary>
    public required DocumentTotals Totals { get; init; }
}

/// <summary>A credit note for a refund; amounts are positive, those of discounts negative.</summary>
public sealed record CreditNote
{
    /// <summary>The refund.</summary>
    public required string Refund { get; init; }

    /// <summary>Take or hold.</summary>
    public OrderOutcome Outcome { get; init; }

    /// <summary>What is in the way.</summary>
    public IReadOnlyList<OrderCause> Causes { get; init; } = [];

    /// <summary>Whether the goods come back into stock.</summary>
    public bool Restock { get; init; }

    /// <summary>What is credited.</summary>
    public IReadOnlyList<DocumentLine> Lines { get; init; } = [];

    /// <summary>Its sums.</summary>
    public required DocumentTotals Totals { get; init; }
}

/// <summary>What becomes of an order.</summary>
public sealed record OrderResult
{
    /// <summary>What becomes of it.</summary>
    public OrderOutcome Outcome { get; init; }

    /// <summary>Why it is not taken, in the order of the steps.</summary>
    public IReadOnlyList<OrderCause> Causes { get; init; } = [];

    /// <summary>What is worth knowing of one that is.</summary>
    public IReadOnlyList<string> Remarks { get; init; } = [];

    /// <summary>What the hub gets; null: it is skipped.</summary>
    public HubDocument? Document { get; init; }

    /// <summary>A credit note for each refund that has none.</summary>
    public IReadOnlyList<CreditNote> CreditNotes { get; init; } = [];

    /// <summary>The steps.</summary>
    public IReadOnlyList<TraceStep> Trace { get; init; } = [];
}
