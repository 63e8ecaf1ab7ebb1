using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes;

/// <summary>Reads what an item lane works on: the paired records first, then those of the source that have no listing.</summary>
internal static class ItemPairs
{
    private static readonly SideRecord Nobody = new("", new Dictionary<string, string>(), []);
    private static readonly IReadOnlyDictionary<string, Agreed> NothingAgreed = new Dictionary<string, Agreed>();

    public static async IAsyncEnumerable<LanePair> ReadAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<FieldMap> maps,
        IReadOnlySet<string>? only,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel
    )
    {
        var (hubId, otherId) = (lane.Source.System.Id, lane.Target.System.Id);
        var mirror = new MirrorStore(database);
        var needsPaired = maps.SelectMany(m => m.Fields).SelectMany(f => f.Steps).Any(s => s.Do == "paired");
        Dictionary<string, string> links,
            thereOf = [];
        HashSet<string> chosen,
            keptOff,
            decided = [];
        Dictionary<string, Dictionary<string, Agreed>> agreed;
        await using (var db = database.CreateDbContext())
        {
            var coupleId =
                await db
                    .Couples.Where(c => c.HubId == hubId && c.OtherId == otherId && c.Kind == RecordKind.Item)
                    .Select(c => (long?)c.Id)
                    .FirstOrDefaultAsync(cancel)
                ?? -1;
            // A kit is no item: its listing is written by hand.
            var linked = db.Links.Where(l => l.CoupleId == coupleId && !l.IsKit);
            // What a record refers to may be any other.
            if (needsPaired)
                thereOf = (await linked.Select(l => new { l.OtherKey, l.HubKey }).ToListAsync(cancel))
                    .GroupBy(l => l.HubKey, StringComparer.Ordinal)
                    .ToDictionary(g => g.Key, g => g.First().OtherKey, StringComparer.Ordinal);
            if (only is not null)
                linked = linked.Where(l => only.Contains(l.HubKey));
            links = await linked
                .Select(l => new { l.OtherKey, l.HubKey })
                .ToDictionaryAsync(l => l.OtherKey, l => l.HubKey, StringComparer.Ordinal, cancel);
            chosen =
            [
                .. await db
                    .SetAsides.Where(a => a.CoupleId == coupleId && a.ToCreate && a.HubKey != null)
                    .Select(a => a.HubKey!)
                    .ToListAsync(cancel),
            ];
            // Kits, and what somebody set aside, is no new variant.
            decided =
            [
                .. await db.Links.Where(l => l.CoupleId == coupleId && l.IsKit).Select(l => l.OtherKey).ToListAsync(cancel),
                .. await db.SetAsides.Where(a => a.CoupleId == coupleId && a.OtherKey != null).Select(a => a.OtherKey!).ToListAsync(cancel),
            ];
            keptOff = [.. await db.KeptOff.Where(k => k.LaneId == lane.Lane.Id).Select(k => k.HubKey).ToListAsync(cancel)];
            var agrees = db.Agreed.AsNoTracking().Where(a => a.LaneId == lane.Lane.Id);
            if (only is not null)
                agrees = agrees.Where(a => links.Keys.Contains(a.TargetKey));
            agreed = (await agrees.ToListAsync(cancel))
                .GroupBy(a => a.TargetKey, StringComparer.Ordinal)
                .ToDictionary(g => g.Key, g => g.ToDictionary(a => a.Field, StringComparer.Ordinal), StringComparer.Ordinal);
        }

        var follows = maps.Any(m => m.Publish.NewThere == NewThere.Follow);
        var creates = chosen.Count > 0 || maps.Any(m => m.Publish.New != NewRecords.Chosen);
        var sources = maps.SelectMany(m => m.Fields).Select(f => f.Source.Record).ToHashSet();
        // One record is looked at for its values, many for what is to become of them.
        var needsLevels = sources.Contains(SourceRecord.StockLevels) || (only is null && Weighs());
        bool Weighs() =>
            maps.Any(m => m.Filters.Any(f => f.Field == MapFilter.Available))
            || creates
            || maps.Any(m => m.Publish.WhenOutOfStock != Withdrawal.Leave);
        var needsParents = sources.Contains(SourceRecord.Parent) || lane.TargetItems.Fields.Any(f => f.Shared) || follows;
        var hides =
            only is null
            && maps.Any(m =>
                m.Publish.WhenGone == Withdrawal.Hide
                || m.Publish.WhenHidden == Withdrawal.Hide
                || m.Publish.WhenOutOfStock == Withdrawal.Hide
            )
            && lane.TargetItems.Find(FieldRole.Published) is { Shared: true };

        var wanted = links.Values.ToHashSet(StringComparer.Ordinal);
        var here = new Dictionary<string, MirrorRow>(wanted.Count, StringComparer.Ordinal);
        var unpaired = new List<MirrorRow>();
        var firstOfGroup = new Dictionary<string, SideRecord>(StringComparer.Ordinal);
        var skusHere = new Dictionary<string, string>(StringComparer.Ordinal);
        await foreach (
            var row in only is null ? mirror.RowsAsync(hubId, RecordKind.Item, cancel) : WithSistersAsync(mirror, hubId, only, cancel)
        )
        {
            if (follows && SkuForm.Of(row.Sku) is { } form)
                skusHere.TryAdd(form, row.Key);
            if (wanted.Contains(row.Key))
                here[row.Key] = row;
            else if (creates && !keptOff.Contains(row.Key) && only?.Contains(row.Key) != false)
                unpaired.Add(row);
            if (needsParents && row.Parent is { } group && !firstOfGroup.ContainsKey(group))
                firstOfGroup[group] = Side(row);
        }

        var (levels, raw) = needsLevels ? await LevelsAsync(lane, mirror, cancel) : ([], []);
        var parentOfGroup = new Dictionary<string, string>(StringComparer.Ordinal);
        var skusThere = new Dictionary<string, string>(StringComparer.Ordinal);
        var seenGroups = new HashSet<string>(StringComparer.Ordinal);

        var onlyThere = new List<MirrorRow>();
        var groupOfParent = new Dictionary<string, string>(StringComparer.Ordinal);

        // Where buyers see a product or see it not, hiding one variant hides its sisters.
        var staying = new HashSet<string>(StringComparer.Ordinal);
        if (hides)
        {
            await foreach (var there in mirror.RowsAsync(otherId, RecordKind.Item, cancel))
            {
                if (
                    there.Parent is { } parent
                    && !staying.Contains(parent)
                    && links.TryGetValue(there.Key, out var hubKey)
                    && here.TryGetValue(hubKey, out var mine)
                    && Stays(mine)
                )
                    staying.Add(parent);
            }
        }

        await foreach (
            var there in only is null
                ? mirror.RowsAsync(otherId, RecordKind.Item, cancel)
                : (await mirror.SomeAsync(otherId, RecordKind.Item, links.Keys, [], cancel)).ToAsyncEnumerable()
        )
        {
            if (creates && SkuForm.Of(there.Sku) is { } form)
                skusThere.TryAdd(form, there.Key);
            if (follows && !links.ContainsKey(there.Key) && there.Parent is not null && !decided.Contains(there.Key))
                onlyThere.Add(there);
            if (!links.TryGetValue(there.Key, out var hubKey) || keptOff.Contains(hubKey))
                continue;
            if (!here.TryGetValue(hubKey, out var mine))
            {
                yield return new LanePair(Nobody with { Key = hubKey }, Side(there), there.Sku, there.Title, [], null, [])
                {
                    Item = new ItemPlace(
                        new MapRecord(Nobody.Values),
                        agreed.GetValueOrDefault(there.Key) ?? NothingAgreed,
                        null,
                        there.ChangedAt,
                        Presence.Gone
                    )
                    {
                        SistersStay = there.Parent is { } orphan && staying.Contains(orphan),
                    },
                };
                continue;
            }

            if (mine.Parent is { } group)
            {
                seenGroups.Add(group);
                if (there.Parent is { } parent)
                {
                    parentOfGroup.TryAdd(group, parent);
                    groupOfParent.TryAdd(parent, group);
                }
            }

            if (!InScope(lane, mine))
                continue;
            var target = Side(there);
            if (lane.Lane.PublishedOnly && lane.TargetItems.Text(target.Values, FieldRole.Published) == "false")
                continue;
            var source = Side(mine);
            yield return new LanePair(source, target, mine.Sku, mine.Title, levels.GetValueOrDefault(mine.Key) ?? [], null, [])
            {
                Item = new ItemPlace(
                    Record(mine, source.Values, target.Values),
                    agreed.GetValueOrDefault(there.Key) ?? NothingAgreed,
                    mine.ChangedAt,
                    there.ChangedAt,
                    Presence.Paired
                )
                {
                    SistersStay = there.Parent is { } product && staying.Contains(product),
                },
            };
        }

        foreach (var there in onlyThere)
        {
            if (!groupOfParent.TryGetValue(there.Parent!, out var group))
                continue;
            var sister = firstOfGroup.GetValueOrDefault(group);
            yield return new LanePair(Nobody, Side(there), there.Sku, there.Title, [], null, [])
            {
                Item = new ItemPlace(
                    new MapRecord(Nobody.Values, sister?.Values, StoredRecord.Values(there.Values), ParentKey: sister?.Key),
                    NothingAgreed,
                    null,
                    there.ChangedAt,
                    Presence.OnlyThere,
                    Group: group,
                    WithSku: sku => SkuForm.Of(sku) is { } form ? skusHere.GetValueOrDefault(form) : null
                ),
            };
        }

        foreach (var mine in unpaired)
        {
            if (!InScope(lane, mine))
                continue;
            var source = Side(mine);
            var presence =
                chosen.Contains(mine.Key) ? Presence.Chosen
                : mine.Parent is { } group && seenGroups.Contains(group) ? Presence.SisterThere
                : Presence.New;
            yield return new LanePair(source, Nobody, mine.Sku, mine.Title, levels.GetValueOrDefault(mine.Key) ?? [], null, [])
            {
                Item = new ItemPlace(
                    Record(mine, source.Values, null),
                    NothingAgreed,
                    mine.ChangedAt,
                    null,
                    presence,
                    mine.Parent is { } p ? parentOfGroup.GetValueOrDefault(p) : null,
                    mine.Parent,
                    sku => SkuForm.Of(sku) is { } form ? skusThere.GetValueOrDefault(form) : null
                ),
            };
        }

        bool Stays(MirrorRow mine)
        {
            var values = StoredRecord.Values(mine.Values);
            return lane.SourceItems.Text(values, FieldRole.Published) != "false"
                && (
                    maps.All(m => m.Publish.WhenOutOfStock == Withdrawal.Leave)
                    || lane.SourceItems.Text(values, FieldRole.Tracked) == "false"
                    || (levels.GetValueOrDefault(mine.Key) ?? []).Sum(l => l.OnHand - l.Allocated) > 0
                );
        }

        MapRecord Record(MirrorRow mine, IReadOnlyDictionary<string, string> own, IReadOnlyDictionary<string, string>? there)
        {
            var first =
                needsParents && mine.Parent is { } group && firstOfGroup.GetValueOrDefault(group) is { } of && of.Key != mine.Key
                    ? of
                    : null;
            return new MapRecord(
                own,
                first?.Values,
                there,
                raw.GetValueOrDefault(mine.Key),
                needsPaired ? thereOf.GetValueOrDefault : null,
                mine.Key,
                first?.Key
            );
        }
    }

    // The first of a group may be none of those that are wanted.
    private static async IAsyncEnumerable<MirrorRow> WithSistersAsync(
        MirrorStore mirror,
        string systemId,
        IReadOnlySet<string> keys,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel
    )
    {
        var wanted = await mirror.SomeAsync(systemId, RecordKind.Item, keys, [], cancel);
        foreach (
            var row in await mirror.SomeAsync(
                systemId,
                RecordKind.Item,
                keys,
                wanted.Select(r => r.Parent).OfType<string>().Distinct(StringComparer.Ordinal),
                cancel
            )
        )
            yield return row;
    }

    private static bool InScope(OpenLane lane, MirrorRow mine) =>
        lane.Lane.SkuStartsWith is not { Length: > 0 } start || mine.Sku?.StartsWith(start, StringComparison.OrdinalIgnoreCase) == true;

    private static SideRecord Side(MirrorRow row) => new(row.Key, StoredRecord.Values(row.Values), StoredRecord.Problems(row.Problems));

    private static async Task<(
        Dictionary<string, List<StockLevel>> Levels,
        Dictionary<string, List<IReadOnlyDictionary<string, string>>> Raw
    )> LevelsAsync(OpenLane lane, MirrorStore mirror, CancellationToken cancel)
    {
        var (levels, raw) = (
            new Dictionary<string, List<StockLevel>>(StringComparer.Ordinal),
            new Dictionary<string, List<IReadOnlyDictionary<string, string>>>(StringComparer.Ordinal)
        );
        if (lane.SourceLevels is not { } fields)
            return (levels, raw);
        await foreach (var row in mirror.RowsAsync(lane.Source.System.Id, RecordKind.StockLevel, cancel))
        {
            var values = StoredRecord.Values(row.Values);
            if (fields.Text(values, FieldRole.Item) is not { } item)
                continue;
            if (!levels.TryGetValue(item, out var list))
                (levels[item], raw[item]) = (list = [], []);
            list.Add(fields.StockLevel(values));
            raw[item].Add(values);
        }

        return (levels, raw);
    }
}
