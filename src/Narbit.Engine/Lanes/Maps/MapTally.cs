using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>Counts what a map would do while the records go by.</summary>
internal sealed class MapTally : TrialTally
{
    private const int SampleCount = 5;

    private readonly IReadOnlyList<ReadyField> _sent;
    private readonly string? _focus;
    private readonly Chain? _edited;
    private readonly Chain? _saved;
    private readonly GuardWatch _watch;
    private readonly MapTrial _start;
    private readonly Dictionary<string, FieldEffect> _fields = new(StringComparer.Ordinal);
    private readonly IReadOnlyList<CutField> _cutting;
    private readonly Dictionary<FailureKey, FailureGroup> _failures = [];
    private readonly List<(int Order, FieldSample Sample)> _samples = [];
    private int _records;
    private int _changes;
    private int _before;
    private int _creates;
    private int _withdrawn;
    private int _back;
    private int _held;
    private int _failing;

    // Reasons that differ in their values only are counted together; each code that a crosswalk lacks is one of its own.
    private sealed record FailureKey(string Code, string? Field, string? Table, string? From)
    {
        public static FailureKey Of(Reason why) => new(why.Code, why["field"], why["table"], why["from"]);
    }

    /// <summary>A map of a lane on trial.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="map">The map.</param>
    /// <param name="guards">The guards' limits.</param>
    /// <param name="focus">The target field that is being edited, or null.</param>
    public MapTally(OpenLane lane, FieldMap map, GuardLimits guards, string? focus)
    {
        (_focus, _watch) = (focus, new GuardWatch(guards));
        _sent = ReadyMap.Make(map, lane.Sides.Map, out _)?.Fields.Where(f => ReadyMap.Sends(f.Mapping)).ToList() ?? [];
        _cutting = CutField.Of(map, lane.Sides.Map);
        _edited = Edited(map, focus, lane);
        _saved = Edited(lane.Document.Mapped!, focus, lane);
        var required = lane
            .Sides.Target.Fields.Where(f => f is { Required: true, Writable: true } && lane.Work.Computing.IsMapped(f))
            .ToList();
        _start = new MapTrial
        {
            Required = required.Count,
            RequiredMapped = required.Count(f => map.Fields.Any(m => m.Target == f.Name && ReadyMap.Sends(m))),
        };
    }

    /// <inheritdoc/>
    public override void Add(LanePair pair, Computed? saved, Computed tried)
    {
        if (saved is { IsOutOfScope: false, Changes: true, Why: null })
            _before++;
        if (tried.IsOutOfScope)
            return;
        _records++;
        var item = (PlacedItem)pair;
        if (HasSource(item))
        {
            NoteCuts(item);
            if (_edited is not null)
                Sample(item, item.Place);
        }

        if (tried.Why is { } why)
            Fail(item, why);
        else if (tried.Changes)
            Change(tried);
    }

    /// <inheritdoc/>
    public override TrialResult Result(IReadOnlyList<RuleFault> faults) =>
        _start with
        {
            Faults = faults,
            Records = _records,
            Changes = _changes,
            ChangesInForce = _before,
            Creates = _creates,
            Withdrawn = _withdrawn,
            Back = _back,
            Held = _held,
            Failing = _failing,
            Fields = [.. _fields.Values],
            Failures = [.. _failures.Values.OrderByDescending(f => f.Count)],
            Samples = [.. _samples.OrderBy(s => s.Order).Take(SampleCount).Select(s => s.Sample)],
            Tripped = _watch.Tripped(_records, _failing, null),
        };

    private static bool HasSource(PlacedItem pair) => pair.Place is { Presence: not (Presence.Gone or Presence.OnlyThere) };

    private void Change(Computed tried)
    {
        if (tried.Fields.Any(f => f is { Way: Way.Back, Changes: true }))
            _back++;
        if (tried.Act != WriteAct.End && tried.Fields.All(f => f.Way == Way.Back || !f.Changes))
            return;
        if (tried.Act == WriteAct.Create)
            _creates++;
        else if (tried.Guarded.Removes)
            _withdrawn++;
        else
            _changes++;
        if (tried.Hold is not null)
            _held++;
        else
            _watch.Look(tried.Guarded);
        foreach (var field in tried.Fields.Where(f => f is { Changes: true, Way: Way.There }))
            Count(field.Field.Name, changes: 1, failing: 0);
    }

    private void Count(string field, int changes, int failing)
    {
        var had = EffectOn(field);
        _fields[field] = had with { Changes = had.Changes + changes, Failing = had.Failing + failing };
    }

    private FieldEffect EffectOn(string field) => _fields.GetValueOrDefault(field) ?? new FieldEffect(field, 0, 0, 0, null);

    private void NoteCuts(PlacedItem pair)
    {
        foreach (var field in _cutting)
            if (field.Cuts(pair.Place.Record))
            {
                var had = EffectOn(field.Target);
                _fields[field.Target] = had with { Cut = had.Cut + 1, FirstCut = had.FirstCut ?? pair.Source.Key };
            }
    }

    private void Fail(PlacedItem pair, Reason why)
    {
        _failing++;
        var fields = FailingFields(pair);
        foreach (var name in fields)
            Count(name, changes: 0, failing: 1);
        var key = FailureKey.Of(why);
        _failures[key] = _failures.TryGetValue(key, out var had)
            ? had with
            {
                Count = had.Count + 1,
            }
            : new FailureGroup(why, 1, pair.Reference, pair.Source.Key, fields.FirstOrDefault());
    }

    // Every field that is in the way, not only the one that the computation met first.
    private string[] FailingFields(PlacedItem pair)
    {
        if (!HasSource(pair))
            return [];
        var place = pair.Place;
        var unreadable = pair.Source.Problems.Select(p => p.Field).ToList();
        // What belongs to the target since it was published is left alone.
        var looked = place.Presence == Presence.Paired ? _sent.Where(f => f.Mapping.Owner != Owner.FirstPublication) : _sent;
        return
        [
            .. looked
                .Where(f => unreadable.Exists(f.Chain.Looks.Contains) || f.Chain.Run(place.Record).Failure is not null)
                .Select(f => f.Target.Name),
        ];
    }

    private void Sample(PlacedItem pair, ItemPlace place)
    {
        var trial = _edited!.Run(place.Record);
        var now = pair.Target.Values.GetValueOrDefault(_focus!);
        var inForce = _saved?.Run(place.Record).Value;
        var order =
            trial.Failure is not null ? 0
            : trial.Value != inForce ? 1
            : !FieldComparison.Same(_edited.Target.Type, now, trial.Value) ? 2
            : 3;
        // Few of each sort are enough to choose five from.
        if (_samples.Count(s => s.Order == order) >= SampleCount)
            return;
        var source = _edited.Mapping.Source;
        var from = source.Constant ?? string.Join(" | ", (source.Fields ?? []).Select(f => place.Record.Own.GetValueOrDefault(f)));
        var sample = new FieldSample(pair.Source.Key, pair.Reference, pair.Caption, from, now, inForce, trial.Value, trial.Failure);
        _samples.Add((order, sample));
    }

    private static Chain? Edited(FieldMap map, string? focus, OpenLane lane) =>
        focus is not null && map.Fields.FirstOrDefault(f => f.Target == focus) is { } mapping
            ? Chain.Make(mapping, "", lane.Sides.Map, MapLook.Crosswalks(map), [])
            : null;
}
