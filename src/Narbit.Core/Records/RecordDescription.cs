using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>What kind of thing a record is.</summary>
[JsonConverter(typeof(CamelCaseEnum<RecordKind>))]
public enum RecordKind
{
    /// <summary>An item, or one variant of it; in a store, a listing.</summary>
    Item,

    /// <summary>The stock of an item at one location.</summary>
    StockLevel,

    /// <summary>A customer.</summary>
    Customer,

    /// <summary>An order.</summary>
    Order,
}

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

/// <summary>A list within a record of some kind: an order's lines, its payments, its shipments, a customer's addresses.</summary>
/// <param name="Name">The name, unique within the record kind.</param>
/// <param name="Label">The name a person reads.</param>
/// <param name="Fields">The fields of each entry.</param>
/// <param name="Writable">Whether Narbit may write it, as part of its record.</param>
public sealed record ChildList(string Name, string Label, FieldSet Fields, bool Writable = false);

/// <summary>A value that could not be read as what its field is.</summary>
/// <param name="Field">The field's name.</param>
/// <param name="Message">What was found instead.</param>
public sealed record FieldProblem(string Field, string Message);

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
