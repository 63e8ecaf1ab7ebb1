using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Orders;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Mismatches.WaysOut;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.Orders;

/// <summary>
/// Decides what an order is held for: which item a SKU is, who the buyer is, what a method is at the hub, which rate a line has, that a
/// small difference is made up for, that it is sent where it says. What a SKU, a method or a customer is holds for every order, so that
/// nobody is asked again.
/// </summary>
/// <param name="database">Where decisions are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="desk">What keeps decisions on orders.</param>
public sealed class DecideOrder(Database database, AdapterSource adapters, OrderDesk desk) : WayOut<OrderDecided>
{
    private const string AlikeCustomers = "customer.alike";

    private static readonly HashSet<string> Causes = new(StringComparer.Ordinal)
    {
        "order.unknownItem",
        "order.totals",
        "order.outsideZone",
        "order.noAddress",
        "order.customerAmbiguous",
        "order.paymentMethod",
        "order.shippingMethod",
        "order.taxRate",
        AlikeCustomers,
    };

    private static readonly string Orders = OrderWork.Code;

    /// <inheritdoc/>
    public override string Act => "order";

    /// <inheritdoc/>
    public override bool Knows(string cause) => Causes.Contains(cause);

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<Suggested>> SuggestAsync(
        NarbitContext db,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        var ways = new OrderWays(db, adapters);
        var found = new List<Suggested>();
        foreach (var alike in some.GroupBy(m => (m.Cause, m.LaneId, Hub: m.OtherSystemId ?? m.SystemId)))
            found.AddRange(await OfAsync(ways, alike.Key.Cause, alike.Key.LaneId, alike.Key.Hub, [.. alike], cancel));
        return found;
    }

