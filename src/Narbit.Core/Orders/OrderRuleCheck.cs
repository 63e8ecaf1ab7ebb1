namespace Narbit.Core.Orders;

/// <summary>Reads an order rule as a careful colleague would, before it is saved.</summary>
public static class OrderRuleCheck
{
    /// <summary>Every finding about the rule, in the order of the steps.</summary>
    /// <param name="rule">The rule.</param>
    public static IReadOnlyList<RuleFault> Check(OrderRule rule)
    {
        var faults = new List<RuleFault>();
        void Refuse(string path, string message) => faults.Add(new(path, Severity.Refuse, message));
        void Warn(string path, string message) => faults.Add(new(path, Severity.Warn, message));

        if (rule.CutOff is null)
            Warn("cutOff", "Without a cut-off every order that the store still lists is taken, however old.");
        if (rule.States.Count == 0 && rule.OtherState != OrderOutcome.Take)
            Warn("states", "No state is said to be taken, so no order ever is.");
        Address(rule, Refuse);
        Customer(rule.Customer, Refuse);
        Items(rule, Refuse, Warn);
        Rates(rule.Tax, Refuse);
        Differences(rule, Refuse, Warn);
        Numbers(rule, Refuse);
        return faults;
    }

    private static void Address(OrderRule rule, Action<string, string> refuse)
    {
        for (var i = 0; i < rule.Zones.Count; i++)
            if (rule.Zones[i].Country.Trim().Length != 2)
                refuse($"zones[{i}].country", $"“{rule.Zones[i].Country}” is no country; give its two letters, e.g. IE.");
        var replaces = rule.OutsideZone == AddressChoice.Placeholder || rule.NoAddress == AddressChoice.Placeholder;
        if (replaces && string.IsNullOrWhiteSpace(rule.Placeholder?.Street))
            refuse("placeholder", "An address is to be put in the place of one that is missing or outside, but none is given.");
    }

    private static void Customer(CustomerRule customer, Action<string, string> refuse)
    {
        if (customer.Match.Count == 0 && customer.Missing == MissingCustomer.Create)
            refuse("customer.match", "Nothing says how a customer is found, so every order would make one; choose at least one way.");
        if (customer.Missing == MissingCustomer.Use && string.IsNullOrWhiteSpace(customer.Use))
            refuse("customer.use", "A customer of the hub is to be used where none is found; name it.");
    }

    private static void Items(OrderRule rule, Action<string, string> refuse, Action<string, string> warn)
    {
        if (rule.UnknownItem == UnknownItem.Use && string.IsNullOrWhiteSpace(rule.UseItem))
            refuse("useItem", "An item of the hub is to stand in for one that is not known; name it.");
        if (rule.UnknownItem == UnknownItem.Use)
            warn("unknownItem", "What is not known is booked under one item. Each such order is listed until somebody gives it its own.");
        if (rule.UnknownItem == UnknownItem.Omit)
            warn("unknownItem", "What is not known is left out, so the hub bills and ships less than was bought.");
    }

    private static void Rates(OrderTax tax, Action<string, string> refuse)
    {
        if (tax.DefaultRate is < 0 or > 100)
            refuse("tax.defaultRate", "A tax rate is from 0 to 100 %.");
        if (tax.ShippingRate.Fixed is < 0 or > 100)
            refuse("tax.shippingRate", "A tax rate is from 0 to 100 %.");
    }

    private static void Differences(OrderRule rule, Action<string, string> refuse, Action<string, string> warn)
    {
        if (rule.Tolerance < 0)
            refuse("tolerance", "The tolerance must be 0 or more.");
        if (rule.DifferenceUpTo < 0)
            refuse("differenceUpTo", "The bound must be 0 or more.");
        if (rule.Tolerance > 0)
            warn("tolerance", "Orders that are off by so much are taken without a word, and the books are off by as much.");
    }

    private static void Numbers(OrderRule rule, Action<string, string> refuse)
    {
        if (!rule.Number.Contains("{number}", StringComparison.Ordinal) && !rule.Number.Contains("{id}", StringComparison.Ordinal))
            refuse("number", "Every document would have the same number; put {number} or {id} into it.");
    }
}
