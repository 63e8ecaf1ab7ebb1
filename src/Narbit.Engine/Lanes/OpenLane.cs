using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>A lane with both its systems at hand.</summary>
/// <param name="Lane">The lane.</param>
/// <param name="Rule">The version in force.</param>
/// <param name="Source">The hub.</param>
/// <param name="Target">The target.</param>
public sealed record OpenLane(Lane Lane, RuleVersion Rule, Connection Source, Connection Target)
{
    /// <summary>The hub's item fields.</summary>
    public FieldSet SourceItems => Source.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Fields;

    /// <summary>The target's item fields.</summary>
    public FieldSet TargetItems => Target.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Fields;

    /// <summary>The hub's stock level fields, or null where it has none.</summary>
    public FieldSet? SourceLevels => Source.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.StockLevel)?.Fields;

    /// <summary>Both sides, as a field map needs them.</summary>
    public MapSides Sides => new(SourceItems, TargetItems, SourceLevels);

    /// <summary>For an item lane: what a new listing costs and shows, by the other lanes to the same target.</summary>
    public (RuleVersion? Price, RuleVersion? Stock) First { get; init; }

    /// <summary>The lane's name as a person reads it.</summary>
    public string Name =>
        Lane.Kind switch
        {
            LaneKind.Item => $"Items to {Target.System.Name}",
            LaneKind.Price => $"Prices to {Target.System.Name}",
            LaneKind.Stock => $"Stock levels to {Target.System.Name}",
            _ => $"Corrections in {Target.System.Name}",
        };

    /// <summary>What the lane must read before it can compute.</summary>
    public IReadOnlyList<(string SystemId, RecordKind Kind)> Reads =>
        Lane.Kind switch
        {
            LaneKind.Item =>
            [
                (Source.System.Id, RecordKind.Item),
                .. SourceLevels is null ? [] : new[] { (Source.System.Id, RecordKind.StockLevel) },
                (Target.System.Id, RecordKind.Item),
            ],
            LaneKind.Price => [(Source.System.Id, RecordKind.Item), (Target.System.Id, RecordKind.Item)],
            LaneKind.Stock =>
            [
                (Source.System.Id, RecordKind.Item),
                (Source.System.Id, RecordKind.StockLevel),
                (Target.System.Id, RecordKind.Item),
            ],
            _ => [(Target.System.Id, RecordKind.Item)],
        };

    /// <summary>Opens a lane.</summary>
    /// <returns>The lane, or why it cannot be used.</returns>
    public static async Task<Outcome<OpenLane>> ForAsync(Database database, AdapterSource adapters, string laneId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == laneId, cancel);
        if (lane is null)
            return new Fault("lane.unknown", $"There is no lane “{laneId}”.");
        var rule = await db.RuleVersions.AsNoTracking().FirstAsync(v => v.LaneId == laneId && v.Number == lane.RuleNumber, cancel);
        var source = await adapters.ForAsync(lane.SourceId, cancel);
        if (source.Fault is { } noSource)
            return noSource;
        var target = await adapters.ForAsync(lane.TargetId, cancel);
        if (target.Fault is { } noTarget)
            return noTarget;
        var open = new OpenLane(lane, rule, source.Value, target.Value);
        if (lane.Kind == LaneKind.Item)
        {
            var others = await (
                from l in db.Lanes
                join v in db.RuleVersions on new { LaneId = l.Id, Number = l.RuleNumber } equals new { v.LaneId, v.Number }
                where l.SourceId == lane.SourceId && l.TargetId == lane.TargetId && !l.Off
                select new { l.Kind, Version = v }
            )
                .AsNoTracking()
                .ToListAsync(cancel);
            return open with
            {
                First = (others.Find(o => o.Kind == LaneKind.Price)?.Version, others.Find(o => o.Kind == LaneKind.Stock)?.Version),
            };
        }

        var leading = lane.Kind == LaneKind.Price ? FieldRole.Price : FieldRole.OnHand;
        return lane.Kind != LaneKind.Correction && open.TargetItems.Find(leading) is null
            ? new Fault(
                "lane.noField",
                $"{target.Value.System.Name} describes no field with the role {leading}; the lane has nowhere to write. Amend "
                    + $"its description under Systems."
            )
            : open;
    }

    /// <summary>The computation by a rule document.</summary>
    /// <param name="document">The rule, JSON.</param>
    /// <param name="at">The instant to compute for.</param>
    public Outcome<LaneComputation> Computation(string document, DateTimeOffset at)
    {
        if (Lane.Kind == LaneKind.Correction)
        {
            var list = RuleJson.ReadCorrections(document);
            return list.Fault is { } unreadable ? unreadable : new CorrectionComputation(list.Value, TargetItems);
        }

        if (Lane.Kind == LaneKind.Price)
            return Prices(document, at);
        if (Lane.Kind == LaneKind.Stock)
            return Quantities(document);
        var map = RuleJson.ReadMap(document);
        if (map.Fault is { } broken)
            return broken;
        if (ReadyMap.Make(map.Value, Sides, out var faults) is not { } ready)
            return new Fault(
                "map.broken",
                $"The field map no longer fits its systems, so nothing is sent: "
                    + $"{string.Join("; ", faults.Where(f => f.Severity == Severity.Refuse).Select(f => f.Message))}."
            );
        var (price, stock) = (
            First.Price is { } p && TargetItems.Find(FieldRole.Price) is not null ? Prices(p.Document, at) : default,
            First.Stock is { } s && TargetItems.Find(FieldRole.OnHand) is not null ? Quantities(s.Document) : default
        );
        return new ItemComputation(
            ready,
            SourceItems,
            Target.Adapter.Kinds.First(k => k.Kind == RecordKind.Item),
            price.ValueOrDefault,
            stock.ValueOrDefault,
            Source.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Creates
        );
    }

    private Outcome<LaneComputation> Prices(string document, DateTimeOffset at)
    {
        var rule = RuleJson.ReadPriceRule(document);
        return rule.Fault is { } fault ? fault : new PriceComputation(rule.Value, SourceItems, TargetItems, Target.System.Decimals, at);
    }

    private Outcome<LaneComputation> Quantities(string document)
    {
        var rule = RuleJson.ReadStockRule(document);
        return rule.Fault is { } fault ? fault : new StockComputation(rule.Value, SourceItems, TargetItems);
    }

    /// <summary>The target's fields that flow back into a field of the source.</summary>
    /// <param name="sourceField">The source's field.</param>
    public IEnumerable<string> Returns(string sourceField) =>
        Lane.Kind != LaneKind.Item || RuleJson.ReadMap(Rule.Document).ValueOrDefault is not { } map
            ? []
            : map.Fields.Where(f => f.Flow != Flow.ToTarget && f.Source.Fields is [var one] && one == sourceField).Select(f => f.Target);

    /// <summary>The guards' limits in force.</summary>
    public GuardLimits Guards => RuleJson.ReadGuards(Rule.Guards).ValueOrDefault ?? new GuardLimits();

    /// <summary>Every finding about a rule document: unreadable, or what its check says.</summary>
    /// <param name="document">The rule, JSON.</param>
    /// <param name="locations">The hub's locations.</param>
    public IReadOnlyList<RuleFault> Check(string document, IReadOnlyCollection<string> locations)
    {
        if (Lane.Kind == LaneKind.Correction)
            return RuleJson.ReadCorrections(document).Fault is { } wrong ? [new RuleFault("", Severity.Refuse, wrong.Message)] : [];
        if (Lane.Kind == LaneKind.Price)
        {
            var rule = RuleJson.ReadPriceRule(document);
            return rule.Fault is { } fault
                ? [new RuleFault("", Severity.Refuse, fault.Message)]
                : PriceRuleCheck.Check(rule.Value, SourceItems.PriceLists, TargetItems.PriceLists);
        }

        if (Lane.Kind == LaneKind.Item)
        {
            var map = RuleJson.ReadMap(document);
            if (map.Fault is { } torn)
                return [new RuleFault("", Severity.Refuse, torn.Message)];
            ReadyMap.Make(map.Value, Sides, out var found);
            return found;
        }

        var stock = RuleJson.ReadStockRule(document);
        return stock.Fault is { } broken
            ? [new RuleFault("", Severity.Refuse, broken.Message)]
            : StockRuleCheck.Check(stock.Value, locations);
    }

    /// <summary>Every pair of records in the lane's scope, in the order in which the target's were first read.</summary>
    /// <param name="database">Where the mirror and the pairs are.</param>
    /// <param name="documents">The rules that will be applied; what they need is read.</param>
    /// <param name="cancel">Gives up.</param>
    /// <param name="only">For an item lane: the source's records that are wanted; null: all of them.</param>
    public async IAsyncEnumerable<LanePair> PairsAsync(
        Database database,
        IReadOnlyList<string> documents,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel,
        IReadOnlySet<string>? only = null
    )
    {
        if (Lane.Kind == LaneKind.Item)
        {
            await foreach (
                var pair in ItemPairs.ReadAsync(
                    this,
                    database,
                    [.. documents.Select(d => RuleJson.ReadMap(d).ValueOrDefault).OfType<FieldMap>()],
                    only,
                    cancel
                )
            )
                yield return pair;
            yield break;
        }

        var mirror = new MirrorStore(database);
        if (Lane.Kind == LaneKind.Correction)
        {
            var corrected = RuleJson.ReadCorrections(Rule.Document).Value.Corrections.Select(c => c.Key).ToHashSet(StringComparer.Ordinal);
            await foreach (var row in mirror.RowsAsync(Target.System.Id, RecordKind.Item, cancel))
                if (corrected.Contains(row.Key))
                    yield return new LanePair(Side(row), Side(row), row.Sku, row.Title, [], null, []);
            yield break;
        }

        Dictionary<string, List<PairLink>> links;
        Dictionary<string, Agreed> agreed = [];
        HashSet<string> keptOff;
        await using (var db = database.CreateDbContext())
        {
            links = (
                await (
                    from link in db.Links.AsNoTracking()
                    join couple in db.Couples on link.CoupleId equals couple.Id
                    where couple.HubId == Source.System.Id && couple.OtherId == Target.System.Id && couple.Kind == RecordKind.Item
                    select link
                ).ToListAsync(cancel)
            )
                .GroupBy(l => l.OtherKey, StringComparer.Ordinal)
                .ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
            keptOff = [.. await db.KeptOff.Where(k => k.LaneId == Lane.Id).Select(k => k.HubKey).ToListAsync(cancel)];
            if (Lane.Kind == LaneKind.Stock)
                agreed = await db
                    .Agreed.AsNoTracking()
                    .Where(a => a.LaneId == Lane.Id)
                    .ToDictionaryAsync(a => a.TargetKey, StringComparer.Ordinal, cancel);
        }

        var wanted = links.Values.SelectMany(l => l).Select(l => l.HubKey).ToHashSet(StringComparer.Ordinal);
        var hub = new Dictionary<string, MirrorRow>(wanted.Count, StringComparer.Ordinal);
        await foreach (var row in mirror.RowsAsync(Source.System.Id, RecordKind.Item, cancel))
            if (wanted.Contains(row.Key))
                hub[row.Key] = row;
        var levels = Lane.Kind == LaneKind.Stock ? await LevelsAsync(mirror, cancel) : [];

        await foreach (var there in mirror.RowsAsync(Target.System.Id, RecordKind.Item, cancel))
        {
            if (
                !links.TryGetValue(there.Key, out var parts)
                || !hub.TryGetValue(parts[0].HubKey, out var here)
                || keptOff.Contains(parts[0].HubKey)
            )
                continue;
            // A kit has no price of its own to be computed from, and no quantity while one of its items is gone.
            if (parts[0].IsKit && (Lane.Kind == LaneKind.Price || !parts.TrueForAll(p => hub.ContainsKey(p.HubKey))))
                continue;
            if (Lane.SkuStartsWith is { Length: > 0 } start && here.Sku?.StartsWith(start, StringComparison.OrdinalIgnoreCase) != true)
                continue;
            var target = Side(there);
            if (Lane.PublishedOnly && TargetItems.Text(target.Values, FieldRole.Published) == "false")
                continue;
            var ofItem = agreed.GetValueOrDefault(there.Key);
            yield return parts[0].IsKit
                ? new LanePair(
                    Side(here),
                    target,
                    there.Sku,
                    there.Title,
                    [],
                    ofItem,
                    [.. parts.Select(p => new KitPart(p.Quantity, levels.GetValueOrDefault(p.HubKey) ?? []))]
                )
                : new LanePair(Side(here), target, here.Sku, here.Title, levels.GetValueOrDefault(here.Key) ?? [], ofItem, []);
        }
    }

    private async Task<Dictionary<string, List<StockLevel>>> LevelsAsync(MirrorStore mirror, CancellationToken cancel)
    {
        var fields = Source.Adapter.Kinds.First(k => k.Kind == RecordKind.StockLevel).Fields;
        var levels = new Dictionary<string, List<StockLevel>>(StringComparer.Ordinal);
        await foreach (var row in mirror.RowsAsync(Source.System.Id, RecordKind.StockLevel, cancel))
        {
            var values = StoredRecord.Values(row.Values);
            if (fields.Text(values, FieldRole.Item) is not { } item)
                continue;
            if (levels.TryGetValue(item, out var list))
                list.Add(fields.StockLevel(values));
            else
                levels[item] = [fields.StockLevel(values)];
        }

        return levels;
    }

    private static SideRecord Side(MirrorRow row) => new(row.Key, StoredRecord.Values(row.Values), StoredRecord.Problems(row.Problems));
}
