using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Keeps where each order of a lane stands, so that hundreds of thousands can be looked through.</summary>
internal static class OrderLedger
{
    private const int Batch = 500;

    /// <summary>Keeps what was computed of a lane's orders.</summary>
    /// <returns>How many stand otherwise than before.</returns>
    public static async Task<int> StoreAsync(
        Database database,
        OpenLane lane,
        IReadOnlyList<OrderStanding> computed,
        CancellationToken cancel
    )
    {
        Dictionary<string, OrderStanding> kept;
        // A few are asked for by their keys; of many most are there.
        var only = computed.Count < Batch ? computed.Select(s => s.SourceKey).ToList() : null;
        await using (var db = database.CreateDbContext())
            kept = await db
                .OrderStandings.AsNoTracking()
                .Where(o => o.LaneId == lane.Lane.Id && (only == null || only.Contains(o.SourceKey)))
                .ToDictionaryAsync(o => o.SourceKey, StringComparer.Ordinal, cancel);
        var moved = 0;
        var changed = new List<OrderStanding>();
        foreach (var standing in computed)
        {
            var old = kept.GetValueOrDefault(standing.SourceKey);
            if (old?.Stage != standing.Stage || old.Causes != standing.Causes)
                moved++;
            if (old is not null && old.SaysTheSameAs(standing))
                continue;
            standing.Id = old?.Id ?? 0;
            changed.Add(standing);
        }

        await WriteAsync(database, changed, cancel);
        return moved;
    }

    // Most orders stand as they did; of hundreds of thousands only those that moved are written.
    private static async Task WriteAsync(Database database, List<OrderStanding> changed, CancellationToken cancel)
    {
        foreach (var some in changed.Chunk(Batch))
        {
            await using var db = database.CreateDbContext();
            foreach (var standing in some)
                db.Entry(standing).State = standing.Id == 0 ? EntityState.Added : EntityState.Modified;
            await db.SaveChangesAsync(cancel);
        }
    }

