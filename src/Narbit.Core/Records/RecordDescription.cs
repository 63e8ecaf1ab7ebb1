using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>What a system is to the business.</summary>
[JsonConverter(typeof(CamelCaseEnum<SystemKind>))]
public enum SystemKind
{
    /// <summary>An ERP.</summary>
    Erp,

    /// <summary>A point of sale.</summary>
    PointOfSale,

    /// <summary>A web store.</summary>
    WebStore,

    /// <summary>A marketplace.</summary>
    Marketplace,

    /// <summary>A supplier's catalogue.</summary>
    Supplier,
}

/// <summary>The type of a field's values.</summary>
[JsonConverter(typeof(CamelCaseEnum<FieldType>))]
public enum FieldType
{
    /// <summary>Plain text.</summary>
    Text,

    /// <summary>HTML text.</summary>
    Html,

    /// <summary>A whole number.</summary>
    Integer,

    /// <summary>A decimal number.</summary>
    Decimal,

    /// <summary>An amount in the system's currency.</summary>
    Money,

    /// <summary>A percentage; 20 means 20 %.</summary>
    Percent,

    /// <summary>True or false.</summary>
    Boolean,

    /// <summary>A point in time, UTC.</summary>
    Instant,

    /// <summary>A code from a table of the system's.</summary>
    Code,

    /// <summary>A weight in kilograms.</summary>
    Weight,

    /// <summary>A calendar day, <c>yyyy-MM-dd</c>.</summary>
    Date,

    /// <summary>A length in millimetres.</summary>
    Length,

    /// <summary>Several texts in order; its canonical form is a JSON array of strings.</summary>
    List,

    /// <summary>The address of an image.</summary>
    Image,

    /// <summary>The key of another record of the same system.</summary>
    Reference,
}

/// <summary>What a field means, whatever its name.</summary>
[JsonConverter(typeof(CamelCaseEnum<FieldRole>))]
public enum FieldRole
{
    /// <summary>No meaning that Narbit knows.</summary>
    None,

    /// <summary>The stock keeping unit.</summary>
    Sku,

    /// <summary>The GTIN.</summary>
    Barcode,

    /// <summary>The name a buyer reads.</summary>
    Title,

    /// <summary>The option values that tell a variant from its sisters.</summary>
    Option,

    /// <summary>The regular price; with a list where there are several.</summary>
    Price,

    /// <summary>The price during a sale.</summary>
    SalePrice,

    /// <summary>The first instant of the sale.</summary>
    SaleFrom,

    /// <summary>The first instant after the sale.</summary>
    SaleTo,

    /// <summary>The price shown struck through.</summary>
    CompareAt,

    /// <summary>The net cost.</summary>
    Cost,

    /// <summary>The tax code.</summary>
    TaxCode,

    /// <summary>The tax rate in percent.</summary>
    TaxRate,

    /// <summary>The quantity on hand, or the quantity a store shows.</summary>
    OnHand,

    /// <summary>The quantity promised.</summary>
    Allocated,

    /// <summary>The quantity on its way in.</summary>
    Incoming,

    /// <summary>The location of a stock level.</summary>
    Location,

    /// <summary>The key of the item that a stock level belongs to.</summary>
    Item,

    /// <summary>Whether the stock is counted at all.</summary>
    Tracked,

    /// <summary>Whether buyers can see the record.</summary>
    Published,

    /// <summary>The weight.</summary>
    Weight,

    /// <summary>The category.</summary>
    Category,

    /// <summary>The manufacturer's part number.</summary>
    PartNumber,

    /// <summary>The brand.</summary>
    Brand,

    /// <summary>The address of an image.</summary>
    Image,

    /// <summary>The addresses of further images, a list.</summary>
    MoreImages,

    /// <summary>What a kit listing stands for, as its system says it.</summary>
    Kit,

    /// <summary>A customer's email address.</summary>
    Email,

    /// <summary>A customer's phone number.</summary>
    Phone,

    /// <summary>A customer's account number.</summary>
    Account,

    /// <summary>A customer's company.</summary>
    Company,

    /// <summary>A customer's postcode.</summary>
    Postcode,

    /// <summary>The long text that a buyer reads.</summary>
    Description,

    /// <summary>Items that a buyer may want as well.</summary>
    Related,

    /// <summary>The number by which people speak of a record, e.g. of an order.</summary>
    Number,

    /// <summary>When an order was placed.</summary>
    PlacedAt,

    /// <summary>The state that its system gives a record.</summary>
    State,

    /// <summary>An ISO 4217 code.</summary>
    Currency,

    /// <summary>Whether an order's amounts are gross.</summary>
    TaxIncluded,

    /// <summary>Whether an order was paid.</summary>
    PaymentState,

    /// <summary>A system's word for how something was paid or is sent; the hub's type of a payment.</summary>
    Method,

    /// <summary>What a buyer pays, or gets back, gross.</summary>
    Total,

    /// <summary>The tax in a total, as its system reckons it.</summary>
    TaxTotal,

    /// <summary>What the buyer wrote.</summary>
    Comment,

    /// <summary>The key of the customer whose document it is.</summary>
    Customer,

    /// <summary>The number under which the hub knows an order of another system.</summary>
    ExternalNumber,

    /// <summary>What kind of document an order becomes.</summary>
    DocumentKind,

    /// <summary>The document that a credit note takes something back of.</summary>
    Document,

    /// <summary>Where a store notes the hub's number of an order that arrived.</summary>
    AcknowledgedAs,

