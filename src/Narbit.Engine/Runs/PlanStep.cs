using System.Text.Json;
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
    public async Task<Reason?> PlanAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var computation = await lane.ComputationAsync(database, now, cancel);
        if (computation.Fault is { } fault)
            return fault;

        var plan = new ChangeSet(run, lane, computation.Value, now);
        var ledger = lane.Work.Writing.Ledger(lane, now);
        var only = JsonText.ReadNames(run.Only)?.ToHashSet(StringComparer.Ordinal);
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [lane.Document], only, cancel))
        {
            var computed = computation.Value.Compute(pair);
            plan.Add(pair, computed);
            ledger?.Note(pair, computed);
        }

        plan.Complete();
        await KeysAsync(lane, plan.Writes, cancel);
        if (ledger is not null)
            await ledger.StoreAsync(database, cancel);

        var tripped = plan.Tripped(lane.Guards, await UsuallyFailingAsync(run, cancel), await UsuallyComparedAsync(run, cancel));
        run.Paired = plan.Compared;
        run.InStep = plan.InStep;
        run.Remarked = plan.Remarks.Count;
        (run.RuleNumber, run.PlannedAt) = (lane.Rule.Number, now);
        run.Basis = await BasisAsync(lane, cancel);
        run.Tripped = tripped.Count == 0 ? null : RuleJson.Write(tripped);
        // A tripped guard stops before the first write.
        var waits = run.Preview || tripped.Count > 0;
        (run.Phase, run.State) = waits ? (RunPhase.Finished, RunState.Ready) : (RunPhase.Send, RunState.Working);
        run.EndedAt = waits ? now : null;
        await new RunStore(database).StorePlanAsync(run, new RunPlan(plan.Writes, plan.Remarks, plan.Agreed), cancel);
        return null;
    }

    /// <summary>
    /// Plans what follows from what the run has confirmed: the store is told of the orders that have arrived, and not before.
    /// </summary>
    /// <returns>How many writes were added.</returns>
    public async Task<int> FollowAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        if (!lane.Work.Writing.TellsSource || run.RollsBack is not null)
            return 0;
        HashSet<string> arrived;
        await using (var db = database.CreateDbContext())
        {
            var writes = db.Writes.Where(w => w.RunId == run.Id && w.Record == lane.Work.Record);
            arrived =
            [
                .. await writes
                    .Where(w => w.Act == WriteAct.Create && w.Way == Way.There)
                    .Where(w => w.State == WriteState.Confirmed || (w.State == WriteState.Overtaken && w.Fate!.Code == SendStep.Paired))
                    .Select(w => w.SourceKey)
                    .Except(writes.Where(w => w.Way == Way.Back).Select(w => w.SourceKey))
                    .ToListAsync(cancel),
            ];
        }

        if (arrived.Count == 0)
            return 0;
        var now = clock.GetUtcNow();
        var computation = await lane.ComputationAsync(database, now, cancel);
        if (computation.Fault is not null)
            return 0;
        var plan = new ChangeSet(run, lane, computation.Value, now);
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [lane.Document], arrived, cancel))
            plan.Add(pair, computation.Value.Compute(pair));
        plan.Complete();
        List<PlannedWrite> told = [.. plan.Writes.Where(w => w.Way == Way.Back)];
        await KeysAsync(lane, told, cancel);
        await new RunStore(database).AddAsync(told, plan.Agreed, cancel);
        return told.Count;
    }

    // As the lane was when it was opened: what somebody saves meanwhile is not what was computed by.
    private async Task<string> BasisAsync(OpenLane lane, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return (await ChangeBasis.OfAsync(db, lane.Lane, cancel) with { Version = lane.Rule.Number }).Kept;
    }

    private async Task KeysAsync(OpenLane lane, IReadOnlyList<PlannedWrite> writes, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await CreationKeys.GiveAsync(db, lane.Lane.Id, writes, cancel);
    }

    // A share is one of all records, also where a run looks at a few.
    private async Task<int> UsuallyComparedAsync(Run run, CancellationToken cancel)
    {
        if (run.Only is null)
            return 0;
        await using var db = database.CreateDbContext();
        return await db
            .Runs.Where(r => r.LaneId == run.LaneId && r.PlannedAt != null && r.Only == null && r.RollsBack == null)
            .OrderByDescending(r => r.Id)
            .Select(r => r.Paired)
            .FirstOrDefaultAsync(cancel);
    }

    private async Task<decimal?> UsuallyFailingAsync(Run run, CancellationToken cancel)
    {
        if (run.Only is not null)
            return null;
        await using var db = database.CreateDbContext();
        var before = await db
            .Runs.Where(r => r.LaneId == run.LaneId && r.Id != run.Id && r.PlannedAt != null && r.RollsBack == null && r.Only == null)
            .OrderByDescending(r => r.Id)
            .Take(UsualRuns)
            .Select(r => r.Remarked)
            .ToListAsync(cancel);
        return before.Count == 0 ? null : (decimal)before.Average();
    }
}

