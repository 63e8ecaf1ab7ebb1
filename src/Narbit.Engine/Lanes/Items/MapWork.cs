using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;

namespace Narbit.Engine.Lanes.Items;

/// <summary>Records that are paired and written field by field, by a field map.</summary>
public abstract class MapWork : LaneWork
{
    /// <inheritdoc/>
    public override string Part => "map";

    /// <inheritdoc/>
    public override IReadOnlyList<LaneStep> Steps { get; } =
    [
        LaneStep.Scope,
        LaneStep.Pairs,
        new("map", "Field map"),
        new("crosswalks", "Crosswalks"),
        LaneStep.Guards,
        LaneStep.Preview,
        LaneStep.Timetable,
        LaneStep.Runs,
        LaneStep.Versions,
    ];
}

/// <summary>What a lane with a field map reads: pairs of records, with what stands around them.</summary>
/// <param name="work">The kind.</param>
public abstract class MapReading(LaneWork work) : LaneReading(work)
{
    /// <inheritdoc/>
    public override IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    ) => ItemPairs.ReadAsync(lane, database, [.. documents.Select(d => d.Mapped).OfType<FieldMap>()], only, cancel);
}

/// <summary>How a lane with a field map computes.</summary>
/// <typeparam name="T">The document.</typeparam>
/// <param name="work">The kind.</param>
public abstract class MapComputing<T>(LaneWork work) : LaneComputing<T>(work)
    where T : LaneDocument
{
    /// <inheritdoc/>
    public override IEnumerable<FieldUse> Uses(LaneDocument document, LaneSides sides) => MapUses.Of(document, Work.Record);

    /// <inheritdoc/>
    public override IEnumerable<string> Returns(LaneDocument document, string sourceField) =>
        (document.Mapped?.Fields ?? [])
            .Where(f => f.Flow != Flow.ToTarget && f.Source.Fields is [var one] && one == sourceField)
            .Select(f => f.Target);

    /// <inheritdoc/>
    protected override IReadOnlyList<RuleFault> Check(T document, LaneSides sides, IReadOnlyCollection<string> locations)
    {
        ReadyMap.Make(document.Mapped!, sides.Map, out var faults);
        return faults;
    }

    /// <inheritdoc/>
    protected override Outcome<LaneComputation> Computation(T document, LaneSides sides, DateTimeOffset at) =>
        ReadyMap.Make(document.Mapped!, sides.Map, out var faults) is { } ready
            ? new ItemComputation(ready, sides)
            : MapUses.Broken(faults);

    /// <inheritdoc/>
    protected override TrialTally Tally(OpenLane lane, T trial, GuardLimits guards, string? focus) =>
        new MapTally(lane, trial.Mapped!, guards, focus);
}

/// <summary>What field maps use, and why one no longer fits.</summary>
internal static class MapUses
{
    /// <summary>The fields of both sides that the map in a document reads or writes.</summary>
    public static IEnumerable<FieldUse> Of(LaneDocument document, RecordKind kind)
    {
        var fields = document.Mapped?.Fields ?? [];
        return
        [
            .. fields.SelectMany(f => f.Source.Fields ?? []).Distinct().Select(f => new FieldUse(OfSource: true, kind, f)),
            .. fields.Select(f => new FieldUse(OfSource: false, kind, f.Target)),
        ];
    }

    /// <summary>Why nothing can be computed by a map.</summary>
    public static Reason Broken(IReadOnlyList<RuleFault> faults) =>
        new(
            "map.broken",
            "The field map no longer fits its systems, so nothing is sent: "
                + $"{string.Join("; ", faults.Where(f => f.Severity == Severity.Refuse).Select(f => f.Message))}."
        );
}