    private async Task<IEnumerable<Suggested>> OfAsync(
        OrderWays ways,
        string cause,
        string? laneId,
        string hub,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    ) =>
        cause switch
        {
            "order.unknownItem" => await ways.ItemsAsync(hub, some, cancel),
            "order.customerAmbiguous" => await ways.BuyersAsync(hub, some, cancel),
            "order.taxRate" => await ways.RatesAsync(hub, some, cancel),
            "order.paymentMethod" or "order.shippingMethod" => laneId is not null
            && (await OpenLane.ForAsync(database, adapters, laneId, cancel)).ValueOrDefault is { } lane
                ? await ways.MethodsAsync(lane, some, cancel)
                : [],
            AlikeCustomers => some.Where(m => m.Proposal is not null).Select(m => new Suggested(m, OrderWays.Alike(m))),
            _ => OrderWays.Plain(cause) is { } way ? some.Select(m => new Suggested(m, way)) : [],
        };

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<OrderDecided> log,
        string by,
        CancellationToken cancel
    )
    {
        var (decided, settled, not) = (0, new List<long>(), new List<NotTaken>());
        var alike = some.GroupBy(s => (s.Mismatch.LaneId, s.Mismatch.SystemId, Order: OrderOf(s), Choice: Choice(s)));
        foreach (var one in alike)
        {
            List<string> lanes = one.Key.LaneId is { } lane ? [lane] : await LanesAsync(one.Key.SystemId, cancel);
            var fault = lanes.Count == 0 ? new Reason("lane.noOrders", "No lane brings orders to the hub yet.") : null;
            foreach (var laneId in lanes)
            {
                if (await ContradictedAsync(laneId, one.Key.Choice, cancel) is { } contradicted)
                    fault = contradicted;
                else if ((await desk.DecideAsync(laneId, one.Key.Order, one.Key.Choice, by, cancel, log.ActId)).Fault is { } refused)
                    fault = refused;
                else if (await NewestAsync(laneId, one.Key.Order, one.Key.Choice, cancel) is { } id)
                {
                    decided++;
                    await log.DoneAsync(new OrderDecided(laneId, id));
                }
            }

            if (fault is null)
                settled.AddRange(one.Select(s => s.Mismatch.Id));
            else
                not.AddRange(one.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
        }

        return new Taken($"{decided:N0} decided; the next run takes the orders", settled, not);
    }

    private async Task<List<string>> LanesAsync(string hub, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db.Lanes.Where(l => l.Kind == Orders && l.TargetId == hub && !l.Off).Select(l => l.Id).ToListAsync(cancel);
    }

    // An older decision that says otherwise counts until somebody takes it back.
    private async Task<Reason?> ContradictedAsync(string lane, OrderChoice choice, CancellationToken cancel)
    {
        if (choice.Kind is not (OrderChoiceKind.SameCustomer or OrderChoiceKind.Item))
            return null;
        await using var db = database.CreateDbContext();
        var older = await db
            .OrderDecisions.AsNoTracking()
            .Where(d => d.LaneId == lane && d.OrderKey == null && d.Kind == choice.Kind && d.UndoneAt == null)
            .Where(d => d.Subject == choice.Subject || (d.Kind == OrderChoiceKind.SameCustomer && d.Subject == choice.Value))
            .OrderByDescending(d => d.Id)
            .FirstOrDefaultAsync(cancel);
        return older is null || (older.Subject == choice.Subject && older.Value == choice.Value)
            ? null
            : new Reason(
                "mismatch.contradicts",
                $"{older.By} has decided on {older.At:yyyy-MM-dd} that {older.Subject} is {older.Value}; "
                    + "take that back first, under what was learned."
            );
    }

    // What a SKU, a method or a customer is holds for every order; all else for this one.
    private static string? OrderOf(Suggested one) =>
        one.Suggestion.Act is "item" or "paymentMethod" or "shippingMethod" or "sameCustomer" ? null : one.Mismatch.Key;

    private static OrderChoice Choice(Suggested one) =>
        one.Suggestion.Act switch
        {
            "item" => new OrderChoice(OrderChoiceKind.Item, one.Mismatch.Subject, one.Suggestion.Value),
            "customer" => new OrderChoice(OrderChoiceKind.Customer, null, one.Suggestion.Value),
            "sameCustomer" => new OrderChoice(OrderChoiceKind.SameCustomer, one.Mismatch.Key, one.Suggestion.Value),
            "paymentMethod" => new OrderChoice(OrderChoiceKind.PaymentMethod, one.Mismatch.Subject, one.Suggestion.Value),
            "shippingMethod" => new OrderChoice(OrderChoiceKind.ShippingMethod, one.Mismatch.Subject, one.Suggestion.Value),
            "taxRate" => new OrderChoice(OrderChoiceKind.TaxRate, null, one.Suggestion.Value),
            "difference" => new OrderChoice(OrderChoiceKind.Difference, null, null),
            _ => new OrderChoice(OrderChoiceKind.Address, null, null),
        };

    private async Task<long?> NewestAsync(string lane, string? order, OrderChoice choice, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db
            .OrderDecisions.Where(d =>
                d.LaneId == lane && d.OrderKey == order && d.Kind == choice.Kind && d.Subject == choice.Subject && d.UndoneAt == null
            )
            .MaxAsync(d => (long?)d.Id, cancel);
    }

    /// <inheritdoc/>
    protected override async Task<IReadOnlyList<OrderDecided>> BegunAsync(NarbitContext db, long act, CancellationToken cancel) =>
        [
            .. (await db.OrderDecisions.AsNoTracking().Where(d => d.DeskActId == act).ToListAsync(cancel)).Select(d => new OrderDecided(
                d.LaneId,
                d.Id
            )),
        ];

    /// <inheritdoc/>
    protected override async Task<Reason?> UndoAsync(OrderDecided part, string by, CancellationToken cancel)
    {
        // One that is not there any more was taken back by somebody.
        return (await desk.UndoAsync(part.Lane, part.Decision, cancel)).Fault is { Code: not "decision.unknown" } fault ? fault : null;
    }

    /// <inheritdoc/>
    protected override async Task<IReadOnlyList<Lesson>> LessonsAsync(
        NarbitContext db,
        IReadOnlyList<OrderDecided> parts,
        DateTimeOffset at,
        CancellationToken cancel
    )
    {
        long[] ids = [.. parts.Select(p => p.Decision)];
        var decisions = await db
            .OrderDecisions.AsNoTracking()
            .Where(d => ids.Contains(d.Id) && d.OrderKey == null && d.Subject != null)
            .ToListAsync(cancel);
        var lessons = new List<Lesson>();
        // What holds in every lane was learned once.
        foreach (var same in decisions.GroupBy(Words, StringComparer.Ordinal))
        {
            var acted = 0;
            foreach (var decision in same)
                acted += await ActedAsync(db, decision, at, cancel);
            lessons.Add(new Lesson(same.Key, acted, $"/lanes/{same.First().LaneId}/rule"));
        }

        return lessons;
    }

    private static string Words(OrderDecision decision) =>
        decision.Kind switch
        {
            OrderChoiceKind.Item => $"{decision.Subject} is the hub's item {decision.Value}",
            OrderChoiceKind.SameCustomer => $"customer {decision.Subject} is taken for {decision.Value}",
            OrderChoiceKind.PaymentMethod => $"paid by {decision.Subject} is {decision.Value} at the hub",
            _ => $"sent by {decision.Subject} is {decision.Value} at the hub",
        };

    // How many of the orders that came since needed it.
    private async Task<int> ActedAsync(NarbitContext db, OrderDecision decision, DateTimeOffset at, CancellationToken cancel)
    {
        var since = db.OrderStandings.Where(o => o.LaneId == decision.LaneId && o.PlacedAt > at);
        if (decision.Kind == OrderChoiceKind.Item)
            return await since.CountAsync(o => o.Skus.Any(s => s.Sku == decision.Subject), cancel);

        if ((await OpenLane.ForAsync(database, adapters, decision.LaneId, cancel)).ValueOrDefault is not { } lane)
            return 0;
        if (decision.Kind == OrderChoiceKind.SameCustomer)
        {
            var mail = await MailAsync(db, lane, decision.Subject!, cancel);
            return mail is null ? 0 : await since.CountAsync(o => EF.Functions.Collate(o.Email!, "NOCASE") == mail, cancel);
        }

        var (store, path) = (lane.Source.System.Id, HubStock.Path(lane.Sides.Source, FieldRole.Method));
        var orders = db.Records.Where(r => r.SystemId == store && r.Kind == RecordKind.Order);
        // How an order was paid stands in it, how it is sent in one of the lists within it.
        var (method, quoted) = (decision.Subject, $"\"{decision.Subject}\"");
        orders =
            decision.Kind == OrderChoiceKind.PaymentMethod
                ? orders.Where(r => NarbitContext.Json(r.Values, path) == method)
                : orders.Where(r => r.Children!.Contains(quoted));
        return await since.CountAsync(o => orders.Any(r => r.Key == o.SourceKey), cancel);
    }

    private static async Task<string?> MailAsync(NarbitContext db, OpenLane lane, string customer, CancellationToken cancel)
    {
        var fields = lane.Target.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.Customer)?.Fields;
        if (fields?.Find(FieldRole.Email) is not { } mail)
            return null;
        var (hub, path) = (lane.Target.System.Id, $"$.\"{mail.Name}\"");
        return await db
            .Records.Where(r => r.SystemId == hub && r.Kind == RecordKind.Customer && r.Key == customer)
            .Select(r => NarbitContext.Json(r.Values, path))
            .FirstOrDefaultAsync(cancel);
    }

    /// <inheritdoc/>
    protected override OrderDecided Earlier(string text)
    {
        var slash = text.LastIndexOf('/');
        return new OrderDecided(text[..slash], long.Parse(text[(slash + 1)..], CultureInfo.InvariantCulture));
    }
}
