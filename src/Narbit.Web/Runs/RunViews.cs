using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;
using Narbit.Web.Lanes;

namespace Narbit.Web.Runs;

/// <summary>How many writes of a run stand where, and what they would do.</summary>
internal sealed record WriteCounts
{
    public int Planned { get; init; }

    public int Held { get; init; }

    /// <summary>Not chosen when the rest was sent.</summary>
    public int Skipped { get; init; }

    /// <summary>Left as it is there, because a person decided so.</summary>
    public int Decided { get; init; }

    public int Unknown { get; init; }

    public int Sent { get; init; }

    public int Confirmed { get; init; }

    public int Overtaken { get; init; }

    public int Failed { get; init; }

    public int Up { get; init; }

    public int Down { get; init; }

    public int New { get; init; }

    public int Withdrawn { get; init; }

    public int Back { get; init; }

    public int Other { get; init; }

    public int Guarded { get; init; }

    /// <summary>Of the planned ones, those that a guard points at.</summary>
    public int PlannedGuarded { get; init; }

    public int TakenBack { get; init; }

    public int Total { get; init; }
}

/// <summary>How long a run was at work, and what its requests went through.</summary>
/// <param name="WorkedMs">At work, in milliseconds; the time in which it waited for a person is not in it.</param>
/// <param name="Requests">Requests that were sent, each attempt counted.</param>
/// <param name="Repeats">Those of them that repeat an earlier one.</param>
/// <param name="Lost">Those of them that had no answer.</param>
/// <param name="LostWaitedMs">Waited for answers that never came, in milliseconds.</param>
/// <param name="LimitWaitedMs">Waited because a system takes only so many requests, in milliseconds.</param>
/// <param name="RepeatWaitedMs">Waited before repeating what had failed, in milliseconds.</param>
internal sealed record RunTraffic(
    long WorkedMs,
    int Requests,
    int Repeats,
    int Lost,
    long LostWaitedMs,
    long LimitWaitedMs,
    long RepeatWaitedMs
);

/// <summary>A request of a run that was not answered at once, and what became of it.</summary>
internal sealed record TroubleRow(
    long Id,
    DateTimeOffset At,
    string System,
    string Request,
    int Attempts,
    int Lost,
    Reason Why,
    bool Answered
);

/// <summary>An attempt at a write that was not simply accepted.</summary>
internal sealed record TryRow(int Number, DateTimeOffset At, Reason Why);

/// <summary>The job that a run belongs to.</summary>
internal sealed record RunJob(string Id, string Name);

/// <summary>A run as lists show it.</summary>
internal sealed record RunSummary
{
    public required long Id { get; init; }

    public required string LaneId { get; init; }

    public required string LaneName { get; init; }

    public required LaneWorkView Work { get; init; }

    public required SystemTag Source { get; init; }

    public required SystemTag Target { get; init; }

    public bool Preview { get; init; }

    public RunTrigger Trigger { get; init; }

    public required string StartedBy { get; init; }

    public RunState State { get; init; }

    public RunPhase Phase { get; init; }

    public int RuleNumber { get; init; }

    public DateTimeOffset StartedAt { get; init; }

