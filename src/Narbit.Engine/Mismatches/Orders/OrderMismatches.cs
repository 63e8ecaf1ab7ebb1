using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Orders;
using Narbit.Engine.Lanes.Orders;

namespace Narbit.Engine.Mismatches.Orders;

/// <summary>What orders that the hub has still lack: the store was never told, or what was given back was never credited,
/// or what was shipped cannot be followed.</summary>
/// <param name="clock">The time.</param>
public sealed class OrderMismatches(TimeProvider clock) : IMismatchSource
{
    // The store is told by the same run; a day later something is wrong.
    private static readonly TimeSpan Patience = TimeSpan.FromDays(1);
    private static readonly string Orders = OrderWork.Code;

    /// <inheritdoc/>
    public string Family => "posted:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Lanes.Where(l => l.Kind == Orders).Select(l => l.Id).ToListAsync(cancel);

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel)
    {
        var lanes = await LaneOf.EventAsync(db, what, cancel);
        return lanes.Count == 0
            ? []
            : await db.Lanes.Where(l => lanes.Contains(l.Id) && l.Kind == Orders).Select(l => l.Id).ToListAsync(cancel);
    }

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        if (await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == origin, cancel) is not { ComparedAt: { } at } lane)
            return null;
        var old = clock.GetUtcNow() - Patience;
        var untold = await (
            from o in db.OrderStandings.AsNoTracking()
            where o.LaneId == origin && o.Stage == OrderStage.Taken
            join c in db.Counterparts on o.SourceKey equals c.SourceKey
            where c.Kind == RecordKind.Order && c.SourceId == lane.SourceId && c.At < old
            select new { Order = o, c.At }
        ).ToListAsync(cancel);
        var uncredited = await db
            .OrderStandings.AsNoTracking()
            .Where(o =>
                o.LaneId == origin
                && o.Refunded > 0
                && o.HubKey != null
                && o.Stage != OrderStage.Held
                && o.ComputedAt < old
                && !db.Counterparts.Any(c =>
                    c.Kind == RecordKind.CreditNote && c.SourceId == lane.SourceId && c.SourceKey.StartsWith(o.SourceKey + "/")
                )
            )
            .ToListAsync(cancel);
        var untracked = await db
            .OrderStandings.AsNoTracking()
            .Where(o => o.LaneId == origin && o.Untracked && o.ComputedAt < old)
            .ToListAsync(cancel);
        return new Look(
            at,
            [
                .. untracked.Select(o =>
                    OrderTroubles.OfOrder(lane, o, "order.untracked", "The hub has sent it, and says no tracking number", null) with
                    {
                        Since = o.ComputedAt,
                    }
                ),
                .. untold.Select(u =>
                    OrderTroubles.OfOrder(lane, u.Order, "order.unacknowledged", "The hub has it, and the store was never told", null) with
                    {
                        Since = u.At,
                    }
                ),
                .. uncredited.Select(o =>
                    OrderTroubles.OfOrder(
                        lane,
                        o,
                        "order.uncredited",
                        "Something was given back, and the hub has no credit note",
                        null
                    ) with
                    {
                        Worth = o.Refunded,
                    }
                ),
            ]
        );
    }
}
