using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

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
