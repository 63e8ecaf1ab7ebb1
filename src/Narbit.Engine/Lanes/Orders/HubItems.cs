using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Which items of the hub the SKUs of a store are, by the pairs.</summary>
/// <param name="Items">The item by the store's SKU.</param>
/// <param name="Kits">What a kit consists of, by the store's SKU.</param>
/// <param name="Titles">What the hub calls its items; null: lines keep the titles that they were sold by.</param>
/// <param name="Skus">The SKUs of its items; null: its lines name items by their keys.</param>
internal sealed record HubItems(
    IReadOnlyDictionary<string, string> Items,
    IReadOnlyDictionary<string, IReadOnlyList<KitComponent>> Kits,
    IReadOnlyDictionary<string, string>? Titles,
    IReadOnlyDictionary<string, string>? Skus
)
{
    /// <summary>Reads them.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="database">Where they are.</param>
    /// <param name="only">The orders whose SKUs are wanted; null: all SKUs.</param>
    /// <param name="chosen">What people chose for SKUs; some of it are items.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<HubItems> ReadAsync(
        OpenLane lane,
        Database database,
        IReadOnlySet<string>? only,
        IEnumerable<string> chosen,
        CancellationToken cancel
    )
    {
        var items = new Dictionary<string, string>(StringComparer.Ordinal);
        var kits = new Dictionary<string, IReadOnlyList<KitComponent>>(StringComparer.Ordinal);
        var listings = only is null ? null : await ListingsAsync(lane, database, only, cancel);
        var links = await LinksAsync(lane, database, listings, cancel);
        var used = new HashSet<string>(StringComparer.Ordinal);
        await foreach (var listing in new MirrorStore(database).RowsAsync(lane.Source.System.Id, RecordKind.Item, listings, cancel))
        {
            var own = links[listing.Key].OrderBy(l => l.Id).ToList();
            if (listing.Reference is not { Length: > 0 } sku || own.Count == 0)
                continue;
            // A SKU that stands for two items says nothing of which was bought.
            if (!used.Add(sku) && items.GetValueOrDefault(sku) != own[0].TargetKey)
            {
                items.Remove(sku);
                kits.Remove(sku);
            }
            else if (own[0].IsKit)
                kits[sku] = [.. own.Select(l => new KitComponent(l.TargetKey, (int)Math.Max(1, l.Quantity)))];
            else
                items[sku] = own[0].TargetKey;
        }

        var named = only is null ? null : Named(items, kits, [.. chosen, (lane.Document as OrderPolicy)?.Rule.UseItem ?? ""]);
        var titles = lane.Document is OrderPolicy { Titles: LineTitles.AsHere };
        var skus = lane.Sides.Target.Children.Any(c => c.Role == ListRole.Lines && c.Fields.Find(FieldRole.Sku) is { Writable: true });
        return new HubItems(
            items,
            kits,
            titles ? await NamedAsync(lane, database, named, r => r.Caption, cancel) : null,
            skus ? await NamedAsync(lane, database, named, r => r.Reference, cancel) : null
        );
    }

    private static HashSet<string> Named(
        Dictionary<string, string> items,
        Dictionary<string, IReadOnlyList<KitComponent>> kits,
        IEnumerable<string> others
    ) => [.. items.Values, .. kits.Values.SelectMany(k => k).Select(k => k.Item), .. others];

    // The listings that the SKUs in some orders stand for; one SKU may be that of several.
    private static async Task<IReadOnlyCollection<string>> ListingsAsync(
        OpenLane lane,
        Database database,
        IReadOnlySet<string> orders,
        CancellationToken cancel
    )
    {
        var source = lane.Source.System.Id;
        if (lane.Sides.Source.Children.FirstOrDefault(c => c.Role == ListRole.Lines) is not { } lines)
            return [];
        var rows = await new MirrorStore(database).SomeAsync(source, RecordKind.Order, orders, [], cancel);
        var skus = rows.SelectMany(r => OrderRecord.Of(r).Children[lines.Name])
            .Select(l => lines.Fields.Text(l, FieldRole.Sku))
            .OfType<string>()
            .ToHashSet(StringComparer.Ordinal);
        await using var db = database.CreateDbContext();
        return await db
            .Records.Where(r =>
                r.SystemId == source && r.Kind == RecordKind.Item && r.Reference != null && skus.Contains(r.Reference) && r.GoneAt == null
            )
            .Select(r => r.Key)
            .ToListAsync(cancel);
    }

    // What is sold as a kit is split for the hub only: another store sells it under one SKU, or not at all.
    private static async Task<ILookup<string, RecordLink>> LinksAsync(
        OpenLane lane,
        Database database,
        IReadOnlyCollection<string>? listings,
        CancellationToken cancel
    )
    {
        var (source, target) = (lane.Source.System.Id, lane.Target.System.Id);
        await using var db = database.CreateDbContext();
        var withHub =
            from couple in db.Couples
            where couple.Kind == RecordKind.Item && couple.HubId == target && couple.OtherId == source
            join link in db.Links on couple.Id equals link.CoupleId
            where listings == null || listings.Contains(link.OtherKey)
            select new RecordLink
            {
                Id = link.Id,
                SourceKey = link.OtherKey,
                TargetKey = link.HubKey,
                Quantity = link.Quantity,
                IsKit = link.IsKit,
            };
        var links = await withHub.AsNoTracking().ToListAsync(cancel);
        if (links.Count == 0)
        {
            var between = (await PairBook.OpenAsync(db, RecordKind.Item, source, target, cancel)).Links(db);
            links = await between.Where(l => listings == null || listings.Contains(l.SourceKey)).ToListAsync(cancel);
        }

        return links.ToLookup(l => l.SourceKey, StringComparer.Ordinal);
    }

    private static async Task<IReadOnlyDictionary<string, string>> NamedAsync(
        OpenLane lane,
        Database database,
        IReadOnlyCollection<string>? items,
        Func<MirrorRow, string?> name,
        CancellationToken cancel
    )
    {
        var named = new Dictionary<string, string>(StringComparer.Ordinal);
        await foreach (var row in new MirrorStore(database).RowsAsync(lane.Target.System.Id, RecordKind.Item, items, cancel))
            if (name(row) is { Length: > 0 } text)
                named[row.Key] = text;
        return named;
    }
}