/// <summary>A change set while it is put together.</summary>
/// <param name="run">The run that it belongs to.</param>
/// <param name="lane">The lane.</param>
/// <param name="computation">By what it is computed.</param>
/// <param name="now">The time.</param>
internal sealed class ChangeSet(Run run, OpenLane lane, LaneComputation computation, DateTimeOffset now)
{
    private readonly List<(PlannedWrite Write, GuardedChange Change)> _guarded = [];
    private readonly HashSet<string> _created = new(StringComparer.Ordinal);
    private readonly HashSet<string>? _only = JsonText.ReadNames(run.Fields)?.ToHashSet(StringComparer.Ordinal);
    private readonly Dictionary<(RecordKind, string), PlannedWrite> _beside = [];
    private readonly Dictionary<PlannedWrite, JoinedChildren> _added = [];

    public List<PlannedWrite> Writes { get; } = [];

    public List<RunRemark> Remarks { get; } = [];

    public List<Agreed> Agreed { get; } = [];

    public int Compared { get; private set; }

    public int InStep { get; private set; }

    /// <summary>Adds what was computed of a pair.</summary>
    public void Add(LanePair pair, Computed computed)
    {
        if (_only is not null)
            computed = computed.Part(_only);
        if (computed.IsOutOfScope)
            return;
        if (computed is { Act: WriteAct.Create, Why: null })
        {
            if (_created.Count >= computation.Portion)
                return;
            computed = UnlessTwice(pair, computed);
        }

        Compared++;
        if (computed.Why is { } why)
        {
            Remarks.Add(Remark(pair, why));
            return;
        }

        // A preview leaves no mark on what the next computation starts from.
        if (!run.Preview)
            Agreed.AddRange(computed.Baseline.Select(b => AgreedOn(pair, b.Field, b.Value, null)));
        if (computed.Changes)
            Plan(pair, computed);
        else if (computed.Fields.FirstOrDefault(f => f.Stays) is { } stays)
            Remarks.Add(Remark(pair, CannotBeEmptied.Reason(stays.Field, stays.Way == Way.There ? lane.Target : lane.Source)));
        else
            Keep(pair, computed);
    }

    /// <summary>The guards that are tripped; each write that one of them is about says so.</summary>
    /// <param name="limits">The limits.</param>
    /// <param name="usuallyFailing">How many records usually cannot be computed; null: not known.</param>
    /// <param name="atLeast">Of so many records at least shares are reckoned.</param>
    public IReadOnlyList<TrippedGuard> Tripped(GuardLimits limits, decimal? usuallyFailing, int atLeast)
    {
        var watch = new GuardWatch(limits);
        var concerns = new List<(PlannedWrite Write, IReadOnlyList<GuardKind> Kinds)>();
        foreach (var (write, change) in _guarded)
            if (watch.Look(change) is { Count: > 0 } kinds)
                concerns.Add((write, kinds));
        var tripped = watch.Tripped(Math.Max(Compared, atLeast), Remarks.Count, usuallyFailing);
        var named = tripped.Select(t => t.Kind).ToHashSet();
        foreach (var (write, kinds) in concerns)
            write.Guards = string.Join(' ', kinds.Where(named.Contains).Select(k => JsonNamingPolicy.CamelCase.ConvertName(k.ToString())));
        return tripped;
    }

