namespace Narbit.Core.Orders;

/// <summary>What becomes of documents whose orders change in the store after they were posted.</summary>
public sealed record AfterPostingRule
{
    private const string TooLate = "tooLate";

    /// <summary>When lines or amounts change: hold, change, replace or leave.</summary>
    public AfterPosting Goods { get; init; }

    /// <summary>When the address changes: hold, change, replace or leave.</summary>
    public AfterPosting Address { get; init; }

    /// <summary>When the payment changes: hold, apart, replace or leave.</summary>
    public AfterPosting Payment { get; init; }

    /// <summary>When the order is cancelled: hold, takeOut or leave.</summary>
    public AfterPosting Cancelled { get; init; }

    /// <summary>The hub's states in which a document may still be touched; none: any.</summary>
    public IReadOnlyList<string> While { get; init; } = [];

    /// <summary>What may be chosen for a part.</summary>
    public static IReadOnlyList<AfterPosting> ChoicesOf(OrderPart part) =>
        part switch
        {
            OrderPart.Payment => [AfterPosting.Hold, AfterPosting.Apart, AfterPosting.Replace, AfterPosting.Leave],
            OrderPart.Cancelled => [AfterPosting.Hold, AfterPosting.TakeOut, AfterPosting.Leave],
            _ => [AfterPosting.Hold, AfterPosting.Change, AfterPosting.Replace, AfterPosting.Leave],
        };

    /// <summary>What is chosen for a part.</summary>
    public AfterPosting Of(OrderPart part) =>
        part switch
        {
            OrderPart.Goods => Goods,
            OrderPart.Address => Address,
            OrderPart.Payment => Payment,
            _ => Cancelled,
        };

    /// <summary>Every finding about it, by path.</summary>
    public IReadOnlyList<RuleFault> Check() =>
        [
            .. Enum.GetValues<OrderPart>()
                .Where(part => !ChoicesOf(part).Contains(Of(part)))
                .Select(part => new RuleFault(
                    $"after.{part.ToString().ToLowerInvariant()}",
                    Severity.Refuse,
                    "this cannot be chosen here"
                )),
        ];

    /// <summary>What is done, or why a person decides.</summary>
    /// <param name="facts">What has changed.</param>
    public AfterPostingVerdict Judge(AfterPostingFacts facts)
    {
        // Both are alike again, whoever changed what.
        if (facts.Changed.Count == 0 || facts.Alike)
            return new AfterPostingVerdict([], null);
        if (facts.Decided is null && facts.HubChanged && !facts.Changed.Contains(OrderPart.Cancelled))
            return new AfterPostingVerdict([], "changedOnBoth");
        var acts = facts.Changed.Select(part => (Part: part, Act: facts.Decided ?? Of(part))).ToList();
        var held = acts.FindIndex(a => a.Act == AfterPosting.Hold);
        if (held >= 0)
            return new AfterPostingVerdict([], CauseOf(acts[held].Part));
        var wanted = acts.Select(a => a.Act).Where(a => a != AfterPosting.Leave).Distinct().ToList();
        if (wanted.Exists(a => a != AfterPosting.Apart) && IsTooLate(facts.HubState))
            return new AfterPostingVerdict([], TooLate);
        // Whatever else changed comes with the new document.
        return new AfterPostingVerdict(wanted.Contains(AfterPosting.Replace) ? [AfterPosting.Replace] : wanted, null);
    }

    /// <summary>What is done where a person wants a document made anew: it is replaced, unless it may not be touched any more.</summary>
    /// <param name="hubState">The hub's state of the document.</param>
    public AfterPostingVerdict Anew(string? hubState) =>
        IsTooLate(hubState) ? new AfterPostingVerdict([], TooLate) : new AfterPostingVerdict([AfterPosting.Replace], null);

    /// <summary>Whether a document in a state is not to be touched any more.</summary>
    public bool IsTooLate(string? hubState) => While.Count > 0 && !While.Contains(hubState ?? "");

    /// <summary>The cause for which an order is held whose part has changed.</summary>
    public static string CauseOf(OrderPart part) =>
        part switch
        {
            OrderPart.Goods => "editedGoods",
            OrderPart.Address => "editedAddress",
            OrderPart.Payment => "editedPayment",
            _ => "cancelledLater",
        };
}
