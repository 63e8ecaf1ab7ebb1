using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Data;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>Looks at single records under a field map, and proposes what it leaves out.</summary>
/// <param name="database">Where the mirror is.</param>
/// <param name="adapters">How systems are described.</param>
public sealed class MapLook(Database database, AdapterSource adapters)
{
    private const int SuggestFrom = 400;

    /// <summary>One record under a map, field by field; chains that do not fit are left out.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="map">The map.</param>
    /// <param name="sourceKey">The source's key; null: the first paired record.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<RecordLook>> RecordAsync(string laneId, FieldMap map, string? sourceKey, CancellationToken cancel)
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        var only = sourceKey is not null ? [sourceKey] : await FirstPairedAsync(lane, cancel);
        var everything = lane.Document.WithMap(map with { Publish = map.Publish with { New = NewRecords.All } });
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [everything], only, cancel))
            if (PlaceOf(pair) is { Presence: not (Presence.Gone or Presence.OnlyThere) })
                return new RecordLook(
                    pair.Source.Key,
                    pair.Target.Key.Length == 0 ? null : pair.Target.Key,
                    pair.Reference,
                    pair.Caption,
                    Fields(lane, map, pair)
                );
        return new Reason(
            "record.unknown",
            sourceKey is null
                ? "Nothing is paired yet; pair records first, so that there is something to look at."
                : $"Record {sourceKey} is not in the lane's scope."
        );
    }

    /// <summary>Proposals for the fields that a map leaves out.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="map">The map.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<IReadOnlyList<MapSuggestion>>> SuggestAsync(string laneId, FieldMap map, CancellationToken cancel)
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        // Evenly from all of them: the first ones are often of one sort.
        var pairs = new List<MapRecord>();
        var (seen, every) = (0, 1);
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [lane.Document.WithMap(new FieldMap())], null, cancel))
        {
            var place = PlaceOf(pair);
            if (place is not { Presence: Presence.Paired, Record.There: not null } || seen++ % every != 0)
                continue;
            pairs.Add(place.Record);
            if (pairs.Count < SuggestFrom * 2)
                continue;
            pairs = [.. pairs.Where((_, i) => i % 2 == 0)];
            every *= 2;
        }

        var mapped = map.Fields.Select(f => f.Target).ToHashSet(StringComparer.Ordinal);
        var proposed = MapSuggestions.For(lane.Sides.Map, pairs, mapped);
        return Outcome.Of<IReadOnlyList<MapSuggestion>>([
            .. proposed.Where(s => lane.Sides.Target.Named(s.Mapping.Target) is { } field && lane.Work.Computing.IsMapped(field)),
        ]);
    }

    /// <summary>A map's crosswalks by name; of two with one name the first.</summary>
    internal static Dictionary<string, Crosswalk> Crosswalks(FieldMap map) =>
        map.Crosswalks.GroupBy(c => c.Name, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);

    private static List<FieldLook> Fields(OpenLane lane, FieldMap map, LanePair pair)
    {
        var crosswalks = Crosswalks(map);
        var fields = new List<FieldLook>();
        foreach (var mapping in map.Fields)
            if (Chain.Make(mapping, "", lane.Sides.Map, crosswalks, []) is { } chain)
                fields.Add(Field(chain, mapping, pair));
        return fields;
    }

    // An item lane says how a record stands at the target; an order or a customer is there or not.
    private static ItemPlace PlaceOf(LanePair pair) =>
        (pair as PlacedItem)?.Place
        ?? new ItemPlace(
            new MapRecord(pair.Source.Values, There: pair.Target.Values, Key: pair.Source.Key),
            pair.Target.Key.Length > 0 ? Presence.Paired : Presence.New
        );

    private static FieldLook Field(Chain chain, FieldMapping mapping, LanePair pair)
    {
        var place = PlaceOf(pair);
        var trace = new List<TraceStep>();
        var result = chain.Trace(place.Record, trace);
        var there = pair.Target.Values.GetValueOrDefault(mapping.Target);
        if (place.Presence != Presence.Paired)
            return new FieldLook(mapping.Target, result.Value, there, SeamSign.MissingThere, "not there yet", result.Failure, trace);
        if (result is { Failure: null, Value: null } && there is not null && !chain.Target.CanBeEmptied)
            return new FieldLook(mapping.Target, null, there, SeamSign.Differs, "cannot be emptied there; it stays", null, trace);
        var agreed = pair.Agreed.TryGetValue(mapping.Target, out var a) ? new LastAgreed(a.Value) : null;
        var verdict = ThreeWay.Decide(chain.Target.Type, mapping, agreed, result.Value, there, place.HereAt, place.ThereAt);
        return new FieldLook(mapping.Target, result.Value, there, verdict.State, verdict.Why, result.Failure, trace);
    }

    // The one that was paired first; null where only reading them all tells what is in the lane's scope.
    private async Task<HashSet<string>?> FirstPairedAsync(OpenLane lane, CancellationToken cancel)
    {
        if (lane.Lane.SkuStartsWith is not null || lane.Lane.PublishedOnly || !lane.Work.Writing.GoesByPairs)
            return null;
        await using var db = database.CreateDbContext();
        var book = await lane.BookAsync(db, cancel);
        var (sourceId, targetId) = (lane.Source.System.Id, lane.Target.System.Id);
        var present = db.Records.Where(r => r.Kind == lane.Work.Record && r.GoneAt == null);
        var first = await book.Links(db)
            .Where(l =>
                !l.IsKit
                && present.Any(r => r.SystemId == sourceId && r.Key == l.SourceKey)
                && present.Any(r => r.SystemId == targetId && r.Key == l.TargetKey)
                && !db.KeptOff.Any(k => k.LaneId == lane.Lane.Id && k.SourceKey == l.SourceKey)
            )
            .OrderBy(l => l.Id)
            .Select(l => l.SourceKey)
            .FirstOrDefaultAsync(cancel);
        return first is null ? null : [first];
    }
}
