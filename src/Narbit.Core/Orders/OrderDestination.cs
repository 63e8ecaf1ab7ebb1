namespace Narbit.Core.Orders;

/// <summary>Where an order goes: step 7.</summary>
internal static class OrderDestination
{
    /// <summary>The address of the document, and what is in the way of it.</summary>
    public static (OrderAddress? Address, bool IsPlaceholder, OrderCause? Cause) Of(OrderRule rule, Order order, OrderTrace trace)
    {
        var own = order.ShipTo ?? order.BillTo;
        var (cause, choice) =
            !IsWhole(own) ? ("noAddress", rule.NoAddress)
            : !IsInside(rule, own!) ? ("outsideZone", rule.OutsideZone)
            : (null, AddressChoice.Take);
        if (cause is null)
            trace.Add("shipTo", own?.Country, own?.Country, rule.Zones.Count == 0 ? "orders may go everywhere" : "within a zone");
        else
            trace.Add("shipTo", own?.Country, choice.ToString().ToLowerInvariant(), cause == "noAddress" ? "no whole address" : "outside");
        return choice switch
        {
            AddressChoice.Hold when cause is not null => (own, false, new OrderCause(cause, OrderOutcome.Hold)),
            AddressChoice.Placeholder => (rule.Placeholder, true, null),
            _ => (own, false, null),
        };
    }

    /// <summary>A postcode in the form in which it is compared: upper-case letters and digits alone.</summary>
    public static string Postcode(string? postcode) =>
        postcode is null ? "" : string.Concat(postcode.ToUpperInvariant().Where(c => char.IsAsciiLetterUpper(c) || char.IsAsciiDigit(c)));

    private static bool IsWhole(OrderAddress? address) =>
        !string.IsNullOrWhiteSpace(address?.Street)
        && !string.IsNullOrWhiteSpace(address.City)
        && !string.IsNullOrWhiteSpace(address.Country);

    private static bool IsInside(OrderRule rule, OrderAddress address)
    {
        if (rule.Zones.Count == 0)
            return true;
        var postcode = Postcode(address.Postcode);
        bool Begins(string prefix) => postcode.StartsWith(Postcode(prefix), StringComparison.Ordinal);
        return rule.Zones.Any(z =>
            z.Country.Trim().Equals(address.Country!.Trim(), StringComparison.OrdinalIgnoreCase)
            && (z.Prefixes.Count == 0 || z.Prefixes.Any(Begins))
            && !z.Except.Any(Begins)
        );
    }
}
