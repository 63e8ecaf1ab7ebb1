using System.Globalization;

namespace Narbit.Core.Orders;

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
