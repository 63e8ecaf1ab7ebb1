using System.Text.Json.Serialization.Metadata;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>How a lane with a field map computes.</summary>
/// <typeparam name="T">The document.</typeparam>
/// <param name="work">The kind.</param>
public abstract class MapComputing<T>(LaneWork work) : LaneComputing<T>(work)
    where T : LaneDocument
{
    /// <inheritdoc/>
    public override JsonDerivedType Trial => new(typeof(MapTrial), "fields");

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
