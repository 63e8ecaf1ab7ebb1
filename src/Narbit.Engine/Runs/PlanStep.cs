using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
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
    // So many runs say what is usual.
    private const int UsualRuns = 5;

    /// <summary>
    /// Computes, compares, guards and stores; afterwards the run is ready for a person (a preview, or one that a guard stopped) or in its
    /// send phase.
    /// </summary>
    public async Task<Fault?> PlanAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var computation = lane.Computation(lane.Rule.Document, now);
        if (computation.Fault is { } fault)
            return fault;

        var plan = new Plan(run, lane.Lane, computation.Value, now);
        await foreach (var pair in lane.PairsAsync(database, [lane.Rule.Document], cancel))
            plan.Add(pair, computation.Value.Compute(pair));

        var tripped = plan.Tripped(lane.Guards, await UsuallyFailingAsync(run, cancel));
        (run.Paired, run.InStep, run.Remarked, run.RuleNumber, run.PlannedAt) = (
            plan.Compared,
            plan.InStep,
            plan.Remarks.Count,
            lane.Rule.Number,
            now
        );
        run.Tripped = tripped.Count == 0 ? null : RuleJson.Write(tripped);
        // A tripped guard stops before the first write.
        (run.Phase, run.State, run.EndedAt) =
            run.Preview || tripped.Count > 0
                ? (RunPhase.Finished, RunState.Ready, now)
                : (RunPhase.Send, RunState.Working, (DateTimeOffset?)null);
        await new RunStore(database).StorePlanAsync(run, plan.Writes, plan.Remarks, plan.Agreed, cancel);
        return null;
    }

    private async Task<decimal?> UsuallyFailingAsync(Run run, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var before = await db
            .Runs.Where(r => r.LaneId == run.LaneId && r.Id != run.Id && r.PlannedAt != null && r.RollsBack == null)
            .OrderByDescending(r => r.Id)
            .Take(UsualRuns)
            .Select(r => r.Remarked)
            .ToListAsync(cancel);
        return before.Count == 0 ? null : (decimal)before.Average();
    }

    // The change set while it is put together.
    private sealed class Plan(Run run, Lane lane, LaneComputation computation, DateTimeOffset now)
    {
        private readonly List<(PlannedWrite Write, GuardedChange Change)> _guarded = [];
        private readonly HashSet<string> _created = new(StringComparer.Ordinal);
        private readonly int? _portion = (computation as ItemComputation)?.Portion;

        public List<PlannedWrite> Writes { get; } = [];

        public List<RunRemark> Remarks { get; } = [];

        public List<Agreed> Agreed { get; } = [];

        public int Compared { get; private set; }

        public int InStep { get; private set; }

        public void Add(LanePair pair, Computed computed)
        {
            if (computed.IsOutOfScope)
                return;
            if (computed.Act == WriteAct.Create && computed.Cause is null)
            {
                if (_created.Count >= _portion)
                    return;
                var sku = computed.Fields.FirstOrDefault(f => f.Field.Role == FieldRole.Sku)?.New;
                if (!_created.Add(SkuForm.Of(sku) ?? $"{pair.Source.Key}/{pair.Target.Key}"))
                    computed = new Computed([], "skuTwice", $"another new record of this run has the SKU {sku} too; give each its own");
            }

            Compared++;
            if (computed.Cause is { } cause)
            {
                Remarks.Add(
                    new RunRemark
                    {
                        RunId = run.Id,
                        HubKey = pair.Source.Key,
                        TargetKey = pair.Target.Key,
                        Sku = pair.Sku,
                        Title = pair.Title,
                        Cause = cause,
                        Message = computed.Message!,
                    }
                );
                return;
            }

            // A preview leaves no mark on what the next computation starts from.
            if (!run.Preview)
                Agreed.AddRange(
                    computed.Baseline.Select(b => new Agreed
                    {
                        LaneId = lane.Id,
                        TargetKey = pair.Target.Key,
                        Field = b.Field,
                        Value = b.Value,
                        At = now,
                    })
                );
            if (!computed.Changes)
            {
                InStep++;
                if (!run.Preview && computation.KeepsSource && computed.Source != pair.Agreed?.Source)
                    Agreed.Add(
                        new Agreed
                        {
                            LaneId = lane.Id,
                            TargetKey = pair.Target.Key,
                            Field = computed.Fields[0].Field.Name,
                            Value = computed.Fields[0].New,
                            Source = computed.Source,
                            At = now,
                        }
                    );
                return;
            }

            foreach (
                var side in computed.Fields.Where(f => f.Changes || computed.Act == WriteAct.End).GroupBy(f => f.ToSource).DefaultIfEmpty()
            )
            {
                var write = Write(pair, computed, side?.Key ?? false, side ?? Enumerable.Empty<ComputedField>());
                Writes.Add(write);
                if (!write.ToSource && write.State == WriteState.Planned)
                    _guarded.Add((write, computed.Guarded));
            }
        }

        public IReadOnlyList<TrippedGuard> Tripped(GuardLimits limits, decimal? usuallyFailing)
        {
            var watch = new GuardWatch(limits);
            var concerns = new List<(PlannedWrite Write, IReadOnlyList<GuardKind> Kinds)>();
            foreach (var (write, change) in _guarded)
                if (watch.Look(change) is { Count: > 0 } kinds)
                    concerns.Add((write, kinds));
            var tripped = watch.Tripped(Compared, Remarks.Count, usuallyFailing);
            var named = tripped.Select(t => t.Kind).ToHashSet();
            foreach (var (write, kinds) in concerns)
                write.Guards = string.Join(
                    ' ',
                    kinds.Where(named.Contains).Select(k => System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(k.ToString()))
                );
            return tripped;
        }

        private PlannedWrite Write(LanePair pair, Computed computed, bool toSource, IEnumerable<ComputedField> fields)
        {
            var move = toSource ? null : RuleTrial.MoveOf(lane.Kind, computed);
            var creates = computed.Act == WriteAct.Create;
            return new PlannedWrite
            {
                RunId = run.Id,
                // One that is created has no key yet; its own is put here once its system has given it.
                HubKey = creates && toSource ? $"+{pair.Target.Key}" : pair.Source.Key,
                TargetKey = creates && !toSource ? $"+{pair.Source.Key}" : pair.Target.Key,
                Sku = pair.Sku,
                Title = pair.Title,
                Kind =
                    toSource ? ChangeKind.Back
                    : creates ? ChangeKind.New
                    : computed.Guarded.Removes ? ChangeKind.Gone
                    : move switch
                    {
                        > 0 => ChangeKind.Up,
                        < 0 => ChangeKind.Down,
                        _ => ChangeKind.Other,
                    },
                State = computed.Hold is null || toSource ? WriteState.Planned : WriteState.Held,
                HoldReason = toSource ? null : computed.Hold,
                Act = toSource && !creates ? WriteAct.Update : computed.Act,
                ToSource = toSource,
                ParentKey = creates ? pair.Item?.Parent : null,
                Group = creates ? pair.Item?.Group : null,
                Move = (double?)move,
                IdempotencyKey = $"{run.Id}-{(creates && !toSource ? pair.Source.Key : pair.Target.Key)}-{Guid.NewGuid():N}",
                Source = toSource ? null : computed.Source,
                Fields =
                [
                    .. fields.Select(
                        (f, i) =>
                            new PlannedField
                            {
                                Field = f.Field.Name,
                                Position = i,
                                Old = f.Old,
                                New = f.New,
                                Trace = RuleJson.Write(f.Trace),
                                Asks = f.Asks,
                            }
                    ),
                ],
            };
        }
    }
}
