using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes;

/// <summary>What a work needs of the paired records beside their values.</summary>
/// <param name="Levels">Whether it looks at stock levels.</param>
/// <param name="Kits">Whether it takes kits, which have a quantity and no price.</param>
/// <param name="Beside">Levels that the source does not know of, by item; null: there are none.</param>
internal readonly record struct ListedNeeds(
    bool Levels,
    bool Kits,
    Func<CancellationToken, Task<IReadOnlyDictionary<string, StockLevel>>>? Beside = null
);

/// <summary>Reads the paired records of a lane that computes values for what both sides have.</summary>
internal static class ListedPairs
{
    /// <summary>Every pair in scope, in the order in which the target's were first read.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="database">Where the mirror and the pairs are.</param>
    /// <param name="needs">What is looked at.</param>
    /// <param name="only">The source's records that are wanted, with the kits that they are in; null: all.</param>
    /// <param name="cancel">Gives up.</param>
    public static async IAsyncEnumerable<LanePair> ReadAsync(
        OpenLane lane,
        Database database,
        ListedNeeds needs,
        IReadOnlySet<string>? only,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        var mirror = new MirrorStore(database);
        var (links, keptOff, agreed) = await KnownAsync(lane, database, only, cancel);
        var here = await SourceRowsAsync(lane, mirror, links, isSmall: only is not null, cancel);
        var items = only is null ? null : here.Keys;
        var levels = needs.Levels ? await StockLevels.ReadAsync(lane, mirror, items, cancel) : StockLevels.None;
        if (needs.Beside is { } beside)
            levels.Add(await beside(cancel));

        await foreach (var there in mirror.RowsAsync(lane.Target.System.Id, RecordKind.Item, only is null ? null : links.Keys, cancel))
        {
            if (!links.TryGetValue(there.Key, out var parts) || keptOff.Contains(parts[0].SourceKey))
                continue;
            if (!here.TryGetValue(parts[0].SourceKey, out var mine) || !lane.Takes(mine))
                continue;
            // A kit has no quantity while one of its items is gone.
            if (parts[0].IsKit && (!needs.Kits || !parts.All(p => here.ContainsKey(p.SourceKey))))
                continue;
            var target = SideRecord.Of(there);
            if (!lane.Shows(target))
                continue;
            var ofPair = agreed.Of(there.Key, mine.Key);
            yield return parts[0].IsKit
                ? new ItemPair(SideRecord.Of(mine), target, there.Reference, there.Caption)
                {
                    Agreed = ofPair,
                    Kit = [.. parts.Select(p => new KitPart(p.Quantity, levels.Of(p.SourceKey)))],
                    LevelProblem = parts.Select(p => levels.ProblemOf(p.SourceKey)).FirstOrDefault(p => p is not null),
                }
                : new ItemPair(SideRecord.Of(mine), target, mine.Reference, mine.Caption)
                {
                    Agreed = ofPair,
                    Levels = levels.Of(mine.Key),
                    LevelProblem = levels.ProblemOf(mine.Key),
                };
        }
    }

    private static async Task<(
        Dictionary<string, IReadOnlyList<RecordLink>> Links,
        HashSet<string> KeptOff,
        AgreedValues Agreed
    )> KnownAsync(OpenLane lane, Database database, IReadOnlySet<string>? only, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var book = await lane.BookAsync(db, cancel);
        var links = await book.ByTargetAsync(db, only, cancel);
        return (
            links,
            [.. await db.KeptOff.Where(k => k.LaneId == lane.Lane.Id).Select(k => k.SourceKey).ToListAsync(cancel)],
            await AgreedValues.ReadAsync(db, lane, only is null ? null : links.Keys, cancel)
        );
    }

    private static async Task<Dictionary<string, MirrorRow>> SourceRowsAsync(
        OpenLane lane,
        MirrorStore mirror,
        Dictionary<string, IReadOnlyList<RecordLink>> links,
        bool isSmall,
        CancellationToken cancel
    )
    {
        var wanted = links.Values.SelectMany(l => l).Select(l => l.SourceKey).ToHashSet(StringComparer.Ordinal);
        if (isSmall)
            return (await mirror.SomeAsync(lane.Source.System.Id, RecordKind.Item, wanted, [], cancel)).ToDictionary(r => r.Key);
        var here = new Dictionary<string, MirrorRow>(wanted.Count, StringComparer.Ordinal);
        await foreach (var row in mirror.RowsAsync(lane.Source.System.Id, RecordKind.Item, cancel))
            if (wanted.Contains(row.Key))
                here[row.Key] = row;
        return here;
    }
}

