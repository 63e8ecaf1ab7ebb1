using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Runs;

/// <summary>Computes a lane's change set and stores it, before anything is sent.</summary>
/// <param name="database">Where the mirror, the pairs and the runs are.</param>
/// <param name="clock">The time.</param>
internal sealed class PlanStep(Database database, TimeProvider clock)
{
    /// <summary>Computes, compares and stores; afterwards the run is ready (a preview) or in its send phase.</summary>
    public async Task<Fault?> PlanAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var computation = lane.Computation(lane.Rule.Document, now);
        if (computation.Fault is { } fault) return fault;

        var (writes, remarks, agreed) = (new List<PlannedWrite>(), new List<RunRemark>(), new List<Agreed>());
        var (paired, inStep) = (0, 0);
        await foreach (var pair in lane.PairsAsync(database, cancel))
        {
            paired++;
            var computed = computation.Value.Compute(pair);
            if (computed.Cause is { } cause)
            {
                remarks.Add(new RunRemark { RunId = run.Id, HubKey = pair.Source.Key, TargetKey = pair.Target.Key, Sku = pair.Sku, Title = pair.Title, Cause = cause, Message = computed.Message! });
            }
            else if (computed.Changes)
            {
                writes.Add(Write(run, lane.Lane.Kind, pair, computed));
            }
            else
            {
                inStep++;
                // A preview leaves no mark on what the next computation starts from.
                if (!run.Preview && computation.Value.KeepsSource && computed.Source != pair.Agreed?.Source)
                    agreed.Add(new Agreed { LaneId = lane.Lane.Id, TargetKey = pair.Target.Key, Field = computed.Fields[0].Field.Name, Value = computed.Fields[0].New, Source = computed.Source, At = now });
            }
        }

        (run.Paired, run.InStep, run.Remarked, run.RuleNumber, run.PlannedAt) = (paired, inStep, remarks.Count, lane.Rule.Number, now);
        (run.Phase, run.State, run.EndedAt) = run.Preview ? (RunPhase.Finished, RunState.Ready, now) : (RunPhase.Send, RunState.Working, (DateTimeOffset?)null);
        await new RunStore(database).StorePlanAsync(run, writes, remarks, agreed, cancel);
        return null;
    }

    private static PlannedWrite Write(Run run, LaneKind kind, LanePair pair, Computed computed)
    {
        var move = RuleTrial.MoveOf(kind, computed);
        return new PlannedWrite
        {
            RunId = run.Id,
            HubKey = pair.Source.Key,
            TargetKey = pair.Target.Key,
            Sku = pair.Sku,
            Title = pair.Title,
            Kind = move switch { > 0 => ChangeKind.Up, < 0 => ChangeKind.Down, _ => ChangeKind.Other },
            State = computed.Hold is null ? WriteState.Planned : WriteState.Held,
            HoldReason = computed.Hold,
            Move = (double?)move,
            IdempotencyKey = $"{run.Id}-{pair.Target.Key}-{Guid.NewGuid():N}",
            Source = computed.Source,
            Fields = [.. computed.Fields.Where(f => f.Changes).Select((f, i) => new PlannedField { Field = f.Field.Name, Position = i, Old = f.Old, New = f.New, Trace = RuleJson.Write(f.Trace) })],
        };
    }
}
