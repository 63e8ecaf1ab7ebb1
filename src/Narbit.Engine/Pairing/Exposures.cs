using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>
/// Finds every exposed item. A kit takes its parts; items whose stock is not counted are never exposed; hidden listings promise nothing.
/// </summary>
/// <param name="database">Where the mirror and the pairs are.</param>
/// <param name="adapters">How systems are described.</param>
public sealed class Exposures(Database database, AdapterSource adapters)
{
    /// <summary>The exposed items, the most exposed first.</summary>
    public async Task<IReadOnlyList<ExposedItem>> AllAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (
            await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel) is not { } hub
            || (await adapters.ForAsync(hub, cancel)) is not { Ok: true } source
        )
            return [];
        if (
            source.Value.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.StockLevel)?.Fields is not { } levels
            || Path(levels, FieldRole.OnHand) is not { } onHand
        )
            return [];

        var offers = new Dictionary<string, List<StoreOffer>>(StringComparer.Ordinal);
        foreach (
            var store in await db.Couples.Where(c => c.HubId == hub && c.Kind == RecordKind.Item).Select(c => c.OtherId).ToListAsync(cancel)
        )
        {
            if ((await adapters.ForAsync(store, cancel)) is not { Ok: true } there)
                continue;
            var fields = there.Value.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Fields;
            if (Path(fields, FieldRole.OnHand) is not { } quantity)
                continue;
            var published = Path(fields, FieldRole.Published) ?? "$.\"\"";
            var listed = await (
                from link in db.Links
                join couple in db.Couples on link.CoupleId equals couple.Id
                join record in db.Records
                    on new { System = couple.OtherId, link.OtherKey } equals new { System = record.SystemId, OtherKey = record.Key }
                where
                    couple.HubId == hub
                    && couple.OtherId == store
                    && couple.Kind == RecordKind.Item
                    && record.Kind == RecordKind.Item
                    && record.GoneAt == null
                    && NarbitContext.Json(record.Values, published) != "false"
                select new
                {
                    link.HubKey,
                    link.Quantity,
                    Shown = NarbitContext.Number(record.Values, quantity),
                }
            ).ToListAsync(cancel);
            foreach (var item in listed.Where(l => l.Shown > 0).GroupBy(l => l.HubKey, StringComparer.Ordinal))
            {
                if (!offers.TryGetValue(item.Key, out var list))
                    offers[item.Key] = list = [];
                list.Add(new StoreOffer(store, item.Sum(l => (decimal)l.Shown!.Value * l.Quantity)));
            }
        }

        var allocated = Path(levels, FieldRole.Allocated) ?? "$.\"\"";
        var available = await db
            .Records.Where(r => r.SystemId == hub && r.Kind == RecordKind.StockLevel && r.GoneAt == null && r.Parent != null)
            .GroupBy(r => r.Parent!)
            .Select(g => new
            {
                Item = g.Key,
                Pieces = g.Sum(r => (NarbitContext.Number(r.Values, onHand) ?? 0) - (NarbitContext.Number(r.Values, allocated) ?? 0)),
            })
            .ToDictionaryAsync(a => a.Item, a => Math.Max(0, (decimal)a.Pieces), StringComparer.Ordinal, cancel);

        var exposed = offers
            .Select(o => (o.Key, Promised: o.Value.Sum(s => s.Promised), Available: available.GetValueOrDefault(o.Key), o.Value))
            .Where(o => o.Promised > o.Available)
            .ToDictionary(o => o.Key, StringComparer.Ordinal);
        var tracked = Path(source.Value.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Fields, FieldRole.Tracked) ?? "$.\"\"";
        var found = new List<ExposedItem>(exposed.Count);
        foreach (var some in exposed.Keys.Chunk(500))
        {
            var items = await db
                .Records.Where(r =>
                    r.SystemId == hub
                    && r.Kind == RecordKind.Item
                    && r.GoneAt == null
                    && some.Contains(r.Key)
                    && NarbitContext.Json(r.Values, tracked) != "false"
                )
                .Select(r => new
                {
                    r.Key,
                    r.Reference,
                    r.Caption,
                })
                .ToListAsync(cancel);
            found.AddRange(
                items.Select(i =>
                    exposed[i.Key] is var e
                        ? new ExposedItem(i.Key, i.Reference, i.Caption, e.Available, e.Promised, e.Promised - e.Available, e.Value)
                        : null!
                )
            );
        }

        return [.. found.OrderByDescending(f => f.Exposure).ThenBy(f => f.Sku, StringComparer.Ordinal)];
    }

    private static string? Path(FieldSet fields, FieldRole role) => fields.Find(role) is { } field ? $"$.\"{field.Name}\"" : null;
}