    private Computed UnlessTwice(LanePair pair, Computed computed)
    {
        var sku = computed.Fields.FirstOrDefault(f => f.Field.Role == FieldRole.Sku)?.New;
        return _created.Add(SkuForm.Of(sku) ?? $"{pair.Source.Key}/{pair.Target.Key}")
            ? computed
            : Computed.Not("skuTwice", $"another new record of this run has the SKU {sku} too; give each its own");
    }

    private RunRemark Remark(LanePair pair, Reason why) =>
        new()
        {
            RunId = run.Id,
            SourceKey = pair.Source.Key,
            TargetKey = pair.Target.Key,
            Reference = pair.Reference,
            Caption = pair.Caption,
            Why = KeptReason.Of(why)!,
        };

    private Agreed AgreedOn(LanePair pair, string field, string? value, string? source) =>
        new()
        {
            SystemId = lane.Target.System.Id,
            Kind = lane.Work.Record,
            Key = pair.Target.Key,
            WithId = lane.Source.System.Id,
            WithKey = pair.Source.Key,
            Field = field,
            Value = value,
            Source = source,
            At = now,
        };

    private void Keep(LanePair pair, Computed computed)
    {
        InStep++;
        if (run.Preview || !computation.KeepsSource || computed.Fields is not [var leading, ..])
            return;
        if (computed.Source != pair.Agreed.GetValueOrDefault(leading.Field.Name)?.Source)
            Agreed.Add(AgreedOn(pair, leading.Field.Name, leading.New, computed.Source));
    }

    // A new record is made once, whoever needs it; what several add to one record goes there as one write.
    private void Add(BesideWrite beside)
    {
        var key = (beside.Kind, beside.TargetKey ?? new KeyToCome(beside.SourceKey).Placeholder);
        if (!_beside.TryGetValue(key, out var write))
            Writes.Add(_beside[key] = write = Beside(beside));
        if (beside.TargetKey is null)
            return;
        if (!_added.TryGetValue(write, out var added))
            _added[write] = added = new JoinedChildren();
        added.Add(beside.Children);
    }

    /// <summary>Puts what several added to one record together; called once, when everything was added.</summary>
    public void Complete()
    {
        foreach (var (write, added) in _added)
            write.Children = added.Made.Write();
    }

    private void Plan(LanePair pair, Computed computed)
    {
        foreach (var beside in computed.Beside)
            Add(beside);
        var sides = computed.Fields.Where(f => f.Changes || computed.Act == WriteAct.End).GroupBy(f => f.Way).ToList();
        var onlyLists = computed.Act == WriteAct.Update && !computed.Children.IsEmpty && sides.TrueForAll(s => s.Key != Way.There);
        if (onlyLists || (sides.Count == 0 && computed.Act == WriteAct.End))
            Plan(pair, computed, Way.There, []);
        if (!computed.ChildrenBack.IsEmpty && sides.TrueForAll(s => s.Key != Way.Back))
            Plan(pair, computed, Way.Back, []);
        foreach (var side in sides)
            Plan(pair, computed, side.Key, side.UnionBy(computed.Fields.Where(f => f.Stays && f.Way == side.Key), f => f.Field.Name));
    }

    private void Plan(LanePair pair, Computed computed, Way way, IEnumerable<ComputedField> fields)
    {
        var write = way == Way.There ? There(pair, computed) : Back(pair, computed);
        write.Fields = [.. fields.Select((f, i) => Planned(f, i, f.Stays && computed.Act == WriteAct.Update))];
        Writes.Add(write);
        if (way == Way.There && write.State == WriteState.Planned)
            _guarded.Add((write, computed.Guarded));
    }

