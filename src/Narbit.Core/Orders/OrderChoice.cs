using System.Globalization;
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

/// <summary>A decision about an order, or about all orders that wait for the same.</summary>
/// <param name="Kind">What was decided.</param>
/// <param name="Subject">What it is about: a SKU, a method; null: the order as a whole.</param>
/// <param name="Value">What was chosen; null: nothing needs to be said.</param>
public sealed record OrderChoice(OrderChoiceKind Kind, string? Subject, string? Value);

/// <summary>Applies what people decided about an order to the rule and to what is known, before it is computed.</summary>
public static class OrderChoices
{
    private const decimal Enough = 1_000_000;

    /// <summary>The rule for an order about which something was decided.</summary>
    public static OrderRule Applied(this OrderRule rule, IReadOnlyList<OrderChoice> choices, Order order)
    {
        foreach (var choice in choices)
            rule = Applied(rule, choice, order);
        return rule;
    }

    /// <summary>What is known of an order about which something was decided.</summary>
    public static KnownToHub Applied(this KnownToHub known, IReadOnlyList<OrderChoice> choices)
    {
        var items = choices.Where(c => c is { Kind: OrderChoiceKind.Item, Subject: not null, Value: not null }).ToList();
        if (items.Count == 0)
            return known;
        var merged = new Dictionary<string, string>(known.Items, StringComparer.Ordinal);
        foreach (var item in items)
            merged[item.Subject!] = item.Value!;
        return known with { Items = merged };
    }

    private static OrderRule Applied(OrderRule rule, OrderChoice choice, Order order) =>
        choice.Kind switch
        {
            OrderChoiceKind.Customer when choice.Value is { } customer => rule with
            {
                Customer = new CustomerRule
                {
                    Match = [],
                    Missing = MissingCustomer.Use,
                    Use = customer,
                },
            },
            OrderChoiceKind.Difference => rule with { Difference = DifferenceChoice.Line, DifferenceUpTo = Enough },
            OrderChoiceKind.Address => rule with { NoAddress = AddressChoice.Take, OutsideZone = AddressChoice.Take },
            OrderChoiceKind.Anyway => rule with
            {
                States = new Dictionary<string, OrderOutcome>(),
                OtherState = OrderOutcome.Take,
                Payments = new Dictionary<string, OrderOutcome> { [order.Payment.State ?? ""] = OrderOutcome.Take },
            },
            OrderChoiceKind.PaymentMethod when choice.Value is { } type => rule with { OtherMethod = type },
            OrderChoiceKind.ShippingMethod when choice.Value is { } code => rule with { OtherShipping = code },
            OrderChoiceKind.TaxRate when decimal.TryParse(choice.Value, CultureInfo.InvariantCulture, out var rate) => rule with
            {
                Tax = rule.Tax with { DefaultRate = rate },
            },
            _ => rule,
        };
}