/// <summary>What the records of a lane last agreed on, by the target's record.</summary>
internal sealed class AgreedValues
{
    private static readonly IReadOnlyDictionary<string, Agreed> Nothing = new Dictionary<string, Agreed>();
    private readonly Dictionary<(string Key, string WithKey), Dictionary<string, Agreed>> _byPair;

    private AgreedValues(Dictionary<(string, string), Dictionary<string, Agreed>> byPair) => _byPair = byPair;

    /// <summary>Reads them.</summary>
    /// <param name="db">Where they are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="only">The target's records that are wanted; null: all.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<AgreedValues> ReadAsync(
        NarbitContext db,
        OpenLane lane,
        IReadOnlyCollection<string>? only,
        CancellationToken cancel
    )
    {
        var agreed = lane.AgreedThere(db).AsNoTracking();
        if (only is not null)
            agreed = agreed.Where(a => only.Contains(a.Key));
        var byPair = new Dictionary<(string, string), Dictionary<string, Agreed>>();
        await foreach (var one in agreed.AsAsyncEnumerable().WithCancellation(cancel))
        {
            if (!byPair.TryGetValue((one.Key, one.WithKey), out var fields))
                byPair[(one.Key, one.WithKey)] = fields = new Dictionary<string, Agreed>(StringComparer.Ordinal);
            fields[one.Field] = one;
        }

        return new AgreedValues(byPair);
    }

    /// <summary>What a pair agreed on, by the target's field.</summary>
    public IReadOnlyDictionary<string, Agreed> Of(string targetKey, string sourceKey) =>
        _byPair.TryGetValue((targetKey, sourceKey), out var fields) ? fields : Nothing;
}

/// <summary>A source's stock levels, by item.</summary>
internal sealed class StockLevels
{
    private readonly Dictionary<string, List<StockLevel>> _levels = new(StringComparer.Ordinal);
    private readonly Dictionary<string, List<IReadOnlyDictionary<string, string>>> _values = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> _problems = new(StringComparer.Ordinal);

    /// <summary>No levels.</summary>
    public static StockLevels None { get; } = new();

    /// <summary>Reads them; none where the source describes none.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="mirror">Where they are.</param>
    /// <param name="items">The items that are wanted; null: all.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<StockLevels> ReadAsync(
        OpenLane lane,
        MirrorStore mirror,
        IReadOnlyCollection<string>? items,
        CancellationToken cancel
    )
    {
        var levels = new StockLevels();
        if (lane.Sides.Levels is not { } fields)
            return levels;
        var source = lane.Source.System.Id;
        if (items is not null)
            foreach (var row in await mirror.SomeAsync(source, RecordKind.StockLevel, [], items, cancel))
                levels.Add(row, fields);
        else
            await foreach (var row in mirror.RowsAsync(source, RecordKind.StockLevel, cancel))
                levels.Add(row, fields);
        return levels;
    }

    private void Add(MirrorRow row, FieldSet fields)
    {
        var values = StoredRecord.Values(row.Values);
        if (fields.Text(values, FieldRole.Item) is not { } item)
            return;
        if (!_levels.TryGetValue(item, out var list))
        {
            _levels[item] = list = [];
            _values[item] = [];
        }

        if (row.Problems is { } problems)
            _problems.TryAdd(item, $"source: a stock level cannot be read: {StoredRecord.Problems(problems)[0].Message}");
        list.Add(fields.StockLevel(values));
        _values[item].Add(values);
    }

    /// <summary>Why an item's levels cannot be believed; null: they can.</summary>
    public string? ProblemOf(string item) => _problems.GetValueOrDefault(item);

    /// <summary>Adds levels that the source does not know of, by item.</summary>
    public void Add(IReadOnlyDictionary<string, StockLevel> beside)
    {
        foreach (var (item, level) in beside)
        {
            if (!_levels.TryGetValue(item, out var list))
                _levels[item] = list = [];
            list.Add(level);
        }
    }

    /// <summary>The levels of an item.</summary>
    public IReadOnlyList<StockLevel> Of(string item) => _levels.GetValueOrDefault(item) ?? [];

    /// <summary>The same as the records have them.</summary>
    public IReadOnlyList<IReadOnlyDictionary<string, string>>? ValuesOf(string item) => _values.GetValueOrDefault(item);

    /// <summary>How many pieces of an item are available over all locations.</summary>
    public decimal AvailableOf(string item) => Of(item).Sum(l => l.OnHand - l.Allocated);
}
