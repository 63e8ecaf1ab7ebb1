using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
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

    /// <summary>The lane's name as a person reads it.</summary>
    public string Name => Lane.Kind switch { LaneKind.Price => $"Prices to {Target.System.Name}", LaneKind.Stock => $"Stock levels to {Target.System.Name}", _ => $"Corrections in {Target.System.Name}" };

    /// <summary>What the lane must read before it can compute.</summary>
    public IReadOnlyList<(string SystemId, RecordKind Kind)> Reads => Lane.Kind switch
    {
        LaneKind.Price => [(Source.System.Id, RecordKind.Item), (Target.System.Id, RecordKind.Item)],
        LaneKind.Stock => [(Source.System.Id, RecordKind.Item), (Source.System.Id, RecordKind.StockLevel), (Target.System.Id, RecordKind.Item)],
        _ => [(Target.System.Id, RecordKind.Item)],
    };

    /// <summary>Opens a lane.</summary>
    /// <returns>The lane, or why it cannot be used.</returns>
    public static async Task<Outcome<OpenLane>> ForAsync(Database database, AdapterSource adapters, string laneId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == laneId, cancel);
        if (lane is null) return new Fault("lane.unknown", $"There is no lane “{laneId}”.");
        var rule = await db.RuleVersions.AsNoTracking().FirstAsync(v => v.LaneId == laneId && v.Number == lane.RuleNumber, cancel);
        var source = await adapters.ForAsync(lane.SourceId, cancel);
        if (source.Fault is { } noSource) return noSource;
        var target = await adapters.ForAsync(lane.TargetId, cancel);
        if (target.Fault is { } noTarget) return noTarget;
        var open = new OpenLane(lane, rule, source.Value, target.Value);
        var leading = lane.Kind == LaneKind.Price ? FieldRole.Price : FieldRole.OnHand;
        return lane.Kind != LaneKind.Correction && open.TargetItems.Find(leading) is null
            ? new Fault("lane.noField", $"{target.Value.System.Name} describes no field with the role {leading}; the lane has nowhere to write. Amend its description under Systems.")
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
        {
            var rule = RuleJson.ReadPriceRule(document);
            return rule.Fault is { } fault ? fault : new PriceComputation(rule.Value, SourceItems, TargetItems, Target.System.Decimals, at);
        }

        var stock = RuleJson.ReadStockRule(document);
        return stock.Fault is { } broken ? broken : new StockComputation(stock.Value, SourceItems, TargetItems);
    }

    /// <summary>Every finding about a rule document: unreadable, or what its check says.</summary>
    /// <param name="document">The rule, JSON.</param>
    /// <param name="locations">The hub's locations.</param>
    public IReadOnlyList<RuleFault> Check(string document, IReadOnlyCollection<string> locations)
    {
        if (Lane.Kind == LaneKind.Correction) return RuleJson.ReadCorrections(document).Fault is { } wrong ? [new RuleFault("", Severity.Refuse, wrong.Message)] : [];
        if (Lane.Kind == LaneKind.Price)
        {
            var rule = RuleJson.ReadPriceRule(document);
            return rule.Fault is { } fault ? [new RuleFault("", Severity.Refuse, fault.Message)] : PriceRuleCheck.Check(rule.Value, SourceItems.PriceLists.ToList());
        }

        var stock = RuleJson.ReadStockRule(document);
        return stock.Fault is { } broken ? [new RuleFault("", Severity.Refuse, broken.Message)] : StockRuleCheck.Check(stock.Value, locations);
    }

    /// <summary>Every pair of records in the lane's scope, in the order in which the target's were first read.</summary>
    /// <param name="database">Where the mirror and the pairs are.</param>
    /// <param name="cancel">Gives up.</param>
    public async IAsyncEnumerable<LanePair> PairsAsync(Database database, [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel)
    {
        var mirror = new MirrorStore(database);
        if (Lane.Kind == LaneKind.Correction)
        {
            var corrected = RuleJson.ReadCorrections(Rule.Document).Value.Corrections.Select(c => c.Key).ToHashSet(StringComparer.Ordinal);
            await foreach (var row in mirror.RowsAsync(Target.System.Id, RecordKind.Item, cancel))
                if (corrected.Contains(row.Key)) yield return new LanePair(Side(row), Side(row), row.Sku, row.Title, [], null, []);
            yield break;
        }

        Dictionary<string, List<PairLink>> links;
        Dictionary<string, Agreed> agreed = [];
        await using (var db = database.CreateDbContext())
        {
            links = (await (from link in db.Links.AsNoTracking()
                            join couple in db.Couples on link.CoupleId equals couple.Id
                            where couple.HubId == Source.System.Id && couple.OtherId == Target.System.Id && couple.Kind == RecordKind.Item
                            select link).ToListAsync(cancel)).GroupBy(l => l.OtherKey, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
            if (Lane.Kind == LaneKind.Stock)
                agreed = await db.Agreed.AsNoTracking().Where(a => a.LaneId == Lane.Id).ToDictionaryAsync(a => a.TargetKey, StringComparer.Ordinal, cancel);
        }

        var wanted = links.Values.SelectMany(l => l).Select(l => l.HubKey).ToHashSet(StringComparer.Ordinal);
        var hub = new Dictionary<string, MirrorRow>(wanted.Count, StringComparer.Ordinal);
        await foreach (var row in mirror.RowsAsync(Source.System.Id, RecordKind.Item, cancel))
            if (wanted.Contains(row.Key)) hub[row.Key] = row;
        var levels = Lane.Kind == LaneKind.Stock ? await LevelsAsync(mirror, cancel) : [];

        await foreach (var there in mirror.RowsAsync(Target.System.Id, RecordKind.Item, cancel))
        {
            if (!links.TryGetValue(there.Key, out var parts) || !hub.TryGetValue(parts[0].HubKey, out var here)) continue;
            // A kit has no price of its own to be computed from, and no quantity while one of its items is gone.
            if (parts[0].IsKit && (Lane.Kind == LaneKind.Price || !parts.TrueForAll(p => hub.ContainsKey(p.HubKey)))) continue;
            if (Lane.SkuStartsWith is { Length: > 0 } start && here.Sku?.StartsWith(start, StringComparison.OrdinalIgnoreCase) != true) continue;
            var target = Side(there);
            if (Lane.PublishedOnly && TargetItems.Text(target.Values, FieldRole.Published) == "false") continue;
            var ofItem = agreed.GetValueOrDefault(there.Key);
            yield return parts[0].IsKit
                ? new LanePair(Side(here), target, there.Sku, there.Title, [], ofItem, [.. parts.Select(p => new KitPart(p.Quantity, levels.GetValueOrDefault(p.HubKey) ?? []))])
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
            if (fields.Text(values, FieldRole.Item) is not { } item) continue;
            if (levels.TryGetValue(item, out var list)) list.Add(fields.StockLevel(values));
            else levels[item] = [fields.StockLevel(values)];
        }

        return levels;
    }

    private static SideRecord Side(MirrorRow row) => new(row.Key, StoredRecord.Values(row.Values), StoredRecord.Problems(row.Problems));
}
