using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>
/// Reads what an item lane works on, in passes: what is known of the pairs, the source's records, its stock levels, the products whose
/// variants go on being sold; then the paired records, what only the target has, and what only the source has.
/// </summary>
internal sealed class ItemPairs
{
    private readonly OpenLane _lane;
    private readonly MirrorStore _mirror;
    private readonly IReadOnlyList<FieldMap> _maps;
    private readonly IReadOnlySet<string>? _only;
    private readonly Needs _needs;
    private readonly Known _known;
    private SourceRecords _here = new();
    private StockLevels _levels = StockLevels.None;
    private HashSet<string> _staying = [];

    private ItemPairs(OpenLane lane, MirrorStore mirror, IReadOnlyList<FieldMap> maps, IReadOnlySet<string>? only, Known known)
    {
        _lane = lane;
        _mirror = mirror;
        _maps = maps;
        _only = only;
        _known = known;
        _needs = Needs.Of(lane, maps, only, known);
    }

    /// <summary>Every pair of records in the lane's scope, and the records on either side that a map may create or withdraw.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="database">Where the mirror and the pairs are.</param>
    /// <param name="maps">The maps that will be applied.</param>
    /// <param name="only">The source's records that are wanted; null: all of them.</param>
    /// <param name="cancel">Gives up.</param>
    public static async IAsyncEnumerable<LanePair> ReadAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<FieldMap> maps,
        IReadOnlySet<string>? only,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        var known = await Known.ReadAsync(lane, database, maps, only, cancel);
        var pairs = new ItemPairs(lane, new MirrorStore(database), maps, only, known);
        await foreach (var pair in pairs.AllAsync(cancel))
            yield return pair;
    }

    private async IAsyncEnumerable<LanePair> AllAsync([EnumeratorCancellation] CancellationToken cancel)
    {
        _here = await SourceRecordsAsync(cancel);
        if (_needs.Levels)
            _levels = await StockLevels.ReadAsync(_lane, _mirror, null, cancel);
        if (_needs.Hides)
            _staying = await StayingAsync(cancel);

        var met = new TargetRecords();
        await foreach (var there in TargetRowsAsync(cancel))
        {
            Note(there, met);
            if (_known.Links.TryGetValue(there.Key, out var source) && Paired(there, source, met) is { } pair)
                yield return pair;
        }

        foreach (var there in met.Unlinked)
            if (met.GroupOf.TryGetValue(there.Family!, out var group))
                yield return OnlyThere(there, group);
        foreach (var mine in _here.Unpaired)
            if (_lane.Takes(mine))
                yield return New(mine, met);
    }

    // What the maps make it necessary to look at.
    private readonly record struct Needs
    {
        // New variants of the target are followed.
        public bool Follows { get; private init; }

        public bool Creates { get; private init; }

        public bool Levels { get; private init; }

        // The first record of each group.
        public bool Sisters { get; private init; }

        // Whether hiding one record may hide others.
        public bool Hides { get; private init; }

        public static Needs Of(OpenLane lane, IReadOnlyList<FieldMap> maps, IReadOnlySet<string>? only, Known known)
        {
            var sources = maps.SelectMany(m => m.Fields).Select(f => f.Source.Record).ToHashSet();
            var follows = maps.Any(m => m.Publish.NewThere == NewThere.Follow);
            var creates = known.Chosen.Count > 0 || maps.Any(m => m.Publish.New != NewRecords.Chosen);
            var outOfStock = maps.Any(m => m.Publish.WhenOutOfStock != Withdrawal.Leave);
            var filtered = maps.Any(m => m.Filters.Any(f => f.Field == MapFilter.Available));
            return new Needs
            {
                Follows = follows,
                Creates = creates,
                // One record is looked at for its values, many for what is to become of them.
                Levels = sources.Contains(SourceRecord.StockLevels) || (only is null && (filtered || creates || outOfStock)),
                Sisters = sources.Contains(SourceRecord.Parent) || lane.Sides.Target.Fields.Any(f => f.Shared) || follows,
                Hides =
                    only is null
                    && lane.Sides.Target.Find(FieldRole.Published) is { Shared: true }
                    && maps.Any(m =>
                        new[] { m.Publish.WhenGone, m.Publish.WhenHidden, m.Publish.WhenOutOfStock }.Contains(Withdrawal.Hide)
                    ),
            };
        }
    }

    // What is known of the pairs before any record is read.
    private sealed record Known(
        Dictionary<string, string> Links,
        Dictionary<string, string> TargetOf,
        HashSet<string> Chosen,
        HashSet<string> SettledThere,
        HashSet<string> KeptOff,
        AgreedValues Agreed
    )
    {
        public static async Task<Known> ReadAsync(
            OpenLane lane,
            Database database,
            IReadOnlyList<FieldMap> maps,
            IReadOnlySet<string>? only,
            CancellationToken cancel
        )
        {
            await using var db = database.CreateDbContext();
            var book = await lane.BookAsync(db, cancel);
            var refers = maps.SelectMany(m => m.Fields).SelectMany(f => f.Steps).Any(s => s.Do == "paired");
            // A kit is no item: its listing is written by hand.
            var byTarget = await book.ByTargetAsync(db, refers ? null : only, cancel);
            var all = byTarget.Values.Where(l => !l[0].IsKit).Select(l => l[0]).ToList();
            var links = all.Where(l => only?.Contains(l.SourceKey) != false)
                .ToDictionary(l => l.TargetKey, l => l.SourceKey, StringComparer.Ordinal);
            return new Known(
                links,
                // What a record refers to may be any other.
                refers
                    ? all.GroupBy(l => l.SourceKey, StringComparer.Ordinal)
                        .ToDictionary(g => g.Key, g => g.First().TargetKey, StringComparer.Ordinal)
                    : [],
                await book.ToCreateAsync(db, cancel),
                await book.SettledThereAsync(db, cancel),
                [.. await db.KeptOff.Where(k => k.LaneId == lane.Lane.Id).Select(k => k.SourceKey).ToListAsync(cancel)],
                await AgreedValues.ReadAsync(db, lane, only is null ? null : links.Keys, cancel)
            );
        }
    }

    // The source's records: those that are paired, those that are not, and the first of each group.
    private sealed class SourceRecords
    {
        public Dictionary<string, MirrorRow> Paired { get; } = new(StringComparer.Ordinal);

        public List<MirrorRow> Unpaired { get; } = [];

        public Dictionary<string, SideRecord> FirstOfGroup { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, string> BySku { get; } = new(StringComparer.Ordinal);
    }

    // What was met at the target on the way.
    private sealed class TargetRecords
    {
        public Dictionary<string, string> BySku { get; } = new(StringComparer.Ordinal);

        // Variants that nobody has decided about.
        public List<MirrorRow> Unlinked { get; } = [];

        // Groups of the source that have a product or a group at the target, and the other way round.
        public Dictionary<string, string> ProductOf { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, string> SameGroup { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, string> GroupOf { get; } = new(StringComparer.Ordinal);

        public HashSet<string> Groups { get; } = new(StringComparer.Ordinal);
    }

    private async Task<SourceRecords> SourceRecordsAsync(CancellationToken cancel)
    {
        var here = new SourceRecords();
        var wanted = _known.Links.Values.ToHashSet(StringComparer.Ordinal);
        await foreach (var row in SourceRowsAsync(cancel))
        {
            if (_needs.Follows && SkuForm.Of(row.Reference) is { } form)
                here.BySku.TryAdd(form, row.Key);
            if (wanted.Contains(row.Key))
                here.Paired[row.Key] = row;
            else if (_needs.Creates && !_known.KeptOff.Contains(row.Key) && _only?.Contains(row.Key) != false)
                here.Unpaired.Add(row);
            if (_needs.Sisters && row.Family is { } group && !here.FirstOfGroup.ContainsKey(group))
                here.FirstOfGroup[group] = SideRecord.Of(row);
        }

        return here;
    }

    // The first of a group may be none of those that are wanted.
    private async IAsyncEnumerable<MirrorRow> SourceRowsAsync([EnumeratorCancellation] CancellationToken cancel)
    {
        var system = _lane.Source.System.Id;
        if (_only is null)
        {
            await foreach (var row in _mirror.RowsAsync(system, _lane.Work.Record, cancel))
                yield return row;
            yield break;
        }

        var wanted = await _mirror.SomeAsync(system, _lane.Work.Record, _only, [], cancel);
        var families = wanted.Select(r => r.Family).OfType<string>().Distinct(StringComparer.Ordinal);
        foreach (var row in await _mirror.SomeAsync(system, _lane.Work.Record, _only, families, cancel))
            yield return row;
    }

    private async IAsyncEnumerable<MirrorRow> TargetRowsAsync([EnumeratorCancellation] CancellationToken cancel)
    {
        var system = _lane.Target.System.Id;
        if (_only is null)
        {
            await foreach (var row in _mirror.RowsAsync(system, _lane.Work.Record, cancel))
                yield return row;
            yield break;
        }

        foreach (var row in await _mirror.SomeAsync(system, _lane.Work.Record, _known.Links.Keys, [], cancel))
            yield return row;
    }

    // Where buyers see a product or see it not, hiding one variant hides its sisters: the products that have some which stay.
    private async Task<HashSet<string>> StayingAsync(CancellationToken cancel)
    {
        var staying = new HashSet<string>(StringComparer.Ordinal);
        await foreach (var there in _mirror.RowsAsync(_lane.Target.System.Id, _lane.Work.Record, cancel))
            if (
                there.Parent is { } product
                && !staying.Contains(product)
                && _known.Links.TryGetValue(there.Key, out var source)
                && _here.Paired.TryGetValue(source, out var mine)
                && Stays(mine)
            )
                staying.Add(product);
        return staying;
    }

    private bool Stays(MirrorRow mine)
    {
        var fields = _lane.Sides.Source;
        var values = StoredRecord.Values(mine.Values);
        if (fields.Text(values, FieldRole.Published) == "false")
            return false;
        return _maps.All(m => m.Publish.WhenOutOfStock == Withdrawal.Leave)
            || fields.Text(values, FieldRole.Tracked) == "false"
            || _levels.AvailableOf(mine.Key) > 0;
    }

    private void Note(MirrorRow there, TargetRecords met)
    {
        if (_needs.Creates && SkuForm.Of(there.Reference) is { } form)
            met.BySku.TryAdd(form, there.Key);
        if (_needs.Follows && there.Family is not null && IsUndecided(there.Key))
            met.Unlinked.Add(there);
    }

    private bool IsUndecided(string targetKey) => !_known.Links.ContainsKey(targetKey) && !_known.SettledThere.Contains(targetKey);

    private PlacedItem? Paired(MirrorRow there, string source, TargetRecords met)
    {
        if (_known.KeptOff.Contains(source))
            return null;
        var sistersStay = there.Parent is { } product && _staying.Contains(product);
        if (!_here.Paired.TryGetValue(source, out var mine))
            return Gone(there, source, sistersStay);
        if (mine.Family is { } group)
            NoteGroup(group, there, met);
        if (!_lane.Takes(mine))
            return null;
        var target = SideRecord.Of(there);
        if (!_lane.Shows(target))
            return null;
        var own = SideRecord.Of(mine);
        return new PlacedItem(own, target, mine.Reference, mine.Caption)
        {
            Agreed = _known.Agreed.Of(there.Key, mine.Key),
            Levels = _levels.Of(mine.Key),
            Place = new ItemPlace(Around(mine, own.Values, target.Values), Presence.Paired)
            {
                HereAt = mine.ChangedAt,
                ThereAt = there.ChangedAt,
                SistersStay = sistersStay,
            },
        };
    }

    private PlacedItem Gone(MirrorRow there, string source, bool sistersStay) =>
        new(SideRecord.None with { Key = source }, SideRecord.Of(there), there.Reference, there.Caption)
        {
            Agreed = _known.Agreed.Of(there.Key, source),
            Place = new ItemPlace(new MapRecord(SideRecord.None.Values), Presence.Gone)
            {
                ThereAt = there.ChangedAt,
                SistersStay = sistersStay,
            },
        };

    private static void NoteGroup(string group, MirrorRow there, TargetRecords met)
    {
        met.Groups.Add(group);
        if (there.Family is not { } family)
            return;
        met.GroupOf.TryAdd(family, group);
        if (there.Parent is { } product)
            met.ProductOf.TryAdd(group, product);
        if (there.Group is { } same)
            met.SameGroup.TryAdd(group, same);
    }

    private PlacedItem OnlyThere(MirrorRow there, string group)
    {
        var sister = _here.FirstOfGroup.GetValueOrDefault(group);
        var record = new MapRecord(SideRecord.None.Values, sister?.Values, StoredRecord.Values(there.Values), ParentKey: sister?.Key);
        return new PlacedItem(SideRecord.None, SideRecord.Of(there), there.Reference, there.Caption)
        {
            Place = new ItemPlace(record, Presence.OnlyThere)
            {
                ThereAt = there.ChangedAt,
                Group = group,
                WithSku = sku => SkuForm.Of(sku) is { } form ? _here.BySku.GetValueOrDefault(form) : null,
            },
        };
    }

    private PlacedItem New(MirrorRow mine, TargetRecords met)
    {
        var own = SideRecord.Of(mine);
        var presence =
            _known.Chosen.Contains(mine.Key) ? Presence.Chosen
            : mine.Family is { } group && met.Groups.Contains(group) ? Presence.SisterThere
            : Presence.New;
        return new PlacedItem(own, SideRecord.None, mine.Reference, mine.Caption)
        {
            Levels = _levels.Of(mine.Key),
            Place = new ItemPlace(Around(mine, own.Values, null), presence)
            {
                HereAt = mine.ChangedAt,
                Parent = mine.Family is { } family ? met.ProductOf.GetValueOrDefault(family) : null,
                Group = mine.Family is { } shared ? met.SameGroup.GetValueOrDefault(shared, shared) : null,
                WithSku = sku => SkuForm.Of(sku) is { } form ? met.BySku.GetValueOrDefault(form) : null,
            },
        };
    }

    // The record and what stands around it, as chains look at it.
    private MapRecord Around(MirrorRow mine, IReadOnlyDictionary<string, string> own, IReadOnlyDictionary<string, string>? there)
    {
        var first = _needs.Sisters && mine.Family is { } group ? _here.FirstOfGroup.GetValueOrDefault(group) : null;
        if (first?.Key == mine.Key)
            first = null;
        return new MapRecord(
            own,
            first?.Values,
            there,
            _levels.ValuesOf(mine.Key),
            _known.TargetOf.Count > 0 ? _known.TargetOf.GetValueOrDefault : null,
            mine.Key,
            first?.Key
        );
    }
}
