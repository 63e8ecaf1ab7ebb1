using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Orders of a store to documents of the hub, and what the store hears of them.</summary>
/// <param name="policy">The rule, and what goes back.</param>
/// <param name="sides">The store and the hub.</param>
/// <param name="map">What else the document needs; null: nothing.</param>
internal sealed class OrderLaneComputation(OrderPolicy policy, LaneSides sides, ReadyMap? map = null) : LaneComputation<OrderPair>
{
    /// <summary>Under this name it is kept what an order and its document were like when both last agreed.</summary>
    internal const string Marks = "order";

    private readonly OrderReading _reading = new(sides.Source);
    private readonly OrderRule _rule = policy.InForce;

    /// <summary>An order by the rule, with all that is in its way.</summary>
    public JudgedOrder Judge(OrderPlace place)
    {
        try
        {
            return Judged(place);
        }
        catch (OverflowException)
        {
            return JudgedOrder.Not(place, new Reason("order.unreadable", "an amount of it is too large to be reckoned with"));
        }
    }

    private JudgedOrder Judged(OrderPlace place)
    {
        var read = _reading.Read(place.Store);
        if (read.Fault is { } fault)
            return JudgedOrder.Not(place, fault);
        var order = read.Value;
        if (order.Currency is { } currency && sides.Currency is { } own && currency != own)
            return JudgedOrder.Not(
                place,
                new Reason("order.currency", $"its amounts are in {currency}, and those of {sides.TargetName} are in {own}")
            );
        var result = Resting(place, _rule.Applied(place.Choices, order).Compute(order, place.Known.Applied(place.Choices)));
        var judged = new JudgedOrder(place) { Order = order, Result = result };
        return place.HubKey is null ? ToCome(judged, order, result) : Taken(judged, order, result);
    }

    private JudgedOrder ToCome(JudgedOrder judged, Order order, OrderResult result)
    {
        if (result.Outcome != OrderOutcome.Take)
            return judged with { Outcome = result.Outcome, Causes = [.. result.Causes.Select(c => CauseOfOrder.Of(c, order))] };
        List<CauseOfOrder> causes = [.. SameNumber(judged.Place, order), .. Unmapped(judged.Place, result.Document)];
        return judged with { Outcome = causes.Count > 0 ? OrderOutcome.Hold : OrderOutcome.Take, Causes = causes };
    }

    private JudgedOrder Taken(JudgedOrder judged, Order order, OrderResult result)
    {
        var posted = PostedOrder.Of(policy, sides, judged.Place, order);
        var causes = posted?.Held ?? [];
        if (causes.Count == 0 && result.CreditNotes.FirstOrDefault(n => n.Outcome != OrderOutcome.Take) is { } note)
            causes = [.. note.Causes.Select(c => CauseOfOrder.Of(c, order))];
        return judged with { Posted = posted, Causes = causes, Outcome = causes.Count > 0 ? OrderOutcome.Hold : OrderOutcome.Take };
    }

    private static OrderResult Resting(OrderPlace place, OrderResult result)
    {
        var rests = place.HubKey is null && place.Choices.Any(c => c.Kind == OrderChoiceKind.Rest);
        return rests && result.Outcome != OrderOutcome.Skip
            ? result with
            {
                Outcome = OrderOutcome.Hold,
                Causes = [new OrderCause(UndonePosting.Cause, OrderOutcome.Hold), .. result.Causes],
            }
            : result;
    }

    /// <inheritdoc/>
    protected override Computed Of(OrderPair pair)
    {
        var judged = Judge(pair.Place);
        var computed =
            judged.Unreadable is not null ? new Computed([])
            : judged.IsPosted ? Posted(pair, judged)
            : judged.Outcome == OrderOutcome.Take ? Taking(pair, judged)
            : new Computed([]) { IsOutOfScope = judged.Outcome == OrderOutcome.Skip };
        return new ComputedOrder(computed, judged) { Why = computed.Changes ? null : judged.Why };
    }

    private static IEnumerable<CauseOfOrder> SameNumber(OrderPlace place, Order order) =>
        place.SameNumber is { } same
            ?
            [
                new CauseOfOrder("numberTwice", OrderOutcome.Hold)
                {
                    Values = CauseOfOrder.Known((OrderWords.Other, same), (OrderWords.Number, order.Number)),
                },
            ]
            : [];

