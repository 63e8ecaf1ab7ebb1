namespace Narbit.Core.Orders;

/// <summary>Whose order it is: step 8.</summary>
internal static class OrderBuyer
{
    private static readonly string[] WithThis = [.. Enum.GetNames<CustomerKey>().Select(n => $" with this {n.ToLowerInvariant()}")];

    /// <summary>The customer, or what is in the way of one.</summary>
    public static (OrderCustomer? Customer, OrderCause? Cause) Of(OrderRule rule, Order order, KnownToHub known, OrderTrace trace)
    {
        var address = order.BillTo ?? order.ShipTo;
        foreach (var key in rule.Customer.Match)
        {
            var wanted = CustomerIndex.Of(key, order.Account, order.Email, order.Phone, address?.Name, address?.Postcode);
            if (wanted.Length == 0)
                continue;
            var hits = known.Index.With(key, wanted);
            if (hits.Count == 0)
                continue;
            trace.Add("customer", wanted, hits.Count == 1 ? hits[0].Key : null, $"{hits.Count}{WithThis[(int)key]}");
            return hits.Count == 1
                ? (new OrderCustomer(hits[0].Key, null), null)
                : (null, new OrderCause("customerAmbiguous", OrderOutcome.Hold));
        }

        return Missing(rule, order, address, trace);
    }

    private static (OrderCustomer?, OrderCause?) Missing(OrderRule rule, Order order, OrderAddress? address, OrderTrace trace)
    {
        switch (rule.Customer.Missing)
        {
            case MissingCustomer.Hold:
                trace.Add("customer", null, null, "nobody is known by any key");
                return (null, new OrderCause("customerUnknown", OrderOutcome.Hold));
            case MissingCustomer.Use:
                trace.Add("customer", null, rule.Customer.Use, "nobody is known by any key: the rule's own");
                return (rule.Customer.Use is { } use ? new OrderCustomer(use, null) : null, null);
        }

        var created = new NewCustomer
        {
            Name = Trimmed(address?.Name),
            Company = Trimmed(address?.Company),
            Email = Trimmed(order.Email),
            Phone = Trimmed(order.Phone),
            Account = Trimmed(order.Account),
            Postcode = Trimmed(address?.Postcode),
        };
        if (created is { Name: null, Company: null, Email: null })
        {
            trace.Add("customer", null, null, "nobody is known, and there is no name to create somebody by");
            return (null, new OrderCause("customerNameless", OrderOutcome.Hold));
        }

        trace.Add("customer", null, created.Name ?? created.Company ?? created.Email, "nobody is known by any key: created");
        return (new OrderCustomer(null, created), null);
    }

    private static string? Trimmed(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
