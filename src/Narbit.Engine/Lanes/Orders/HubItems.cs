using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Which items of the hub the SKUs of a store are, by the pairs.</summary>
/// <param name="Items">The item by the store's SKU.</param>
/// <param name="Kits">What a kit consists of, by the store's SKU.</param>
/// <param name="Titles">What the hub calls its items; null: lines keep the titles that they were sold by.</param>
internal sealed record HubItems(
    IReadOnlyDictionary<string, string> Items,
    IReadOnlyDictionary<string, IReadOnlyList<KitComponent>> Kits,
    IReadOnlyDictionary<string, string>? Titles
)
{
    /// <summary>Reads them.</summary>
    public static async Task<HubItems> ReadAsync(OpenLane lane, Database database, CancellationToken cancel)
    {
        var items = new Dictionary<string, string>(StringComparer.Ordinal);
        var kits = new Dictionary<string, IReadOnlyList<KitComponent>>(StringComparer.Ordinal);
        var links = await LinksAsync(lane, database, cancel);
        var used = new HashSet<string>(StringComparer.Ordinal);
        await foreach (var listing in new MirrorStore(database).RowsAsync(lane.Source.System.Id, RecordKind.Item, cancel))
        {
            var own = links[listing.Key].OrderBy(l => l.Id).ToList();
            if (listing.Reference is not { Length: > 0 } sku || own.Count == 0)
                continue;
            // A SKU that stands for two items says nothing of which was bought.
            if (!used.Add(sku) && items.GetValueOrDefault(sku) != own[0].HubKey)
            {
                items.Remove(sku);
                kits.Remove(sku);
            }
            else if (own[0].IsKit)
                kits[sku] = [.. own.Select(l => new KitComponent(l.HubKey, (int)Math.Max(1, l.Quantity)))];
            else
                items[sku] = own[0].HubKey;
        }

        return new HubItems(items, kits, await TitlesAsync(lane, database, cancel));
    }

    private static async Task<ILookup<string, PairLink>> LinksAsync(OpenLane lane, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var links = await (
            from couple in db.Couples
            where couple.Kind == RecordKind.Item && couple.HubId == lane.Target.System.Id && couple.OtherId == lane.Source.System.Id
            join link in db.Links on couple.Id equals link.CoupleId
            select link
        )
            .AsNoTracking()
            .ToListAsync(cancel);
        return links.ToLookup(l => l.OtherKey, StringComparer.Ordinal);
    }

    private static async Task<IReadOnlyDictionary<string, string>?> TitlesAsync(OpenLane lane, Database database, CancellationToken cancel)
    {
        if (lane.Document is not OrderPolicy { Titles: LineTitles.AsHere })
            return null;
        await using var db = database.CreateDbContext();
        var named = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == lane.Target.System.Id && r.Kind == RecordKind.Item && r.Caption != null)
            .Select(r => new { r.Key, r.Caption })
            .ToListAsync(cancel);
        return named.ToDictionary(r => r.Key, r => r.Caption!, StringComparer.Ordinal);
    }
}