    private Computed Taking(OrderPair pair, JudgedOrder judged)
    {
        var (place, order, result) = (pair.Place, judged.Order!, judged.Result!);
        var mapped = Map(place);
        var document = result.Document!;
        var beside = new List<BesideWrite>();
        RecordReference? customer = document.Customer?.Key is { } known ? new RecordReference(known) : null;
        if (document.Customer?.Create is { } create && sides.Customers is { } customers)
        {
            var made = Customer(create, order, customers);
            customer = new RecordReference(made.SourceKey, IsToCome: true);
            beside.Add(made);
        }
        else if (customer is { } there && NewAddress(place, there.Key, order) is { } added)
        {
            beside.Add(added);
        }

        beside.AddRange(Credits(order, result, new RecordReference(pair.Source.Key, IsToCome: true)));
        var comment = policy.Comments ? sides.Source.Text(place.Store.Values, FieldRole.Comment) : null;
        var own = HubPaper.Fields(sides.Target, order, document, customer, result, comment);
        return new Computed([
            .. own.ExceptBy(mapped.Fields.Select(f => f.Field.Target.Name), f => f.Field.Name),
            .. mapped.Fields.Select(Mapped),
        ])
        {
            Act = WriteAct.Create,
            Children = HubPaper.Children(sides.Target, order, document, place.Writing(policy)),
            Beside = beside,
            Guarded = new GuardedChange(pair.Name, Posted: order.Total),
        };
    }

    // Why a document that the rule makes of an order cannot be written as the target takes it.
    private IEnumerable<CauseOfOrder> Unmapped(OrderPlace place, HubDocument? document)
    {
        if (Map(place).Failure is { } failure)
            return [CauseOfOrder.Of("furtherField", failure)];
        if (document is null)
            return [];
        return HubPaper.WithoutPlace(sides.Target, document) is { } line ? [CauseOfOrder.Of("noPlace", NoPlace(line))]
            : HubPaper.WithoutSku(sides.Target, document, place.SkuOf) is { } item ? [CauseOfOrder.Of("noPlace", NoSku(item))]
            : [];
    }

    private Reason NoSku(string item) =>
        new(
            "orderHeld.noPlace",
            $"{sides.TargetName} knows its goods by their SKUs, and its item {item} has none; give it one there, and read it again"
        );

    private Reason NoPlace(DocumentLine line) =>
        new(
            "orderHeld.noPlace",
            $"{sides.TargetName} takes goods only, and the order has a {line.Kind.ToString().ToLowerInvariant()} of "
                + $"{Numbers.Cents(line.Gross)} {sides.Currency}; "
                + (line.Kind == DocumentLineKind.Discount ? "spread discounts over the goods in the rule" : "take it out by hand")
        );

    private MappedRecord Map(OrderPlace place) =>
        map is null ? new MappedRecord([]) : RecordMapping.Create(map, new MapRecord(place.Store.Values));

    private static ComputedField Mapped(MappedField field) =>
        new(field.Field.Target, null, field.Here, [new TraceStep("map", null, field.Here, "by the field map")]);

    private static BesideWrite Customer(NewCustomer create, Order order, FieldSet customers) =>
        new(RecordKind.Customer, BuyerKey(create, order), create.Email ?? create.Name, create.Name ?? create.Company)
        {
            Fields = HubPaper.Fields(customers, create, order.BillTo ?? order.ShipTo),
            Children = HubPaper.Addresses(customers, order.ShipTo ?? order.BillTo),
        };

    // An address that the customer does not have yet is added to those that it has.
    private BesideWrite? NewAddress(OrderPlace place, string customer, Order order)
    {
        if (!sides.AddsAddresses || sides.Customers is not { } customers || place.AddressesOf?.Invoke(customer) is not { } had)
            return null;
        var list = customers.Children.First(c => c.Role == ListRole.Addresses);
        var added = HubPaper.Addresses(customers, order.ShipTo ?? order.BillTo);
        var known = new RecordChildren(new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> { [list.Name] = had });
        return added.IsEmpty || added.SameAs(known, [list])
            ? null
            : new BesideWrite(RecordKind.Customer, $"{customer}/{order.Id}", order.Email, order.BillTo?.Name ?? order.ShipTo?.Name)
            {
                TargetKey = customer,
                Children = added,
            };
    }

    private Computed Posted(OrderPair pair, JudgedOrder judged)
    {
        var (place, order, posted) = (pair.Place, judged.Order!, judged.Posted);
        var acts = posted?.Verdict.Acts ?? [];
        if (acts.Contains(AfterPosting.TakeOut) || acts.Contains(AfterPosting.Replace))
            return TakenOut(pair, place, WhyOut(posted!));
        var beside = Credits(order, judged.Result!, new RecordReference(place.HubKey!));
        if (acts.Contains(AfterPosting.Apart) && posted!.Due is { } due)
            beside.Add(Payment(order, due, new RecordReference(place.HubKey!)));
        var (fields, lists) = place.Hub is { } hub ? Back(place, hub, posted!, order) : ([], RecordChildren.None);
        return new Computed(fields)
        {
            ChildrenBack = lists,
            ChildrenBackNow = place.Store.Children,
            Beside = beside,
            Children = acts.Contains(AfterPosting.Change) ? posted!.Wanted : RecordChildren.None,
            ChildrenNow = place.Hub?.Children,
            Baseline = posted is { Agrees: true } ? [(Marks, posted.Now.ToString())] : [],
            Guarded = new GuardedChange(pair.Name),
        };
    }

