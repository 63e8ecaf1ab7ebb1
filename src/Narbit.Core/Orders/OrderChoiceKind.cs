using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What a person decided about an order that was held.</summary>
[JsonConverter(typeof(CamelCaseEnum<OrderChoiceKind>))]
public enum OrderChoiceKind
{
    /// <summary>Which item of the hub a SKU is.</summary>
    Item,

    /// <summary>Which customer of the hub the buyer is.</summary>
    Customer,

    /// <summary>The difference between lines and total is made up for by a line.</summary>
    Difference,

    /// <summary>It is sent where it says, though that is outside the zones or no whole address.</summary>
    Address,

    /// <summary>It is taken though its state or payment says otherwise.</summary>
    Anyway,

    /// <summary>The hub's payment type of a method.</summary>
    PaymentMethod,

    /// <summary>The hub's shipping code of a method.</summary>
    ShippingMethod,

    /// <summary>The tax rate of lines that have none, in percent.</summary>
    TaxRate,

    /// <summary>Two customers of the hub are one: the subject's key stands for the value's from now on.</summary>
    SameCustomer,

    /// <summary>
    /// What becomes of the document now that the order has changed; the subject is what the order was like then, so that the next change
    /// asks anew.
    /// </summary>
    AfterPosting,

    /// <summary>
    /// The document is taken out and the order posted anew, though nothing of it changed; the subject is the document's key, so that the
    /// next document is left alone.
    /// </summary>
    PostAnew,

    /// <summary>
    /// Its posting was undone, and it rests until a person has it posted again; the value says what of it could not be undone.
    /// </summary>
    Rest,
}
