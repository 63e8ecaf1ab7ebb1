using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Orders;
using Narbit.Data.Pairs;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Finds what was booked under a rule's default item, gives it its own, and has it posted anew.</summary>
/// <param name="database">Where orders and decisions are.</param>
/// <param name="orders">Looks at orders anew.</param>
/// <param name="pairs">Keeps pairs.</param>
/// <param name="clock">The time.</param>
public sealed class DefaultItemDesk(Database database, OrderDesk orders, DecisionDesk pairs, TimeProvider clock)
{
    private sealed record Standing(string LaneId, string Key, string? HubKey, DateTimeOffset PlacedAt, string? Currency, string Lines);

    /// <summary>Every SKU for which a default item stands in, what is worth most first.</summary>
    /// <param name="laneId">Of this lane; null: of all.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<DefaultItemUse>> AllAsync(string? laneId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var standings = await StandingsAsync(db, laneId, cancel);
        var anew = await db
            .OrderDecisions.Where(d => d.Kind == OrderChoiceKind.PostAnew && d.UndoneAt == null)
            .Select(d => new { d.LaneId, d.Subject })
            .ToListAsync(cancel);
        var wanted = anew.Select(d => (d.LaneId, d.Subject)).ToHashSet();
        return
        [
            .. standings
                .SelectMany(s => DefaultItemLine.Read(s.Lines).Select(line => (Standing: s, Line: line)))
                .GroupBy(u => (u.Standing.LaneId, u.Line.Sku))
                .Select(g => Use(g.Key.LaneId, g.Key.Sku, [.. g], s => wanted.Contains((s.LaneId, s.HubKey))))
                .OrderByDescending(u => u.Worth.Select(w => w.Sum).FirstOrDefault())
                .ThenBy(u => u.Sku, StringComparer.Ordinal),
        ];
    }

    /// <summary>Gives a SKU its item.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="given">The SKU and the item.</param>
    /// <param name="by">Who decides.</param>
    /// <param name="cancel">Gives up before it is kept.</param>
    /// <returns>How many orders stand otherwise than before, or why it cannot be kept.</returns>
    public async Task<Outcome<int>> GiveAsync(string laneId, GivenItem given, string by, CancellationToken cancel)
    {
        await using (var db = database.CreateDbContext())
        {
            if (await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == laneId, cancel) is not { } lane)
                return new Reason("lane.unknown", $"There is no lane “{laneId}”.");
            if (await OrderDesk.ThereAsync(db, lane, RecordKind.Item, given.Item, "item", cancel) is { } missing)
                return missing;
            if (given.For == ItemMemory.Pair && await PairAsync(db, lane, given, by, cancel) is { } unpaired)
                return unpaired;
            var affected = (await StandingsAsync(db, laneId, cancel))
                .Where(s => DefaultItemLine.Read(s.Lines).Any(l => l.Sku == given.Sku))
                .ToList();
            var now = clock.GetUtcNow();
            db.OrderDecisions.AddRange(Decisions(laneId, given, affected).Select(d => Signed(d, by, now)));
            await db.SaveChangesAsync(cancel);
        }

        return await orders.LookAnewAsync(laneId, null, cancel);
    }

    private static IEnumerable<OrderDecision> Decisions(string laneId, GivenItem given, List<Standing> affected)
    {
        OrderDecision Of(string? order, OrderChoiceKind kind, string? subject, string? value) =>
            new()
            {
                LaneId = laneId,
                OrderKey = order,
                Kind = kind,
                Subject = subject,
                Value = value,
                By = "",
            };
        if (given.For == ItemMemory.Orders)
            yield return Of(null, OrderChoiceKind.Item, given.Sku, given.Item);
        foreach (var order in affected)
        {
            if (given.For == ItemMemory.Once)
                yield return Of(order.Key, OrderChoiceKind.Item, given.Sku, given.Item);
            if (given.PostsAnew && order.HubKey is { } document)
                yield return Of(order.Key, OrderChoiceKind.PostAnew, document, null);
        }
    }

    private static OrderDecision Signed(OrderDecision decision, string by, DateTimeOffset now)
    {
        (decision.By, decision.At) = (by, now);
        return decision;
    }

    private async Task<Reason?> PairAsync(NarbitContext db, Lane lane, GivenItem given, string by, CancellationToken cancel)
    {
        var listings = await db
            .Records.Where(r => r.SystemId == lane.SourceId && r.Kind == RecordKind.Item && r.Reference == given.Sku && r.GoneAt == null)
            .Select(r => r.Key)
            .ToListAsync(cancel);
        if (listings.Count == 0 || given.Sku.Length == 0)
            return new Reason(
                "choice.noListing",
                "The store lists nothing under this SKU, so there is nothing to pair: keep it for its orders."
            );
        var couple = await db.Couples.FirstOrDefaultAsync(
            c => c.Kind == RecordKind.Item && c.HubId == lane.TargetId && c.OtherId == lane.SourceId,
            cancel
        );
        if (couple is null)
            return new Reason("choice.noPairs", "Items of this store are not paired with those of the hub: keep it for its orders.");
        var paired = await db
            .Links.Where(l => l.CoupleId == couple.Id && l.HubKey == given.Item && listings.Contains(l.OtherKey))
            .Select(l => l.OtherKey)
            .ToListAsync(cancel);
        if (listings.Except(paired).ToList() is not [_, ..] open)
            return null;
        return await PairAsync(db, couple, given, open, by, cancel);
    }

    private async Task<Reason?> PairAsync(
        NarbitContext db,
        Couple couple,
        GivenItem given,
        List<string> listings,
        string by,
        CancellationToken cancel
    )
    {
        var shared = await db.Links.AnyAsync(l => l.CoupleId == couple.Id && l.HubKey == given.Item, cancel) || listings.Count > 1;
        var act = shared ? DecisionAct.Share : DecisionAct.Accept;
        var decided = await pairs.DecideAsync(
            couple.Id,
            [.. listings.Select(listing => new DecisionToMake(act, given.Item, listing))],
            by,
            cancel
        );
        if (decided.Fault is { } fault)
            return fault;
        var committed = await pairs.CommitAsync(couple.Id, [.. decided.Value], by, $"the default item stood in for {given.Sku}", cancel);
        return committed.Fault ?? (committed.Value.Faults is [var first, ..] ? new Reason("choice.notPaired", first.Message) : null);
    }

    private static DefaultItemUse Use(
        string laneId,
        string sku,
        List<(Standing Standing, DefaultItemLine Line)> uses,
        Func<Standing, bool> isAnew
    )
    {
        var orders = uses.Select(u => u.Standing).DistinctBy(s => s.Key).ToList();
        return new DefaultItemUse
        {
            LaneId = laneId,
            Sku = sku,
            Title = uses.MaxBy(u => u.Standing.PlacedAt).Line.Title,
            Orders = orders.Count,
            Posted = orders.Count(s => s.HubKey is not null),
            Quantity = uses.Sum(u => u.Line.Quantity),
            Worth = Amount.SumsOf(uses.Select(u => new Amount(u.Standing.Currency ?? "", u.Line.Amount))),
            Since = orders.Min(s => s.PlacedAt),
            Anew = orders.Count(isAnew),
        };
    }

    private static async Task<List<Standing>> StandingsAsync(NarbitContext db, string? laneId, CancellationToken cancel) =>
        await db
            .OrderStandings.Where(o => o.UsesDefaultItem && (laneId == null || o.LaneId == laneId))
            .Select(o => new Standing(o.LaneId, o.SourceKey, o.HubKey, o.PlacedAt, o.Currency, o.DefaultItemLines))
            .ToListAsync(cancel);
}