    public DateTimeOffset? PlannedAt { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    public int Paired { get; init; }

    public int InStep { get; init; }

    public int Remarked { get; init; }

    public Reason? Why { get; init; }

    /// <summary>Whether its guards stopped it before the first write.</summary>
    public bool Stopped { get; init; }

    public long? RollsBack { get; init; }

    /// <summary>The job that it belongs to; null: none.</summary>
    public RunJob? Job { get; init; }

    /// <summary>For a small run: how many records of the source it looks at; null: all.</summary>
    public int? LooksAt { get; init; }

    /// <summary>The only fields that it writes; null: all that its lane writes.</summary>
    public IReadOnlyList<string>? Fields { get; init; }

    public required RunTraffic Traffic { get; init; }

    public required WriteCounts Writes { get; init; }
}

/// <summary>Records with one reason: its code, what it is called in general, and how many.</summary>
internal sealed record CauseCount(string Code, string Words, int Count);

/// <summary>A run with what was found out about it.</summary>
/// <param name="Run">The run.</param>
/// <param name="Remarks">What could not be computed, by reason.</param>
/// <param name="Holds">What is held, by reason.</param>
/// <param name="Guards">The guards that were tripped.</param>
/// <param name="Fields">The fields that its writes may name.</param>
/// <param name="Leading">The name of the field that its writes are about first; null: it has none.</param>
/// <param name="Troubles">How many of its requests were not answered at once.</param>
/// <param name="Stale">Why it may not be sent as it is: what it was computed by holds no more; null: it may.</param>
internal sealed record RunDetail(
    RunSummary Run,
    IReadOnlyList<CauseCount> Remarks,
    IReadOnlyList<CauseCount> Holds,
    IReadOnlyList<TrippedGuard> Guards,
    IReadOnlyList<ShownField> Fields,
    string? Leading,
    int Troubles,
    Reason? Stale
);

/// <summary>A write as the change set shows it, through its leading field.</summary>
internal sealed record WriteRow
{
    public required long Id { get; init; }

    public string? Reference { get; init; }

    public string? Caption { get; init; }

    public required string SourceKey { get; init; }

    public required string TargetKey { get; init; }

    public ChangeKind Kind { get; init; }

    public WriteState State { get; init; }

    /// <summary>The kind of record that is written.</summary>
    public RecordKind Record { get; init; }

    public WriteAct Act { get; init; }

    public Way Way { get; init; }

    /// <summary>The leading field's name.</summary>
    public string? Field { get; init; }

    public string? Old { get; init; }

    public string? New { get; init; }

    public double? Move { get; init; }

    public string? MoveUnit { get; init; }

    public Reason? Hold { get; init; }

    public Reason? Fate { get; init; }

    public int Attempts { get; init; }

    /// <summary>How many fields it writes.</summary>
    public int Fields { get; init; }

    public required string Guards { get; init; }

    public long? TakenBackIn { get; init; }

    /// <summary>Whether it was changed on both sides and waits for a person.</summary>
    public bool Asks { get; init; }

    /// <summary>A planned write with its fields.</summary>
    public static WriteRow Of(PlannedWrite write)
    {
        var leading = write.Fields.MinBy(f => f.Position);
        return new WriteRow
        {
            Id = write.Id,
            Reference = write.Reference,
            Caption = write.Caption,
            SourceKey = write.SourceKey,
            TargetKey = write.TargetKey,
            Kind = write.Kind,
            State = write.State,
            Record = write.Record,
            Act = write.Act,
            Way = write.Way,
            Field = leading?.Field,
            Old = leading?.Old,
            New = leading?.New,
            Move = write.Move,
            MoveUnit = write.MoveUnit,
            Hold = write.Hold?.Reason,
            Fate = write.Fate?.Reason,
            Attempts = write.Attempts,
            Fields = write.Written.Count,
            Guards = write.Guards,
            TakenBackIn = write.TakenBackIn,
            Asks = write.State == WriteState.Held && write.Fields.Exists(f => f.Asks),
        };
    }
}

/// <param name="Field">The field.</param>
/// <param name="Old">What it held.</param>
/// <param name="New">What it is to hold.</param>
/// <param name="Stays">Whether it is left as it is, because it would be emptied and cannot be.</param>
/// <param name="Trace">How the value came about.</param>
internal sealed record FieldChange(string Field, string? Old, string? New, bool Stays, IReadOnlyList<TraceStep> Trace);

internal sealed record WriteDetail(
    WriteRow Write,
    int RuleNumber,
    DateTimeOffset? SentAt,
    DateTimeOffset? ConfirmedAt,
    IReadOnlyList<FieldChange> Fields,
    IReadOnlyList<TryRow> Tries
);

/// <summary>A record that could not be computed.</summary>
internal sealed record RemarkRow(long Id, string? Reference, string? Caption, string? SourceKey, string? TargetKey, Reason Why);

/// <summary>Puts together what is shown of runs.</summary>
internal static class RunViews
{
    /// <summary>Some runs, in their order.</summary>
    public static async Task<IReadOnlyList<RunSummary>> AllAsync(NarbitContext db, IReadOnlyList<Run> runs, CancellationToken cancel)
    {
        var ids = runs.Select(r => r.LaneId).Distinct().ToList();
        var lanes = await db.Lanes.IgnoreQueryFilters().AsNoTracking().Where(l => ids.Contains(l.Id)).ToDictionaryAsync(l => l.Id, cancel);
        var systems = await db.Systems.IgnoreQueryFilters().AsNoTracking().ToDictionaryAsync(s => s.Id, SystemTag.Of, cancel);
        var tallies = await TalliesAsync(db, [.. runs.Select(r => r.Id)], cancel);
        var jobs = await JobsAsync(db, runs, cancel);
        return
        [
            .. runs.Select(run =>
            {
                var lane = lanes[run.LaneId];
                var one = One(run, lane, systems[lane.SourceId], systems[lane.TargetId], [.. tallies[run.Id]]);
                return run.TurnId is { } turn ? one with { Job = jobs.GetValueOrDefault(turn) } : one;
            }),
        ];
    }

