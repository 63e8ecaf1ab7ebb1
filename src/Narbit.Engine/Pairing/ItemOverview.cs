using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

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
        return new ItemView(key, item.Reference, item.Caption, levels, available, promised, Math.Max(0, promised - available), listings);
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
            option is { Length: > 0 } && record?.Caption?.Contains(option, StringComparison.OrdinalIgnoreCase) == false
                ? $"{record.Caption} · {option}"
                : record?.Caption;
        return new ItemListing
        {
            SystemId = systemId,
            Key = key,
            Sku = record?.Reference,
            Title = title,
            Price = fields.Number(values, FieldRole.Price, fields.RegularPrice?.List),
            PriceUnit = fields.RegularPrice?.Unit,
            Quantity = fields.Number(values, FieldRole.OnHand),
            TakesEach = each,
            IsKit = kit,
            Published = fields.Text(values, FieldRole.Published) != "false",
            Gone = record?.GoneAt is not null || record is null,
            CoupleId = coupleId,
            DecisionId = decisionId,
            By = by,
            At = at,
            Evidence = evidence,
        };
    }
}