    /// <summary>What the seller answers the buyer, in words.</summary>
    Answer,

    /// <summary>The id of an entry of a list within a record.</summary>
    Key,

    /// <summary>The id of the line that an entry is about.</summary>
    Line,

    /// <summary>Whether a document's line is goods, discount, shipping, fee or difference.</summary>
    LineKind,

    /// <summary>How many were ordered.</summary>
    Quantity,

    /// <summary>What is taken off a line.</summary>
    Discount,

    /// <summary>How much.</summary>
    Amount,

    /// <summary>A voucher's code.</summary>
    Code,

    /// <summary>Street and number.</summary>
    Street,

    /// <summary>The town.</summary>
    City,

    /// <summary>An ISO 3166-1 alpha-2 code.</summary>
    Country,

    /// <summary>The id of the refund that an entry belongs to.</summary>
    Refund,

    /// <summary>How much of the shipping was given back.</summary>
    ShippingAmount,

    /// <summary>Whether goods that were given back are sold again.</summary>
    Restock,

    /// <summary>When an entry came about.</summary>
    At,

    /// <summary>Who carries a parcel.</summary>
    Carrier,

    /// <summary>The carrier's number of a parcel.</summary>
    Tracking,

    /// <summary>A net amount.</summary>
    Net,

    /// <summary>The tax of an amount.</summary>
    Tax,

    /// <summary>A gross amount.</summary>
    Gross,
}

/// <summary>A field as its system describes it.</summary>
/// <param name="Name">The name, unique within the record kind.</param>
/// <param name="Label">The name a person reads.</param>
/// <param name="Type">The type.</param>
/// <param name="Role">What it means.</param>
/// <param name="List">For prices: the price list.</param>
/// <param name="Unit">The unit, e.g. kg.</param>
/// <param name="Required">Whether a record must have it.</param>
/// <param name="Writable">Whether Narbit may write it.</param>
public sealed record FieldDescription(
    string Name,
    string Label,
    FieldType Type,
    FieldRole Role = FieldRole.None,
    string? List = null,
    string? Unit = null,
    bool Required = false,
    bool Writable = false
)
{
    /// <summary>The most characters it takes, or null.</summary>
    public int? MaxLength { get; init; }

    /// <summary>Whether its system lets its value be taken away; what every record must have cannot be.</summary>
    public bool CanBeEmptied
    {
        get => field && !Required;
        init;
    } = true;

    /// <summary>
    /// Whether it belongs to what stands around the record, a product around its variants, so that sisters have it in common.
    /// </summary>
    public bool Shared { get; init; }
}

/// <summary>What a write does to a record.</summary>
[JsonConverter(typeof(CamelCaseEnum<WriteAct>))]
public enum WriteAct
{
    /// <summary>It changes some of its fields.</summary>
    Update,

    /// <summary>It makes it.</summary>
    Create,

    /// <summary>It ends it: the record is no longer there, or no longer offered.</summary>
    End,
}

/// <summary>Which way a write goes.</summary>
[JsonConverter(typeof(CamelCaseEnum<Way>))]
public enum Way
{
    /// <summary>To the lane's target.</summary>
    There,

    /// <summary>Back to its source.</summary>
    Back,
}

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

/// <summary>A list within a record of some kind: an order's lines, its payments, its shipments, a customer's addresses.</summary>
/// <param name="Name">The name, unique within the record kind.</param>
/// <param name="Label">The name a person reads.</param>
/// <param name="Fields">The fields of each entry.</param>
/// <param name="Writable">Whether Narbit may write it, as part of its record.</param>
/// <param name="Role">What it means.</param>
public sealed record ChildList(string Name, string Label, FieldSet Fields, bool Writable = false, ListRole Role = ListRole.None)
{
    /// <summary>Whether entries that are written are added to those that are there; otherwise they take their place.</summary>
    public bool Adds { get; init; }
}

/// <summary>A value that could not be read as what its field is.</summary>
/// <param name="Field">The field's name.</param>
/// <param name="Message">What was found instead.</param>
public sealed record FieldProblem(string Field, string Message)
{
    /// <summary>Stands for the key in place of a field: nothing of the record can be believed.</summary>
    public const string OfKey = "(key)";
}

/// <summary>A record as an adapter read it.</summary>
/// <param name="Key">The system's own key.</param>
/// <param name="Parent">The key of the record that it belongs to: the product of a variant, the item of a stock level; or null.</param>
/// <param name="Values">Canonical text by field name: decimals invariant, instants ISO 8601 in UTC, booleans <c>true</c> or <c>false</c>.
/// A missing value has no entry.</param>
/// <param name="Raw">The record as the system sent it, UTF-8 JSON.</param>
/// <param name="Problems">Values that could not be read.</param>
public sealed record ReadRecord(
    string Key,
    string? Parent,
    IReadOnlyDictionary<string, string> Values,
    ReadOnlyMemory<byte> Raw,
    IReadOnlyList<FieldProblem> Problems
)
{
    /// <summary>The code that sisters share, where the system has one; null: they share their parent, or nothing.</summary>
    public string? Group { get; init; }

    /// <summary>The entries of each list within it, by the list's name, in the system's order.</summary>
    public RecordChildren Children { get; init; } = RecordChildren.None;

    /// <summary>What stands around it in the system's reply, without its sisters, UTF-8 JSON; empty where nothing does.</summary>
    public ReadOnlyMemory<byte> RawParent { get; init; }
}
