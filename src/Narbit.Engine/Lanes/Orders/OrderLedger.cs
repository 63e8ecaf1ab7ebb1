using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Keeps where each order of a lane stands, so that hundreds of thousands can be looked through.</summary>
/// <param name="lane">The lane.</param>
/// <param name="now">The time.</param>
internal sealed class OrderLedger(OpenLane lane, DateTimeOffset now) : ILaneLedger
{
    private readonly List<OrderStanding> _standings = [];

    /// <inheritdoc/>
    public void Note(LanePair pair, Computed computed)
    {
        var order = (OrderPair)pair;
        _standings.Add(Of(order, computed is ComputedOrder known ? known.Judged : JudgedOrder.Not(order.Place, computed.Why!)));
    }

    /// <inheritdoc/>
    public Task<int> StoreAsync(Database database, CancellationToken cancel) =>
        new StandingStore(database).StoreAsync(lane.Lane.Id, _standings, cancel);

    /// <summary>Notes that the hub has an order, where that is news.</summary>
    public static async Task TakenAsync(
        NarbitContext db,
        string storeId,
        string order,
        string hubKey,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        var news = Of(db, storeId, order).Where(o => o.HubKey != hubKey);
        await db.StandingCauses.Where(c => news.Any(o => o.Id == c.StandingId)).ExecuteDeleteAsync(cancel);
        await news.ExecuteUpdateAsync(
            s =>
                s.SetProperty(o => o.Stage, OrderStage.Taken)
                    .SetProperty(o => o.HubKey, hubKey)
                    .SetProperty(o => o.Fingerprint, "")
                    .SetProperty(o => o.ComputedAt, now),
            cancel
        );
    }

    /// <summary>Notes that the hub does not have an order any more, by somebody's will.</summary>
    public static async Task TakenOutAsync(NarbitContext db, string storeId, string order, DateTimeOffset now, CancellationToken cancel)
    {
        var standings = Of(db, storeId, order);
        await db.StandingCauses.Where(c => standings.Any(o => o.Id == c.StandingId)).ExecuteDeleteAsync(cancel);
        foreach (var id in await standings.Select(o => o.Id).ToListAsync(cancel))
        {
            var cause = StandingCause.Of(new CauseOfOrder(UndonePosting.Cause, OrderOutcome.Hold), 0);
            cause.StandingId = id;
            db.StandingCauses.Add(cause);
        }

        await db.SaveChangesAsync(cancel);
        await standings.ExecuteUpdateAsync(
            s =>
                s.SetProperty(o => o.Stage, OrderStage.Held)
                    .SetProperty(o => o.HubKey, (string?)null)
                    .SetProperty(o => o.Fingerprint, "")
                    .SetProperty(o => o.ComputedAt, now),
            cancel
        );
    }

    /// <summary>Notes that the store knows what became of an order.</summary>
    public static Task ToldAsync(NarbitContext db, string storeId, string order, bool shipped, CancellationToken cancel) =>
        Of(db, storeId, order)
            .Where(o => o.Stage != OrderStage.Held)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(o => o.Stage, shipped ? OrderStage.Shipped : OrderStage.Acknowledged).SetProperty(o => o.Fingerprint, ""),
                cancel
            );

    /// <summary>Forgets what an order and its document were like: the store has taken over the hub's, so that both agree anew.</summary>
    public static Task AgreeAnewAsync(NarbitContext db, OpenLane lane, string order, string hubKey, CancellationToken cancel) =>
        lane.AgreedThere(db)
            .Where(a => a.Key == hubKey && a.WithKey == order && a.Field == OrderLaneComputation.Marks)
            .ExecuteDeleteAsync(cancel);

    private OrderStanding Of(OrderPair pair, JudgedOrder judged)
    {
        var place = judged.Place;
        var fields = lane.Sides.Source;
        var standsIn = judged.Order is null ? [] : DefaultItemLine.Of(lane, judged.Order, place);
        var standing = new OrderStanding
        {
            LaneId = lane.Lane.Id,
            SourceKey = pair.Source.Key,
            Number = fields.Text(place.Store.Values, FieldRole.Number),
            PlacedAt = judged.Order?.PlacedAt ?? default,
            Buyer = pair.Caption,
            Email = fields.Text(place.Store.Values, FieldRole.Email),
            Currency = fields.Text(place.Store.Values, FieldRole.Currency) ?? lane.Sides.SourceCurrency,
            Total = fields.Number(place.Store.Values, FieldRole.Total) ?? 0,
            Refunded = judged.Order?.Refunds.Sum(r => r.Total) ?? 0,
            HubKey = place.HubKey,
            Stage = StageOf(judged),
            Untracked = judged.IsPosted && judged.Order is not null && IsUntracked(lane.Sides.Target, place.Hub),
            UsesDefaultItem = standsIn.Count > 0,
            DefaultItemLines = DefaultItemLine.Stored(standsIn),
            Skus = [.. Skus(judged.Order)],
            Goods = [.. Goods(judged.Result)],
            Causes = [.. judged.Causes.Select(StandingCause.Of)],
            ComputedAt = now,
        };
        standing.Fingerprint = standing.Reckoned();
        return standing;
    }

    private static IEnumerable<OrderSku> Skus(Order? order) =>
        (order?.Lines ?? [])
            .Select(l => l.Sku)
            .Where(s => !string.IsNullOrEmpty(s))
            .Distinct(StringComparer.Ordinal)
            .Select(s => new OrderSku { Sku = s! });

    private static IEnumerable<OrderGoods> Goods(OrderResult? result) =>
        (result?.Document?.Lines ?? [])
            .Where(l => l is { Kind: DocumentLineKind.Goods, Item: not null })
            .GroupBy(l => l.Item!, StringComparer.Ordinal)
            .Select(g => new OrderGoods { Item = g.Key, Pieces = g.Sum(l => l.Quantity) });

    private OrderStage StageOf(JudgedOrder judged) =>
        judged.Outcome switch
        {
            OrderOutcome.Hold => OrderStage.Held,
            OrderOutcome.Wait => OrderStage.Waiting,
            OrderOutcome.Skip => OrderStage.Skipped,
            _ => judged.IsPosted ? Known(judged.Place) : OrderStage.New,
        };

    // What the store itself says tells whether it knows.
    private OrderStage Known(OrderPlace place)
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
