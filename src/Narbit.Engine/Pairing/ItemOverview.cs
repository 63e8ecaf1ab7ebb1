using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>A listing that hangs on an item.</summary>
/// <param name="SystemId">Where it is.</param>
/// <param name="Key">Its key there.</param>
/// <param name="Sku">Its SKU there.</param>
/// <param name="Title">Its title with its option.</param>
/// <param name="Price">Its price, in the system's currency.</param>
/// <param name="PriceUnit">How the price is meant, e.g. <c>€ gross</c>.</param>
/// <param name="Quantity">The quantity that it shows.</param>
/// <param name="TakesEach">How many of the item one of the listing takes; above 1 only in kits.</param>
/// <param name="IsKit">Whether it stands for other items too.</param>
/// <param name="Published">Whether buyers can see it.</param>
/// <param name="Gone">Whether it is no longer there.</param>
/// <param name="CoupleId">The couple that links it.</param>
/// <param name="DecisionId">The decision that linked it.</param>
/// <param name="By">Who decided.</param>
/// <param name="At">When.</param>
/// <param name="Evidence">From which evidence.</param>
public sealed record ItemListing(
    string SystemId,
    string Key,
    string? Sku,
    string? Title,
    decimal? Price,
    string? PriceUnit,
    decimal? Quantity,
    decimal TakesEach,
    bool IsKit,
    bool Published,
    bool Gone,
    long CoupleId,
    long DecisionId,
    string By,
    DateTimeOffset At,
    string Evidence
);

/// <summary>An item of the hub with all that hangs on it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Sku">Its SKU.</param>
/// <param name="Title">Its title.</param>
/// <param name="Levels">Its stock by location.</param>
/// <param name="Available">On hand less allocated over all locations, at least 0.</param>
/// <param name="Promised">What all listings together could sell of it.</param>
/// <param name="Exposure">By how much they promise more than is available; 0 where they do not.</param>
/// <param name="Listings">The listings.</param>
public sealed record ItemView(
    string Key,
    string? Sku,
    string? Title,
    IReadOnlyList<StockLevel> Levels,
    decimal Available,
    decimal Promised,
    decimal Exposure,
    IReadOnlyList<ItemListing> Listings
);

/// <summary>Shows an item with its listings in every system.</summary>
/// <param name="database">Where the mirror and the pairs are.</param>
/// <param name="adapters">How systems are described.</param>
public sealed class ItemOverview(Database database, AdapterSource adapters)
{
    /// <summary>The item, or null where the hub has none with this key.</summary>
    public async Task<ItemView?> OfAsync(string key, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var hubId = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel);
        if (hubId is null)
            return null;
        var item = await db
            .Records.AsNoTracking()
            .FirstOrDefaultAsync(r => r.SystemId == hubId && r.Kind == RecordKind.Item && r.Key == key, cancel);
        if (item is null || (await adapters.ForAsync(hubId, cancel)) is not { Ok: true } hub)
            return null;

        var levelFields = hub.Value.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.StockLevel)?.Fields;
        var stored = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == hubId && r.Kind == RecordKind.StockLevel && r.Parent == key && r.GoneAt == null)
            .Select(r => r.Values)
            .ToListAsync(cancel);
        IReadOnlyList<StockLevel> levels = levelFields is null
            ? []
            : [.. stored.Select(v => levelFields.StockLevel(StoredRecord.Values(v)))];

        var links = await (
            from link in db.Links
            join couple in db.Couples on link.CoupleId equals couple.Id
            join decision in db.Decisions on link.DecisionId equals decision.Id
            where couple.HubId == hubId && couple.Kind == RecordKind.Item && link.HubKey == key
            orderby couple.OtherId, link.OtherKey
            select new
            {
                link,
                couple.OtherId,
                decision.By,
                decision.At,
                decision.Evidence,
            }
        )
            .AsNoTracking()
            .ToListAsync(cancel);
        var listings = new List<ItemListing>();
        foreach (var found in links)
        {
            if ((await adapters.ForAsync(found.OtherId, cancel)) is not { Ok: true } there)
                continue;
            var fields = there.Value.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Fields;
            var record = await db
                .Records.AsNoTracking()
                .FirstOrDefaultAsync(r => r.SystemId == found.OtherId && r.Kind == RecordKind.Item && r.Key == found.link.OtherKey, cancel);
            listings.Add(
                View(
                    record,
                    fields,
                    found.link.OtherKey,
                    found.OtherId,
                    found.link.Quantity,
                    found.link.IsKit,
                    found.link.CoupleId,
                    found.link.DecisionId,
                    found.By,
                    found.At,
                    found.Evidence
                )
            );
        }

        var available = Math.Max(0, levels.Sum(l => l.OnHand - l.Allocated));
        var promised = listings.Where(l => l is { Published: true, Gone: false }).Sum(l => Math.Max(0, l.Quantity ?? 0) * l.TakesEach);
        return new ItemView(key, item.Sku, item.Title, levels, available, promised, Math.Max(0, promised - available), listings);
    }

    private static ItemListing View(
        MirrorRecord? record,
        FieldSet fields,
        string key,
        string systemId,
        decimal each,
        bool kit,
        long coupleId,
        long decisionId,
        string by,
        DateTimeOffset at,
        string evidence
    )
    {
        var values = record is null ? new Dictionary<string, string>() : StoredRecord.Values(record.Values);
        var option = fields.Text(values, FieldRole.Option);
        var title =
            option is { Length: > 0 } && record?.Title?.Contains(option, StringComparison.OrdinalIgnoreCase) == false
                ? $"{record.Title} · {option}"
                : record?.Title;
        return new ItemListing(
            systemId,
            key,
            record?.Sku,
            title,
            fields.Number(values, FieldRole.Price, fields.RegularPrice?.List),
            fields.RegularPrice?.Unit,
            fields.Number(values, FieldRole.OnHand),
            each,
            kit,
            fields.Text(values, FieldRole.Published) != "false",
            record?.GoneAt is not null || record is null,
            coupleId,
            decisionId,
            by,
            at,
            evidence
        );
    }
}