    private static string WhyOut(PostedOrder posted) =>
        posted switch
        {
            { Changed.Count: 0 } => "to be made anew: taken out, and posted again by the next run",
            _ when posted.Verdict.Acts.Contains(AfterPosting.Replace) => "changed in the store: taken out, and posted anew by the next run",
            _ => "cancelled in the store: taken out",
        };

    private Computed TakenOut(OrderPair pair, OrderPlace place, string why)
    {
        var state = sides.Target.Find(FieldRole.State);
        var old = state is null ? null : place.Hub?.Values.GetValueOrDefault(state.Name);
        return new Computed(state is null ? [] : [new ComputedField(state, old, null, [new TraceStep("after", old, null, why)])])
        {
            Act = WriteAct.End,
            Guarded = new GuardedChange(pair.Name, Removes: true),
        };
    }

    private BesideWrite Payment(Order order, PaymentDue due, RecordReference document) =>
        new(RecordKind.Payment, $"{order.Id}/paid", $"{order.Number}/paid", $"payment of {order.Number}")
        {
            Fields = sides.Payments is { } payments ? HubPaper.Fields(payments, due, $"{order.Number}/paid", document) : [],
        };

    private List<BesideWrite> Credits(Order order, OrderResult result, RecordReference document) =>
        sides.CreditNotes is not { } notes
            ? []
            :
            [
                .. result
                    .CreditNotes.Where(n => n.Outcome == OrderOutcome.Take)
                    .Select(n => new BesideWrite(RecordKind.CreditNote, $"{order.Id}/{n.Refund}", n.Refund, $"refund of {order.Number}")
                    {
                        Fields = HubPaper.Fields(notes, n, $"{order.Number}/{n.Refund}", document),
                        Children = HubPaper.Children(notes, order, n),
                    }),
            ];

    // What the store should hear of the document: its number, its state, what was sent, and what the hub changed.
    private (IReadOnlyList<ComputedField> Fields, RecordChildren Lists) Back(
        OrderPlace place,
        OrderRecord hub,
        PostedOrder posted,
        Order order
    )
    {
        var store = place.Store;
        var fields = new List<ComputedField>();
        void Tell(FieldRole role, string? value, string why)
        {
            if (value is null || sides.Source.Find(role) is not { Writable: true } field)
                return;
            var old = store.Values.GetValueOrDefault(field.Name);
            fields.Add(new ComputedField(field, old, value, [new TraceStep("back", old, value, why)]) { Way = Way.Back });
        }

        var state = sides.Target.Text(hub.Values, FieldRole.State);
        Tell(FieldRole.AcknowledgedAs, sides.Target.Text(hub.Values, FieldRole.Number), "the hub's number of it");
        // The store's own word that it is no longer wanted stands until somebody has seen to it.
        if (!posted.Changed.Contains(OrderPart.Cancelled))
            Tell(
                FieldRole.State,
                (state is null ? null : policy.Back.States.GetValueOrDefault(state)) ?? policy.Back.Acknowledged,
                state is null ? "it has arrived" : $"at the hub it is {state}"
            );
        if (policy.Comments)
            Tell(FieldRole.Answer, sides.Target.Text(hub.Values, FieldRole.Answer), "what the hub answers the buyer");
        var lists = policy.Back.Shipments ? Parcels(store, hub) : RecordChildren.None;
        if (policy.Back.Changes && posted.HubChangedAlone)
            lists = lists.With(HubChanges.For(sides, place, hub, order));
        return (fields, lists);
    }

    private RecordChildren Parcels(OrderRecord store, OrderRecord hub)
    {
        if (sides.Target.Children.FirstOrDefault(c => c.Role == ListRole.Shipments) is not { } sent)
            return RecordChildren.None;
        FieldRole[] said = [FieldRole.Key, FieldRole.At, FieldRole.Carrier, FieldRole.Tracking];
        var entries = hub.Children[sent.Name]
            .Select(e =>
                said.Select(role => (Role: role, Value: Said(sent.Fields, e, role)))
                    .Where(v => v.Value is not null)
                    .ToDictionary(v => v.Role, v => v.Value!)
            )
            .ToList();
        var lists = new HubPaper.Lists(sides.Source);
        lists.Add(ListRole.Shipments, entries);
        return entries.Count == 0 || lists.Made.SameAs(store.Children, sides.Source.Children) ? RecordChildren.None : lists.Made;
    }

    private string? Said(FieldSet fields, IReadOnlyDictionary<string, string> entry, FieldRole role)
    {
        var value = fields.Text(entry, role);
        return role == FieldRole.Carrier && value is not null ? policy.Back.Carriers.GetValueOrDefault(value, value) : value;
    }

    /// <summary>What a new buyer is known by until the hub has given a key: the same buyer twice is one customer.</summary>
    private static string BuyerKey(NewCustomer buyer, Order order)
    {
        string?[] keys = [buyer.Account, buyer.Email?.ToLowerInvariant(), buyer.Phone];
        return keys.FirstOrDefault(k => !string.IsNullOrWhiteSpace(k))
            ?? $"{buyer.Name ?? buyer.Company} {buyer.Postcode} {order.Id}".Trim();
    }
}
