using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.Stock;

/// <summary>What was sold in the stores, has not reached the hub, and is not there: more than is left of an item.</summary>
/// <param name="database">Where orders are.</param>
/// <param name="adapters">How the hub is described.</param>
/// <param name="clock">The time.</param>
public sealed class SoldMismatches(Database database, AdapterSource adapters, TimeProvider clock) : IMismatchSource
{
    private const int AtOnce = 500;

    /// <inheritdoc/>
    public string Family => "sold:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Workspaces.Where(w => w.HubId != null).Select(w => w.HubId!).ToListAsync(cancel);

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel)
    {
        var hubs = await OriginsAsync(db, cancel);
        if (what is { Topic: "read", Phase: { } phase } && phase.EndsWith(":done", StringComparison.Ordinal))
            return hubs.Contains(what.Id) ? hubs : [];
        var lanes = await LaneOf.EventAsync(db, what, cancel);
        var orders = OrderWork.Code;
        return lanes.Count > 0 && await db.Lanes.AnyAsync(l => lanes.Contains(l.Id) && l.Kind == orders, cancel) ? hubs : [];
    }

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        if ((await adapters.ForAsync(origin, cancel)).ValueOrDefault is not { } hub || !HubStock.IsKnown(hub))
            return new Look(now, []);
        var sold = await OpenSales.OfAsync(origin, database, cancel);
        var found = new List<FoundMismatch>();
        foreach (var some in sold.Where(s => s.Value > 0).Chunk(AtOnce))
            found.AddRange(await MissingAsync(db, hub, some.ToDictionary(StringComparer.Ordinal), cancel));
        return new Look(now, found);
    }

    private static async Task<IEnumerable<FoundMismatch>> MissingAsync(
        NarbitContext db,
        Connection hub,
        Dictionary<string, decimal> sold,
        CancellationToken cancel
    )
    {
        var (id, keys) = (hub.System.Id, sold.Keys.ToList());
        var left = await HubStock.LeftAsync(db, hub, keys, cancel);
        var tracked = HubStock.Path(hub.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Fields, FieldRole.Tracked);
        var items = await db
            .Records.Where(r =>
                r.SystemId == id && r.Kind == RecordKind.Item && keys.Contains(r.Key) && NarbitContext.Json(r.Values, tracked) != "false"
            )
            .Select(r => new
            {
                r.Key,
                r.Reference,
                r.Caption,
            })
            .ToListAsync(cancel);
        return items
            .Select(i => (Item: i, Sold: sold[i.Key], Left: left.GetValueOrDefault(i.Key)))
            .Where(i => i.Sold > i.Left)
            .Select(i => new FoundMismatch
            {
                Cause = "stock.promised",
                SystemId = id,
                Kind = RecordKind.Item,
                Key = i.Item.Key,
                Reference = i.Item.Reference,
                Caption = i.Item.Caption,
                Words = $"{i.Sold:#,0.##} pieces are sold and not at the hub yet; {i.Left:#,0.##} are left",
                Pieces = i.Sold - i.Left,
            });
    }
}
