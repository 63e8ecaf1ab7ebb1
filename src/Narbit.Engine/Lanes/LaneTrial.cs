using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Data;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>
/// Applies a document that is not saved to all records in a lane's scope, writing nothing. It is the code that a run uses.
/// </summary>
/// <param name="database">Where the mirror is.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class LaneTrial(Database database, AdapterSource adapters, TimeProvider clock)
{
    /// <summary>Tries a document.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="document">The document.</param>
    /// <param name="guards">The guards' limits on trial; null: those in force.</param>
    /// <param name="focus">The target field that is being edited, or null.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<TrialResult>> TryAsync(
        string laneId,
        LaneDocument document,
        GuardLimits? guards,
        string? focus,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        if (document.GetType() != lane.Work.Computing.DocumentType)
            return new Reason("rule.foreign", lane.Work.Computing.Check(document, lane.Sides, [])[0].Message);
        var faults = await FaultsAsync(lane, document, cancel);
        var tally = lane.Work.Computing.Tally(lane, document, guards ?? lane.Guards, focus);
        var now = clock.GetUtcNow();
        var trial = await lane.ComputationAsync(document, database, now, cancel);
        if (trial.Fault is not null)
            return tally.Result(faults);

        var inForce = await lane.ComputationAsync(database, now, cancel);
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [document, lane.Document], null, cancel))
        {
            // It stops when nobody waits for it.
            cancel.ThrowIfCancellationRequested();
            tally.Add(pair, inForce.ValueOrDefault?.Compute(pair), trial.Value.Compute(pair));
        }

        return tally.Result(faults);
    }

    private async Task<IReadOnlyList<RuleFault>> FaultsAsync(OpenLane lane, LaneDocument document, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var own = await lane.CheckAsync(document, database, cancel);
        var among = await lane.Work.Computing.CheckAmongAsync(db, lane, document, cancel);
        return [.. own.Concat(among).Select(f => f with { Step = lane.Work.StepOf(f.Path) })];
    }
}
