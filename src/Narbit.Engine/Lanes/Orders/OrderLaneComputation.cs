using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Orders of a store to documents of the hub, and what the store hears of them.</summary>
/// <param name="policy">The rule, and what goes back.</param>
/// <param name="sides">The store and the hub.</param>
public sealed class OrderLaneComputation(OrderPolicy policy, LaneSides sides) : LaneComputation
{
    private readonly OrderReading _reading = new(sides.Source);

    /// <summary>An order by the rule; or why it cannot be read.</summary>
    public Outcome<(Order Order, OrderResult Result)> Judge(OrderPlace place)
    {
        var read = _reading.Read(place.Store);
        if (read.Fault is { } fault)
            return fault;
        if (read.Value.Currency is { } currency && sides.Currency is { } own && currency != own)
            return new Reason("order.currency", $"its amounts are in {currency}, and those of {sides.TargetName} are in {own}");
        var rule = policy.Rule.Applied(place.Choices, read.Value);
        return (read.Value, rule.Compute(read.Value, place.Known.Applied(place.Choices)));
    }

    /// <inheritdoc/>
    protected override Computed Of(LanePair pair)
    {
        var place = pair.Order ?? throw new InvalidOperationException("An order lane was given a pair without its order.");
        var judged = Judge(place);
        if (judged.Fault is { } unreadable)
            return Computed.Not(unreadable);
        var (order, result) = judged.Value;
        if (place.HubKey is not null)
            return Taken(place, order, result);
        return result.Outcome switch
        {
            OrderOutcome.Take => place.SameNumber is { } same ? SameNumber(order, same) : Taking(pair, order, result),
            OrderOutcome.Skip => Computed.OutOfScope,
            var outcome => Computed.Not(Why(outcome, result.Causes, order)),
        };
    }

    /// <summary>Why an order is not taken now.</summary>
    public static Reason Why(OrderOutcome outcome, IReadOnlyList<OrderCause> causes, Order order)
    {
        var words = string.Join("; ", causes.Select(c => OrderWords.Of(c, order)));
        var first = causes.FirstOrDefault(c => c.Outcome == outcome) ?? causes[0];
        return outcome == OrderOutcome.Wait
            ? new Reason($"orderWaits.{first.Code}", $"waits: {words}")
            : new Reason($"orderHeld.{first.Code}", words);
    }

    private static Computed SameNumber(Order order, string same) =>
        Computed.Not(
            new Reason(
                "orderHeld.numberTwice",
                $"order {same} of the store has the number {order.Number} too; give one of them another, or put {{id}} into the number"
            )
        );

    private Computed Taking(LanePair pair, Order order, OrderResult result)
    {
        var document = result.Document!;
        var beside = new List<BesideWrite>();
        var customer = document.Customer?.Key;
        if (document.Customer?.Create is { } create && sides.Customers is { } customers)
        {
            var key = BuyerKey(create, order);
            customer = HubPaper.ToCome + key;
            beside.Add(
                new BesideWrite(RecordKind.Customer, key, create.Email ?? create.Name, create.Name ?? create.Company)
                {
                    Fields = HubPaper.Fields(customers, create, order.BillTo ?? order.ShipTo),
                }
            );
        }

        beside.AddRange(Credits(order, result, HubPaper.ToCome + pair.Source.Key));
        return new Computed(HubPaper.Fields(sides.Target, order, document, customer, result))
        {
            Act = WriteAct.Create,
            Children = HubPaper.Children(sides.Target, order, document),
            Beside = beside,
            Guarded = new GuardedChange(pair.Name, Posted: order.Total),
        };
    }

    private Computed Taken(OrderPlace place, Order order, OrderResult result)
    {
        var credits = Credits(order, result, place.HubKey!);
        var held = result.CreditNotes.FirstOrDefault(n => n.Outcome != OrderOutcome.Take);
        var (fields, parcels) = place.Hub is { } hub ? Back(place.Store, hub) : ([], RecordChildren.None);
        if (held is not null && credits.Count == 0 && fields.Count == 0)
            return Computed.Not(Why(held.Outcome, held.Causes, order));
        return new Computed(fields) { ChildrenBack = parcels, Beside = credits };
    }

    private List<BesideWrite> Credits(Order order, OrderResult result, string document) =>
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

    // What the store should hear of the document: its number, its state, what was sent.
    private (IReadOnlyList<ComputedField> Fields, RecordChildren Parcels) Back(OrderRecord store, OrderRecord hub)
    {
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
        Tell(
            FieldRole.State,
            (state is null ? null : policy.Back.States.GetValueOrDefault(state)) ?? policy.Back.Acknowledged,
            state is null ? "it has arrived" : $"at the hub it is {state}"
        );
        return (fields, policy.Back.Shipments ? Parcels(store, hub) : RecordChildren.None);
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