    private static async Task<Dictionary<long, RunJob>> JobsAsync(NarbitContext db, IReadOnlyList<Run> runs, CancellationToken cancel)
    {
        var turns = runs.Select(r => r.TurnId).OfType<long>().Distinct().ToList();
        return await db
            .Turns.Where(t => turns.Contains(t.Id))
            .Join(db.Jobs, t => t.JobId, j => j.Id, (t, j) => new { t.Id, Job = new RunJob(j.Id, j.Name) })
            .ToDictionaryAsync(t => t.Id, t => t.Job, cancel);
    }

    /// <summary>The reasons of a run's held writes.</summary>
    public static async Task<IReadOnlyList<CauseCount>> HoldsAsync(NarbitContext db, long runId, CancellationToken cancel)
    {
        var holds = await db
            .Writes.Where(w => w.RunId == runId && w.State == WriteState.Held && w.Hold != null)
            .GroupBy(w => w.Hold!.Code)
            .Select(g => new
            {
                g.Key,
                Count = g.Count(),
                Example = g.Min(w => w.Hold!.Words),
            })
            .ToListAsync(cancel);
        return
        [
            .. holds
                .Select(h => new CauseCount(h.Key, ReasonWords.InGeneral(h.Key) ?? h.Example ?? h.Key, h.Count))
                .OrderByDescending(c => c.Count),
        ];
    }

    /// <summary>The reasons of a run's remarks.</summary>
    public static async Task<IReadOnlyList<CauseCount>> RemarksAsync(NarbitContext db, long runId, CancellationToken cancel)
    {
        var remarks = await db
            .Remarks.Where(r => r.RunId == runId)
            .GroupBy(r => r.Why.Code)
            .Select(g => new
            {
                g.Key,
                Count = g.Count(),
                Example = g.Min(r => r.Why.Words),
            })
            .ToListAsync(cancel);
        return
        [
            .. remarks
                .Select(r => new CauseCount(r.Key, ReasonWords.InGeneral(r.Key) ?? r.Example ?? r.Key, r.Count))
                .OrderByDescending(c => c.Count),
        ];
    }

