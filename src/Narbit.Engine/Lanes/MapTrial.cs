using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>What a map on trial does to one field.</summary>
/// <param name="Target">The target's field.</param>
/// <param name="Changes">Records in which it would change.</param>
/// <param name="Failing">Records that cannot be mapped because of it.</param>
public sealed record FieldEffect(string Target, int Changes, int Failing);

/// <summary>One record under a map on trial, seen through one field.</summary>
/// <param name="HubKey">The source's key.</param>
/// <param name="Sku">The SKU.</param>
/// <param name="Title">The title.</param>
/// <param name="Source">The source's value.</param>
/// <param name="Now">What the target has.</param>
/// <param name="InForce">What the saved map gives.</param>
/// <param name="Trial">What the map on trial gives.</param>
/// <param name="Failure">Why it gives nothing, or null.</param>
public sealed record FieldSample(
    string HubKey,
    string? Sku,
    string? Title,
    string? Source,
    string? Now,
    string? InForce,
    string? Trial,
    string? Failure
);

/// <summary>Records that cannot be mapped, for one reason.</summary>
/// <param name="Message">The reason, as the first of them says it.</param>
/// <param name="Count">How many.</param>
/// <param name="Sku">The first one's SKU.</param>
/// <param name="HubKey">The first one's key.</param>
/// <param name="Target">The first field that fails for this reason, or null where no single field is in the way.</param>
public sealed record FailureGroup(string Message, int Count, string? Sku, string HubKey, string? Target);

/// <summary>What a map would do if it were saved.</summary>
/// <param name="Faults">The findings of its check.</param>
/// <param name="Records">Records in scope.</param>
/// <param name="Changes">How many would change at the target.</param>
/// <param name="ChangesInForce">How many would by the saved map.</param>
/// <param name="Creates">How many would be created.</param>
/// <param name="Withdrawn">How many would be hidden or ended.</param>
/// <param name="Back">How many would change at the source.</param>
/// <param name="Held">How many wait for a person, because both sides changed.</param>
/// <param name="Failing">How many cannot be mapped.</param>
/// <param name="Required">How many fields the target requires of a new record.</param>
/// <param name="RequiredMapped">How many of these have a source.</param>
/// <param name="Fields">The effect on each field.</param>
/// <param name="Failures">Why records cannot be mapped, most of them first.</param>
/// <param name="Samples">Five records, seen through the field that is being edited; failing ones first, then those that change.</param>
/// <param name="Tripped">The guards that would be tripped.</param>
public sealed record MapTrialResult(
    IReadOnlyList<RuleFault> Faults,
    int Records,
    int Changes,
    int ChangesInForce,
    int Creates,
    int Withdrawn,
    int Back,
    int Held,
    int Failing,
    int Required,
    int RequiredMapped,
    IReadOnlyList<FieldEffect> Fields,
    IReadOnlyList<FailureGroup> Failures,
    IReadOnlyList<FieldSample> Samples,
    IReadOnlyList<TrippedGuard> Tripped
);

/// <summary>One field of a record, with the value after each step.</summary>
/// <param name="Target">The target's field.</param>
/// <param name="Value">What the chain gives.</param>
/// <param name="There">What the target has.</param>
/// <param name="Sign">The mark on the seam.</param>
/// <param name="Why">The verdict, in words.</param>
/// <param name="Failure">Why there is no value, or null.</param>
/// <param name="Trace">The value after each step.</param>
public sealed record FieldLook(
    string Target,
    string? Value,
    string? There,
    SeamSign Sign,
    string Why,
    string? Failure,
    IReadOnlyList<TraceStep> Trace
);

/// <summary>A record under a map, field by field.</summary>
/// <param name="HubKey">The source's key.</param>
/// <param name="TargetKey">The target's key, or null where it is not paired.</param>
/// <param name="Sku">The SKU.</param>
/// <param name="Title">The title.</param>
/// <param name="Fields">The fields whose chains fit.</param>
public sealed record RecordLook(string HubKey, string? TargetKey, string? Sku, string? Title, IReadOnlyList<FieldLook> Fields);