    private static PlannedField Planned(ComputedField field, int position, bool stays) =>
        new()
        {
            Field = field.Field.Name,
            Position = position,
            Old = field.Old,
            New = field.New,
            Trace = RuleJson.Write(field.Trace),
            Asks = field.Asks,
            Stays = stays,
            Agrees = field.Agrees,
            ToCome = field.ToCome,
        };

    private PlannedWrite Beside(BesideWrite beside) =>
        new()
        {
            RunId = run.Id,
            SourceKey = beside.SourceKey,
            TargetKey = beside.TargetKey ?? new KeyToCome(beside.SourceKey).Placeholder,
            Reference = beside.Reference,
            Caption = beside.Caption,
            Kind = beside.TargetKey is null ? ChangeKind.New : ChangeKind.Other,
            State = WriteState.Planned,
            Record = beside.Kind,
            Act = beside.TargetKey is null ? WriteAct.Create : WriteAct.Update,
            Way = Way.There,
            IdempotencyKey = beside.TargetKey is null ? ToBeGiven : NewKey(),
            Fields = [.. beside.Fields.Select((f, i) => Planned(f, i, stays: false))],
            Children = beside.Children.Write(),
        };

    private PlannedWrite There(LanePair pair, Computed computed)
    {
        var creates = computed.Act == WriteAct.Create;
        var move = lane.Work.MoveOf(computed);
        return new PlannedWrite
        {
            RunId = run.Id,
            SourceKey = pair.Source.Key,
            // One that is created has no key yet; its own is put here once its system has given it.
            TargetKey = creates ? new KeyToCome(pair.Source.Key).Placeholder : pair.Target.Key,
            Reference = pair.Reference,
            Caption = pair.Caption,
            Kind =
                creates ? ChangeKind.New
                : computed.Guarded.Removes ? ChangeKind.Withdrawn
                : KindOf(move),
            State = computed.Hold is null ? WriteState.Planned : WriteState.Held,
            Hold = KeptReason.Of(computed.Hold),
            Record = lane.Work.Record,
            Act = computed.Act,
            Way = Way.There,
            ParentKey = computed.ParentKey,
            Group = computed.Group,
            Move = (double?)move,
            MoveUnit = move is null ? null : lane.Work.MoveUnit,
            IdempotencyKey = creates ? ToBeGiven : NewKey(),
            Source = computed.Source,
            Children = computed.Children.Write(),
            ChildrenBefore = creates ? null : Before(computed.ChildrenNow, computed.Children),
        };
    }

    // What is written over, so that it can be put back.
    private static string? Before(RecordChildren? now, RecordChildren written) =>
        now is null || written.IsEmpty ? null : now.Without(list => !written.Lists.Contains(list)).Write();

    private PlannedWrite Back(LanePair pair, Computed computed)
    {
        var creates = computed.Act == WriteAct.Create;
        return new PlannedWrite
        {
            RunId = run.Id,
            SourceKey = creates ? new KeyToCome(pair.Target.Key).Placeholder : pair.Source.Key,
            TargetKey = pair.Target.Key,
            Reference = pair.Reference,
            Caption = pair.Caption,
            Kind = ChangeKind.Back,
            State = WriteState.Planned,
            Record = lane.Work.Record,
            Act = creates ? WriteAct.Create : WriteAct.Update,
            Way = Way.Back,
            Children = computed.ChildrenBack.Write(),
            ChildrenBefore = Before(computed.ChildrenBackNow, computed.ChildrenBack),
            ParentKey = computed.ParentKey,
            Group = computed.Group,
            IdempotencyKey = creates ? ToBeGiven : NewKey(),
        };
    }

    // Creations are given their keys together, see CreationKeys.
    private const string ToBeGiven = "";

    /// <summary>The idempotency key of a change, which is another thing in each run.</summary>
    internal static string NewKey() => Guid.NewGuid().ToString("N");

    /// <summary>What a move of the leading field is called.</summary>
    internal static ChangeKind KindOf(decimal? move) =>
        move switch
        {
            > 0 => ChangeKind.Up,
            < 0 => ChangeKind.Down,
            _ => ChangeKind.Other,
        };
}
