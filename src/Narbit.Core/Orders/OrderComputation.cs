namespace Narbit.Core.Orders;

/// <summary>
/// What becomes of an order: taken whole and right to the cent, or why not. Pure; the steps are those of the design's orders.md, in its
/// order and by its names.
/// </summary>
public static class OrderComputation
{
    /// <summary>Computes an order.</summary>
    /// <param name="rule">The rule.</param>
    /// <param name="order">The order.</param>
    /// <param name="known">What the hub knows.</param>
    /// <exception cref="OverflowException">An amount is too large to be reckoned with.</exception>
    public static OrderResult Compute(this OrderRule rule, Order order, KnownToHub known)
    {
        var trace = new OrderTrace();
        if (known.Taken.Contains(order.Id))
            return TakenBefore(rule, order, known, trace);
        trace.Add("once", null, order.Id, "it was not taken before");
        if (rule.CutOff is { } cutOff && order.PlacedAt < cutOff)
        {
            trace.Add("cutOff", null, null, $"placed before {cutOff:yyyy-MM-dd HH:mm} UTC, from when on orders are taken");
            return Skipped(new OrderCause("beforeCutOff", OrderOutcome.Skip), [], trace);
        }

        var causes = new List<OrderCause>();
        var state = OrderReadiness.State(rule, order, trace);
        if (state is not null)
            causes.Add(state);
        if (state?.Outcome == OrderOutcome.Skip)
            return Skipped(null, causes, trace);
        var payment = OrderReadiness.Payment(rule, order, trace);
        if (payment is not null)
            causes.Add(payment);
        if (payment?.Outcome == OrderOutcome.Skip)
            return Skipped(null, causes, trace);

        var remarks = new List<string>();
        var made = new OrderDocument(rule, order, known, trace, causes, remarks).Make();
        var outcome = causes.Count == 0 ? OrderOutcome.Take : causes.Max(c => c.Outcome);
        return new OrderResult
        {
            Outcome = outcome,
            Causes = causes,
            Remarks = remarks,
            Document = made.Document,
            CreditNotes = outcome == OrderOutcome.Take ? CreditNotes.For(rule, order, known, made) : [],
            Trace = trace.Steps,
        };
    }

    // Its refunds may still be credited; nothing else of it is looked at.
    private static OrderResult TakenBefore(OrderRule rule, Order order, KnownToHub known, OrderTrace trace)
    {
        trace.Add("once", null, order.Id, "it was taken before");
        var made = new OrderDocument(rule, order, known, new OrderTrace(), [], []).Make();
        return Skipped(new OrderCause("taken", OrderOutcome.Skip), [], trace) with
        {
            CreditNotes = CreditNotes.For(rule, order, known, made),
        };
    }

    private static OrderResult Skipped(OrderCause? cause, List<OrderCause> causes, OrderTrace trace) =>
        new()
        {
            Outcome = OrderOutcome.Skip,
            Causes = cause is null ? causes : [.. causes, cause],
            Trace = trace.Steps,
        };
}

/// <summary>The trace of an order while it is computed.</summary>
internal sealed class OrderTrace
{
    private readonly List<TraceStep> _steps = new(16);

    public IReadOnlyList<TraceStep> Steps => _steps;

    public void Add(string step, string? before, string? after, string why) => _steps.Add(new TraceStep(step, before, after, why));
}
