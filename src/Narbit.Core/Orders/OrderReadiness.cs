namespace Narbit.Core.Orders;

/// <summary>Whether an order may be taken by its state and its payment: steps 3 and 4.</summary>
internal static class OrderReadiness
{
    private static readonly Dictionary<string, OrderOutcome> UsualPayments = new(StringComparer.Ordinal)
    {
        ["paid"] = OrderOutcome.Take,
        ["authorised"] = OrderOutcome.Take,
        ["pending"] = OrderOutcome.Wait,
        ["partial"] = OrderOutcome.Wait,
        ["failed"] = OrderOutcome.Hold,
        ["refunded"] = OrderOutcome.Skip,
    };

    // Said of every order, so put together once.
    private static readonly string[] Words = [.. Enum.GetNames<OrderOutcome>().Select(n => n.ToLowerInvariant())];
    private static readonly string[] StateWords = [.. Words.Select(w => $"orders in this state: {w}")];
    private static readonly string[] PaymentWords = [.. Words.Select(w => $"payments in this state: {w}")];

    /// <summary>Whether money has come, or will for certain.</summary>
    public static bool IsPaid(Order order) => order.Payment.State is "paid" or "authorised";

    /// <summary>What the order's state is in the way of, or null.</summary>
    public static OrderCause? State(OrderRule rule, Order order, OrderTrace trace)
    {
        var outcome = order.State is { } state && rule.States.TryGetValue(state, out var known) ? known : rule.OtherState;
        trace.Add("state", order.State, Word(outcome), StateWords[(int)outcome]);
        return outcome == OrderOutcome.Take ? null : new OrderCause("state", outcome);
    }

    /// <summary>What the payment's state is in the way of, or null.</summary>
    public static OrderCause? Payment(OrderRule rule, Order order, OrderTrace trace)
    {
        var state = order.Payment.State ?? "";
        var outcome =
            rule.Payments.TryGetValue(state, out var own) ? own
            : UsualPayments.TryGetValue(state, out var usual) ? usual
            : OrderOutcome.Hold;
        trace.Add("payment", order.Payment.State, Word(outcome), PaymentWords[(int)outcome]);
        return outcome == OrderOutcome.Take ? null : new OrderCause("payment", outcome);
    }

    private static string Word(OrderOutcome outcome) => Words[(int)outcome];
}