/// <summary>Applies a field map that is not saved to all records in scope, writing nothing.</summary>
/// <param name="database">Where the mirror is.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class MapTrial(Database database, AdapterSource adapters, TimeProvider clock)
{
    private const int SampleCount = 5;
    private const int SuggestFrom = 400;

    /// <summary>Tries a map.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="map">The map.</param>
    /// <param name="guards">The guards' limits on trial; null: those in force.</param>
    /// <param name="focus">The target field that is being edited, or null.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<MapTrialResult>> TryAsync(
        string laneId,
        FieldMap map,
        GuardLimits? guards,
        string? focus,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        var document = RuleJson.Write(map);
        ReadyMap.Make(map, lane.Sides, out var faults);
        var required = lane.TargetItems.Fields.Where(f => f is { Required: true, Writable: true } && MapSuggestions.IsMappable(f)).ToList();
        var mapped = required.Count(f => map.Fields.Any(m => m.Target == f.Name && ReadyMap.Sends(m)));
        var now = clock.GetUtcNow();
        var (trial, inForce) = (lane.Computation(document, now), lane.Computation(lane.Rule.Document, now));
        if (trial.Fault is not null)
            return new MapTrialResult(faults, 0, 0, 0, 0, 0, 0, 0, 0, required.Count, mapped, [], [], [], []);

        var sent = ((ItemComputation)trial.Value).Sent.ToList();
        var tally = new Tally(
            sent,
            focus,
            Edited(map, focus, lane),
            inForce.ValueOrDefault is null ? null : Edited(RuleJson.ReadMap(lane.Rule.Document).Value, focus, lane),
            guards ?? lane.Guards
        );
        await foreach (var pair in lane.PairsAsync(database, [document, lane.Rule.Document], cancel))
        {
            if (inForce.ValueOrDefault?.Compute(pair) is { IsOutOfScope: false, Changes: true, Cause: null })
                tally.ChangesInForce++;
            tally.Add(pair, trial.Value.Compute(pair));
        }

        return tally.Result(faults, required.Count, mapped);
    }

    /// <summary>One record under a map, field by field; chains that do not fit are left out.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="map">The map.</param>
    /// <param name="hubKey">The source's key; null: the first paired record.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<RecordLook>> LookAsync(string laneId, FieldMap map, string? hubKey, CancellationToken cancel)
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        var crosswalks = map
            .Crosswalks.GroupBy(c => c.Name, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
        var only = hubKey is not null ? [hubKey] : await FirstPairedAsync(lane, cancel);
        await foreach (
            var pair in lane.PairsAsync(
                database,
                [RuleJson.Write(map with { Publish = map.Publish with { New = NewRecords.All } })],
                cancel,
                only
            )
        )
        {
            if (pair.Item!.Presence is Presence.Gone or Presence.OnlyThere)
                continue;
            var fields = new List<FieldLook>();
            foreach (var mapping in map.Fields)
            {
                if (Chain.Make(mapping, "", lane.Sides, crosswalks, []) is not { } chain)
                    continue;
                var trace = new List<TraceStep>();
                var result = chain.Trace(pair.Item.Record, trace);
                var there = pair.Target.Values.GetValueOrDefault(mapping.Target);
                var agreed = pair.Item.Agreed.TryGetValue(mapping.Target, out var a) ? new LastAgreed(a.Value) : null;
                var verdict = ThreeWay.Decide(chain.Target.Type, mapping, agreed, result.Value, there, pair.Item.HereAt, pair.Item.ThereAt);
                fields.Add(
                    new FieldLook(
                        mapping.Target,
                        result.Value,
                        there,
                        pair.Item.Presence == Presence.Paired ? verdict.State : SeamSign.MissingThere,
                        pair.Item.Presence == Presence.Paired ? verdict.Why : "not there yet",
                        result.Failure,
                        trace
                    )
                );
            }

            return new RecordLook(pair.Source.Key, pair.Target.Key.Length == 0 ? null : pair.Target.Key, pair.Sku, pair.Title, fields);
        }

        return new Fault(
            "record.unknown",
            hubKey is null
                ? "Nothing is paired yet; pair records first, so that there is something to look at."
                : $"Record {hubKey} is not in the lane's scope."
        );
    }

    // The one that was paired first; null where only reading them all tells what is in the lane's scope.
    private async Task<HashSet<string>?> FirstPairedAsync(OpenLane lane, CancellationToken cancel)
    {
        if (lane.Lane.SkuStartsWith is not null || lane.Lane.PublishedOnly)
            return null;
        await using var db = database.CreateDbContext();
        var couples = db.Couples.Where(c =>
            c.HubId == lane.Source.System.Id && c.OtherId == lane.Target.System.Id && c.Kind == RecordKind.Item
        );
        var first = await db
            .Links.Where(l =>
                !l.IsKit
                && couples.Any(c => c.Id == l.CoupleId)
                && db.Records.Any(r =>
                    r.SystemId == lane.Source.System.Id && r.Kind == RecordKind.Item && r.Key == l.HubKey && r.GoneAt == null
                )
                && db.Records.Any(r =>
                    r.SystemId == lane.Target.System.Id && r.Kind == RecordKind.Item && r.Key == l.OtherKey && r.GoneAt == null
                )
                && !db.KeptOff.Any(k => k.LaneId == lane.Lane.Id && k.HubKey == l.HubKey)
            )
            .OrderBy(l => l.Id)
            .Select(l => l.HubKey)
            .FirstOrDefaultAsync(cancel);
        return first is null ? null : [first];
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
        // Evenly from all of them: the first ones are often of one sort.
        var pairs = new List<MapRecord>();
        var (seen, every) = (0, 1);
        await foreach (var pair in opened.Value.PairsAsync(database, [RuleJson.Write(new FieldMap())], cancel))
        {
            if (pair.Item!.Presence != Presence.Paired || seen++ % every != 0)
                continue;
            pairs.Add(pair.Item.Record);
            if (pairs.Count < SuggestFrom * 2)
                continue;
            pairs = [.. pairs.Where((_, i) => i % 2 == 0)];
            every *= 2;
        }

        return Outcome.Of(
            MapSuggestions.For(opened.Value.Sides, pairs, map.Fields.Select(f => f.Target).ToHashSet(StringComparer.Ordinal))
        );
    }

    private static Chain? Edited(FieldMap map, string? focus, OpenLane lane)
    {
        var crosswalks = map
            .Crosswalks.GroupBy(c => c.Name, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
        return focus is not null && map.Fields.FirstOrDefault(f => f.Target == focus) is { } mapping
            ? Chain.Make(mapping, "", lane.Sides, crosswalks, [])
            : null;
    }

    // The counts while the records go by.
    private sealed class Tally(IReadOnlyList<ReadyField> sent, string? focus, Chain? edited, Chain? saved, GuardLimits guards)
    {
        private readonly Dictionary<string, (int Changes, int Failing)> _fields = new(StringComparer.Ordinal);
        private readonly Dictionary<string, FailureGroup> _failures = new(StringComparer.Ordinal);
        private readonly List<(int Order, FieldSample Sample)> _samples = [];
        private readonly GuardWatch _watch = new(guards);
        private int _records,
            _changes,
            _creates,
            _withdrawn,
            _back,
            _held,
            _failing;

        public int ChangesInForce { get; set; }

        public void Add(LanePair pair, Computed computed)
        {
            if (computed.IsOutOfScope)
                return;
            _records++;
            if (edited is not null && pair.Item is { Presence: not (Presence.Gone or Presence.OnlyThere) } place)
                Sample(pair, place);
            if (computed.Cause is not null)
            {
                _failing++;
                Fail(pair, computed.Message!, FailingFields(pair));
                return;
            }

            if (!computed.Changes)
                return;
            if (computed.Fields.Any(f => f.ToSource && f.Changes))
                _back++;
            if (computed.Act != WriteAct.End && computed.Fields.All(f => f.ToSource || !f.Changes))
                return;
            if (computed.Act == WriteAct.Create)
                _creates++;
            else if (computed.Guarded.Removes)
                _withdrawn++;
            else
                _changes++;
            if (computed.Hold is not null)
                _held++;
            else
                _watch.Look(computed.Guarded);
            foreach (var field in computed.Fields.Where(f => f is { Changes: true, ToSource: false }))
                _fields[field.Field.Name] = _fields.GetValueOrDefault(field.Field.Name) is var had
                    ? (had.Changes + 1, had.Failing)
                    : default;
        }

        public MapTrialResult Result(IReadOnlyList<RuleFault> faults, int required, int mapped) =>
            new(
                faults,
                _records,
                _changes,
                ChangesInForce,
                _creates,
                _withdrawn,
                _back,
                _held,
                _failing,
                required,
                mapped,
                [.. _fields.Select(f => new FieldEffect(f.Key, f.Value.Changes, f.Value.Failing))],
                [.. _failures.Values.OrderByDescending(f => f.Count)],
                [.. _samples.OrderBy(s => s.Order).Take(SampleCount).Select(s => s.Sample)],
                _watch.Tripped(_records, _failing, null)
            );

        // Every field that is in the way, not only the one that the computation met first.
        private string[] FailingFields(LanePair pair)
        {
            if (pair.Item is not { Presence: not (Presence.Gone or Presence.OnlyThere) } place)
                return [];
            var unreadable = pair.Source.Problems.Select(p => p.Field).ToList();
            // What belongs to the target since it was published is left alone.
            var looked = place.Presence == Presence.Paired ? sent.Where(f => f.Mapping.Owner != Owner.FirstPublication) : sent;
            return
            [
                .. looked
                    .Where(f => unreadable.Exists(f.Chain.Looks.Contains) || f.Chain.Run(place.Record).Failure is not null)
                    .Select(f => f.Target.Name),
            ];
        }

        // Messages that differ in their values only are counted together.
        private void Fail(LanePair pair, string message, string[] fields)
        {
            foreach (var name in fields)
                _fields[name] = _fields.GetValueOrDefault(name) is var counts ? (counts.Changes, counts.Failing + 1) : default;
            var kind = System.Text.RegularExpressions.Regex.Replace(message, "“[^”]*”|[0-9]+", "…");
            if (kind.Contains("crosswalk", StringComparison.Ordinal))
                kind = message;
            _failures[kind] = _failures.TryGetValue(kind, out var had)
                ? had with
                {
                    Count = had.Count + 1,
                }
                : new FailureGroup(message, 1, pair.Sku, pair.Source.Key, fields.FirstOrDefault());
        }

        private void Sample(LanePair pair, ItemPlace place)
        {
            var trial = edited!.Run(place.Record);
            var now = pair.Target.Values.GetValueOrDefault(focus!);
            var (inForce, changes) = (saved?.Run(place.Record).Value, !FieldComparison.Same(edited.Target.Type, now, trial.Value));
            var order =
                trial.Failure is not null ? 0
                : trial.Value != inForce ? 1
                : changes ? 2
                : 3;
            // Few of each sort are enough to choose five from.
            if (_samples.Count(s => s.Order == order) >= SampleCount)
                return;
            var source =
                edited.Mapping.Source.Constant
                ?? string.Join(" | ", (edited.Mapping.Source.Fields ?? []).Select(f => place.Record.Own.GetValueOrDefault(f)));
            _samples.Add((order, new FieldSample(pair.Source.Key, pair.Sku, pair.Title, source, now, inForce, trial.Value, trial.Failure)));
        }
    }
}