    /// <summary>Notes that the hub has an order, where that is news.</summary>
    public static Task TakenAsync(
        NarbitContext db,
        string storeId,
        string order,
        string hubKey,
        DateTimeOffset now,
        CancellationToken cancel
    ) =>
        Of(db, storeId, order)
            .Where(o => o.HubKey != hubKey)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(o => o.Stage, OrderStage.Taken)
                        .SetProperty(o => o.HubKey, hubKey)
                        .SetProperty(o => o.Causes, "")
                        .SetProperty(o => o.Words, (string?)null)
                        .SetProperty(o => o.ComputedAt, now),
                cancel
            );

    /// <summary>Notes that the hub does not have an order any more, by somebody's will.</summary>
    public static Task TakenOutAsync(NarbitContext db, string storeId, string order, DateTimeOffset now, CancellationToken cancel)
    {
        var words = OrderWords.Of(UndonePosting.Cause);
        var details = CauseOfOrder.Stored([new CauseOfOrder(UndonePosting.Cause, null, words)]);
        return Of(db, storeId, order)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(o => o.Stage, OrderStage.Held)
                        .SetProperty(o => o.HubKey, (string?)null)
                        .SetProperty(o => o.Causes, $" {UndonePosting.Cause} ")
                        .SetProperty(o => o.Words, words)
                        .SetProperty(o => o.Details, details)
                        .SetProperty(o => o.ComputedAt, now),
                cancel
            );
    }

    /// <summary>Notes that the store knows what became of an order.</summary>
    public static Task ToldAsync(NarbitContext db, string storeId, string order, bool shipped, CancellationToken cancel) =>
        Of(db, storeId, order)
            .Where(o => o.Stage != OrderStage.Held)
            .ExecuteUpdateAsync(s => s.SetProperty(o => o.Stage, shipped ? OrderStage.Shipped : OrderStage.Acknowledged), cancel);

    /// <summary>Forgets what an order and its document were like: the store has taken over the hub's, so that both agree anew.</summary>
    public static Task AgreeAnewAsync(NarbitContext db, OpenLane lane, string order, string hubKey, CancellationToken cancel) =>
        lane.AgreedThere(db)
            .Where(a => a.Key == hubKey && a.WithKey == order && a.Field == OrderLaneComputation.Marks)
            .ExecuteDeleteAsync(cancel);

    /// <summary>Where an order stands.</summary>
    public static OrderStanding Of(OpenLane lane, LanePair pair, OrderLaneComputation computation, DateTimeOffset now)
    {
        var place = pair.Order!;
        var fields = lane.Sides.Source;
        var standing = new OrderStanding
        {
            LaneId = lane.Lane.Id,
            SourceKey = pair.Source.Key,
            Number = fields.Text(place.Store.Values, FieldRole.Number),
            Buyer = pair.Caption,
            Email = fields.Text(place.Store.Values, FieldRole.Email),
            Currency = fields.Text(place.Store.Values, FieldRole.Currency) ?? lane.Sides.SourceCurrency,
            Total = fields.Number(place.Store.Values, FieldRole.Total) ?? 0,
            HubKey = place.HubKey,
            ComputedAt = now,
        };
        var judged = Judged(computation, place);
        if (judged.Fault is { } fault)
        {
            Hold(standing, fault);
            return standing;
        }

        var (order, result) = judged.Value;
        standing.PlacedAt = order.PlacedAt;
        standing.Skus = $" {string.Join(' ', order.Lines.Select(l => l.Sku).Distinct())} ";
        standing.Goods = Goods(result);
        standing.Refunded = order.Refunds.Sum(r => r.Total);
        var standsIn = DefaultItemLine.Of(lane, order, place);
        (standing.UsesDefaultItem, standing.DefaultItemLines) = (standsIn.Count > 0, DefaultItemLine.Stored(standsIn));
        if (place.HubKey is not null)
            Posted(lane, standing, place, OrderLaneComputation.Held(order, result, computation.Posted(place)));
        else if (result.Outcome == OrderOutcome.Take && computation.Unmapped(place) is { } unmapped)
            Hold(standing, unmapped);
        else
            Stage(standing, order, result, place);
        return standing;
    }

    private static string Goods(OrderResult result) =>
        string.Join(
            ' ',
            (result.Document?.Lines ?? [])
                .Where(l => l is { Kind: DocumentLineKind.Goods, Item: not null } && !l.Item.Contains(' ', StringComparison.Ordinal))
                .GroupBy(l => l.Item!, StringComparer.Ordinal)
                .Select(g => $"{g.Key}×{g.Sum(l => l.Quantity)}")
        );

    private static Core.Outcome<(Order, OrderResult)> Judged(OrderLaneComputation computation, OrderPlace place)
    {
        try
        {
            return computation.Judge(place);
        }
        catch (OverflowException)
        {
            return new Core.Reason("order.unreadable", "an amount of it is too large to be reckoned with");
        }
    }

    private static void Posted(OpenLane lane, OrderStanding standing, OrderPlace place, Core.Reason? held)
    {
        standing.Untracked = IsUntracked(lane.Sides.Target, place.Hub);
        if (held is null)
            standing.Stage = Known(lane, place);
        else
            Hold(standing, held);
    }

    private static void Hold(OrderStanding standing, Core.Reason why)
    {
        var code = why.Code.Split('.')[^1];
        (standing.Stage, standing.Causes, standing.Words) = (OrderStage.Held, $" {code} ", why.Words);
        standing.Details = CauseOfOrder.Stored([new CauseOfOrder(code, why["field"], why.Words)]);
    }

    private static void Stage(OrderStanding standing, Order order, OrderResult result, OrderPlace place)
    {
        if (result.Outcome == OrderOutcome.Take && place.SameNumber is { } same)
        {
            Hold(standing, new Core.Reason("numberTwice", $"order {same} of the store has the number {order.Number} too"));
            return;
        }

        standing.Stage = result.Outcome switch
        {
            OrderOutcome.Take => OrderStage.New,
            OrderOutcome.Wait => OrderStage.Waiting,
            OrderOutcome.Hold => OrderStage.Held,
            _ => OrderStage.Skipped,
        };
        if (result.Causes.Count == 0)
            return;
        standing.Causes = $" {string.Join(' ', result.Causes.Select(c => c.Code).Distinct())} ";
        standing.Words = string.Join("; ", result.Causes.Select(c => OrderWords.Of(c, order)));
        standing.Details = CauseOfOrder.Stored(
            result.Causes.Select(c => new CauseOfOrder(
                c.Code,
                OrderWords.Subject(c, order),
                OrderWords.Of(c, order),
                order.Lines.FirstOrDefault(l => l.Id == c.Line)?.Title
            ))
        );
    }

    // What the store itself says tells whether it knows.
    private static OrderStage Known(OpenLane lane, OrderPlace place)
    {
        var fields = lane.Sides.Source;
        var told = fields.Text(place.Store.Values, FieldRole.AcknowledgedAs) is { Length: > 0 };
        var sent =
            fields.Children.FirstOrDefault(c => c.Role == ListRole.Shipments) is { } list && place.Store.Children[list.Name].Count > 0;
        return sent ? OrderStage.Shipped
            : told ? OrderStage.Acknowledged
            : OrderStage.Taken;
    }

    private static bool IsUntracked(FieldSet hub, OrderRecord? document) =>
        document is not null
        && hub.Children.FirstOrDefault(c => c.Role == ListRole.Shipments) is { } sent
        && sent.Fields.Find(FieldRole.Tracking) is not null
        && document.Children[sent.Name].Any(s => string.IsNullOrWhiteSpace(sent.Fields.Text(s, FieldRole.Tracking)));

    private static IQueryable<OrderStanding> Of(NarbitContext db, string storeId, string order) =>
        db.OrderStandings.Where(o => o.SourceKey == order && db.Lanes.Any(l => l.Id == o.LaneId && l.SourceId == storeId));
}
