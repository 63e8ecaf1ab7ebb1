using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>An order that the hub has, beside its document: what has changed since both agreed, and what is to be done about it.</summary>
internal sealed class PostedOrder
{
    private const string CannotBeAnew = "cannotBeAnew";

    private static readonly ListRole[] Compared = [ListRole.Lines, ListRole.ShipTo];

    private readonly OrderPolicy _policy;
    private readonly LaneSides _sides;
    private readonly OrderPlace _place;
    private readonly Order _order;
    private readonly OrderRecord _hub;
    private readonly Lazy<OrderResult> _fresh;

    private PostedOrder(OrderPolicy policy, LaneSides sides, OrderPlace place, Order order, OrderRecord hub)
    {
        (_policy, _sides, _place, _order, _hub) = (policy, sides, place, order, hub);
        _fresh = new Lazy<OrderResult>(Fresh);
        Now = OrderMarks.Of(order, Lists.Select(list => hub.Children[list.Name]));
        Verdict = Judge();
    }

    /// <summary>The order beside its document; null: the mirror has not seen the document yet.</summary>
    public static PostedOrder? Of(OrderPolicy policy, LaneSides sides, OrderPlace place, Order order) =>
        place.Hub is { } hub ? new PostedOrder(policy, sides, place, order, hub) : null;

    /// <summary>What both are like now.</summary>
    public OrderMarks Now { get; }

    /// <summary>What is done, or the cause for which a person decides.</summary>
    public AfterPostingVerdict Verdict { get; }

    /// <summary>What the store changed.</summary>
    public IReadOnlyList<OrderPart> Changed { get; private set; } = [];

    /// <summary>Whether a person wants the document made anew, though nothing of the order changed.</summary>
    public bool IsWantedAnew => _place.Choices.Any(c => c.Kind == OrderChoiceKind.PostAnew && c.Subject == _hub.Key);

    /// <summary>Whether the hub changed its document, and the store did not touch the order.</summary>
    public bool HubChangedAlone => Changed.Count == 0 && _place.Agreed is { } then && then.Hub != Now.Hub;

    /// <summary>Whether what both agree on is to be kept as it is now.</summary>
    public bool Agrees => _place.Agreed is null || (_place.Agreed != Now && Changed.Count > 0 && Alike);

    /// <summary>What a decision about this change, and no other, is known by.</summary>
    public string Subject => $"{Now.Goods} {Now.Address} {Now.Payment} {_order.State}";

    /// <summary>How the order would become a document now, step by step.</summary>
    public IReadOnlyList<TraceStep> Trace => _fresh.Value.Trace;

    /// <summary>Why a person decides; none: nobody has to.</summary>
    public IReadOnlyList<CauseOfOrder> Held
    {
        get
        {
            if (Verdict.Cause is not { } cause)
                return [];
            if (_fresh.Value.Outcome == OrderOutcome.Hold && (Changed.Contains(OrderPart.Goods) || cause == CannotBeAnew))
                return [.. _fresh.Value.Causes.Select(c => CauseOfOrder.Of(c, _order))];
            return [new CauseOfOrder(cause, OrderOutcome.Hold) { Values = Amounts(cause) }];
        }
    }

    /// <summary>The document's lists as they would be made of the order now.</summary>
    public RecordChildren Wanted =>
        _fresh.Value.Document is { } document
            ? HubPaper.Children(_sides.Target, _order, document, _place.Writing(_policy), Compared)
            : RecordChildren.None;

    /// <summary>What is still to be paid of the document, and how it was paid; null: nothing.</summary>
    public PaymentDue? Due
    {
        get
        {
            if (_fresh.Value.Document is not { Payments: [.., var last] } document)
                return null;
            var registered = PaymentsAtHub();
            var due = document.Payments.Sum(p => p.Amount) - registered;
            return due > 0 ? new PaymentDue(last.Type, due) : null;
        }
    }

    private IEnumerable<ChildList> Lists => _sides.Target.Children.Where(c => Compared.Contains(c.Role));