    private static RunSummary One(Run run, Lane lane, SystemTag source, SystemTag target, IReadOnlyList<Tally> tallies)
    {
        var work = LaneWorks.Of(lane.Kind);
        return new RunSummary
        {
            Id = run.Id,
            LaneId = run.LaneId,
            LaneName = lane.Name ?? work.Label,
            Work = LaneWorkView.Of(work),
            Source = source,
            Target = target,
            Preview = run.Preview,
            Trigger = run.Trigger,
            StartedBy = run.StartedBy,
            State = run.State,
            Phase = run.Phase,
            RuleNumber = run.RuleNumber,
            StartedAt = run.StartedAt,
            PlannedAt = run.PlannedAt,
            EndedAt = run.EndedAt,
            Paired = run.Paired,
            InStep = run.InStep,
            Remarked = run.Remarked,
            Why = run.Why?.Reason,
            Stopped = run is { State: RunState.Ready, Preview: false },
            RollsBack = run.RollsBack,
            LooksAt = JsonText.ReadNames(run.Only)?.Count,
            Fields = JsonText.ReadNames(run.Fields),
            Traffic = new RunTraffic(
                run.WorkedMs,
                run.Requests,
                run.Repeats,
                run.Lost,
                run.LostWaitedMs,
                run.LimitWaitedMs,
                run.RepeatWaitedMs
            ),
            Writes = Counts(tallies),
        };
    }

    // Writes of a run that are alike in what is counted; those that are counted for something besides say for what.
    private sealed record Tally(long RunId, WriteState State, ChangeKind Kind, Besides Besides, int Count);

    private enum Besides
    {
        Nothing,
        Guarded,
        TakenBack,
        Fated,
    }

    // Each question has an index of its own that answers it.
    private static async Task<ILookup<long, Tally>> TalliesAsync(NarbitContext db, List<long> runs, CancellationToken cancel)
    {
        var writes = db.Writes.Where(w => runs.Contains(w.RunId));
        var kinds = await writes
            .GroupBy(w => new
            {
                w.RunId,
                w.State,
                w.Kind,
            })
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        return kinds
            .Select(k => new Tally(k.Key.RunId, k.Key.State, k.Key.Kind, Besides.Nothing, k.Count))
            .Concat(await BesidesAsync(writes.Where(w => w.Guards != ""), Besides.Guarded, cancel))
            .Concat(await BesidesAsync(writes.Where(w => w.TakenBackIn != null), Besides.TakenBack, cancel))
            .Concat(await BesidesAsync(writes.Where(w => w.Fate != null), Besides.Fated, cancel))
            .ToLookup(t => t.RunId);
    }

    private static async Task<IEnumerable<Tally>> BesidesAsync(IQueryable<PlannedWrite> writes, Besides besides, CancellationToken cancel)
    {
        var states = await writes.GroupBy(w => new { w.RunId, w.State }).Select(g => new { g.Key, Count = g.Count() }).ToListAsync(cancel);
        return states.Select(s => new Tally(s.Key.RunId, s.Key.State, default, besides, s.Count));
    }

    private static WriteCounts Counts(IReadOnlyList<Tally> tallies)
    {
        int Sum(Besides besides, Func<Tally, bool> which) => tallies.Where(t => t.Besides == besides && which(t)).Sum(t => t.Count);
        int In(WriteState state) => Sum(Besides.Nothing, t => t.State == state);
        int Of(ChangeKind kind) => Sum(Besides.Nothing, t => t.Kind == kind);
        var decided = Sum(Besides.Fated, t => t.State == WriteState.Skipped);
        return new WriteCounts
        {
            Planned = In(WriteState.Planned),
            Held = In(WriteState.Held),
            Skipped = In(WriteState.Skipped) - decided,
            Decided = decided,
            Unknown = In(WriteState.Unknown),
            Sent = In(WriteState.Sent),
            Confirmed = In(WriteState.Confirmed),
            Overtaken = In(WriteState.Overtaken),
            Failed = In(WriteState.Failed),
            Up = Of(ChangeKind.Up),
            Down = Of(ChangeKind.Down),
            New = Of(ChangeKind.New),
            Withdrawn = Of(ChangeKind.Withdrawn),
            Back = Of(ChangeKind.Back),
            Other = Of(ChangeKind.Other),
            Guarded = Sum(Besides.Guarded, _ => true),
            PlannedGuarded = Sum(Besides.Guarded, t => t.State == WriteState.Planned),
            TakenBack = Sum(Besides.TakenBack, _ => true),
            Total = Sum(Besides.Nothing, _ => true),
        };
    }
}