    private bool Alike => Wanted is { IsEmpty: false } wanted && wanted.SameAs(_hub.Children, [.. Lists]);

    private bool IsCancelled =>
        _policy.Rule.States.GetValueOrDefault(_order.State ?? "", OrderOutcome.Take) == OrderOutcome.Skip && !CameFromHub(_order.State);

    private string? HubState => _sides.Target.Text(_hub.Values, FieldRole.State);

    // What the store was told by the hub is no change of the store's.
    private bool CameFromHub(string? state) => HubState is { } at && _policy.Back.States.GetValueOrDefault(at) == state;

    private AfterPostingVerdict Judge()
    {
        if (_place.Agreed is not { } then)
            return new AfterPostingVerdict([], null);
        var changed = Now.ChangedSince(then).Where(part => part != OrderPart.Payment || IsDue).ToList();
        if (IsCancelled)
            changed.Add(OrderPart.Cancelled);
        Changed = changed;
        if (IsWantedAnew && !changed.Contains(OrderPart.Cancelled))
            return Anew();
        if (changed.Count == 0)
            return new AfterPostingVerdict([], null);
        var alike = changed.TrueForAll(part => part is OrderPart.Goods or OrderPart.Address) && Alike;
        var unfit = changed.Contains(OrderPart.Goods) && !alike && _fresh.Value.Outcome == OrderOutcome.Hold;
        var verdict = _policy.After.Judge(new AfterPostingFacts(changed, then.Hub != Now.Hub, alike, HubState, Decided));
        return unfit && verdict.Acts.Count > 0 ? new AfterPostingVerdict([], AfterPostingRule.CauseOf(OrderPart.Goods)) : verdict;
    }

    // What could not be posted again is not taken out.
    private AfterPostingVerdict Anew() =>
        _fresh.Value.Outcome == OrderOutcome.Hold ? new AfterPostingVerdict([], CannotBeAnew) : _policy.After.Anew(HubState);

    private bool IsDue => !_place.PaidApart && Due is not null;

    private AfterPosting? Decided =>
        _place.Choices.LastOrDefault(c => c.Kind == OrderChoiceKind.AfterPosting && c.Subject == Subject) is { Value: { } value }
        && Enum.TryParse<AfterPosting>(value, ignoreCase: true, out var act)
            ? act
            : null;

    // As if it came for the first time, whatever its state is by now.
    private OrderResult Fresh()
    {
        var rule = _policy.Rule.Applied(_place.Choices, _order) with
        {
            CutOff = null,
            States = new Dictionary<string, OrderOutcome>(),
            OtherState = OrderOutcome.Take,
            Payments = new Dictionary<string, OrderOutcome> { [_order.Payment.State ?? ""] = OrderOutcome.Take },
        };
        return rule.Compute(_order, (_place.Known with { Taken = [] }).Applied(_place.Choices));
    }

    private decimal PaymentsAtHub() =>
        _sides.Target.Children.FirstOrDefault(c => c.Role == ListRole.Payments) is { } list
            ? _hub.Children[list.Name].Sum(entry => list.Fields.Number(entry, FieldRole.Amount) ?? 0)
            : 0;

    private IReadOnlyDictionary<string, string>? Amounts(string cause)
    {
        if (cause is not ("editedGoods" or "changedOnBoth" or "tooLate"))
            return null;
        var lines = _sides.Target.Children.FirstOrDefault(c => c.Role == ListRole.Lines);
        var gross = lines is null ? 0 : _hub.Children[lines.Name].Sum(entry => lines.Fields.Number(entry, FieldRole.Gross) ?? 0);
        return CauseOfOrder.Known(
            (OrderWords.InStore, Numbers.Cents(_order.Total)),
            (OrderWords.AtHub, Numbers.Cents(gross)),
            (OrderWords.Currency, _order.Currency)
        );
    }
}

/// <summary>What is still to be registered as paid.</summary>
/// <param name="Type">The hub's payment type; null: the rule gives none.</param>
/// <param name="Amount">How much, more than 0.</param>
internal sealed record PaymentDue(string? Type, decimal Amount);
