using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Jobs;

/// <summary>
/// Moves the turns of jobs on: begins the run of each lane whose turn it is, notes what became of it, and ends the turn. All of it is read
/// from the database each time, so a turn goes on after a kill where it was. One at a time moves turns; see <see cref="JobClock"/>.
/// </summary>
/// <param name="database">Where turns are.</param>
/// <param name="runs">What begins runs.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
/// <param name="log">Where defects are written.</param>
public sealed class TurnMover(Database database, RunDesk runs, LiveFeed live, TimeProvider clock, ILogger<TurnMover> log)
{
    // What breaks is tried again with the next beat, which may be long in coming.
    private static readonly TimeSpan AfterDefect = TimeSpan.FromSeconds(5);

    /// <summary>The lanes of a job as a turn begins with them.</summary>
    internal static List<TurnStep> Steps(Job job) =>
        [.. job.Lanes.OrderBy(l => l.Place).Select((l, i) => new TurnStep { LaneId = l.LaneId, Place = i })];

    /// <summary>Moves every turn at work on, and begins those that waited for one that is over.</summary>
    /// <returns>When a lane is tried again, as far as is known.</returns>
    internal async Task<DateTimeOffset?> MoveAllAsync(CancellationToken cancel)
    {
        DateTimeOffset? next = null;
        foreach (var turn in await AtWorkAsync(cancel))
        {
            DateTimeOffset? again;
            try
            {
                again = await MoveAsync(turn, cancel);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "Turn {Turn} could not be moved on; it is tried again", turn);
                again = clock.GetUtcNow() + AfterDefect;
            }

            next = next is null || again < next ? again ?? next : next;
        }

        return next;
    }

    private async Task<List<long>> AtWorkAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        // One whose turn before is over begins.
        var now = clock.GetUtcNow();
        await db
            .Turns.Where(t => t.State == TurnState.Waiting && !db.Turns.Any(o => o.JobId == t.JobId && o.State == TurnState.Working))
            .ExecuteUpdateAsync(s => s.SetProperty(t => t.State, TurnState.Working).SetProperty(t => t.StartedAt, now), cancel);
        return await db.Turns.Where(t => t.State == TurnState.Working).Select(t => t.Id).ToListAsync(cancel);
    }

    private async Task<DateTimeOffset?> MoveAsync(long turnId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var turn = await db.Turns.Include(t => t.Steps).FirstAsync(t => t.Id == turnId, cancel);
        turn.Steps.Sort((a, b) => a.Place.CompareTo(b.Place));
        var job = await db.Jobs.IgnoreQueryFilters().AsNoTracking().Include(j => j.Lanes).FirstAsync(j => j.Id == turn.JobId, cancel);
        var ids = turn.Steps.Select(s => s.LaneId).ToList();
        var lanes = await db.Lanes.AsNoTracking().Where(l => ids.Contains(l.Id)).ToDictionaryAsync(l => l.Id, cancel);
        foreach (var step in turn.Steps.Where(s => s.State == TurnStepState.Working))
            await LookAsync(db, job, step, cancel);
        var order = turn.Steps.Select(s => Touches(s, lanes)).ToList();
        for (var i = 0; i < turn.Steps.Count; i++)
            if (turn.Steps[i].State == TurnStepState.Waiting && MayBegin(turn, order, i))
                await BeginAsync(db, new Move(turn, job, turn.Steps[i], lanes.GetValueOrDefault(turn.Steps[i].LaneId)), cancel);
        await EndAsync(db, turn, cancel);
        await db.SaveChangesAsync(cancel);
        // A lane that is tried again was looked at before its time: the beat comes back for it.
        return turn.State == TurnState.Working ? turn.Steps.Where(s => s.State == TurnStepState.Waiting).Min(s => s.AgainAt) : null;
    }

    // A lane that was removed touches nothing and keeps nobody waiting.
    private static TurnLane Touches(TurnStep step, Dictionary<string, Lane> lanes) =>
        lanes.TryGetValue(step.LaneId, out var lane)
            ? new TurnLane(lane.Id, lane.SourceId, lane.TargetId, LaneWorks.Of(lane.Kind).Writing.WritesSource)
            : new TurnLane(step.LaneId, "", "", false);

    private bool MayBegin(JobTurn turn, List<TurnLane> order, int place)
    {
        var step = turn.Steps[place];
        if (step.AgainAt > clock.GetUtcNow())
            return false;
        var before = TurnOrder.Before(order, place).Select(l => turn.Steps.Find(s => s.LaneId == l.Id)!);
        return before.All(s => s.State is not (TurnStepState.Waiting or TurnStepState.Working));
    }

    private async Task LookAsync(NarbitContext db, Job job, TurnStep step, CancellationToken cancel)
    {
        var run = await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == step.RunId, cancel);
        if (run is null)
            Fail(job, step, new Reason("run.unknown", "Its run is no longer there."));
        else if (run.State == RunState.Failed)
            Fail(job, step, run.Why?.Reason ?? new Reason("run.failed", "Its run failed."));
        else if (run.State != RunState.Working)
            step.State = TurnStepState.Done;
    }

    private async Task BeginAsync(NarbitContext db, Move move, CancellationToken cancel)
    {
        var (turn, job, step, lane) = move;
        if (LeftOut(turn, job, lane) is { } why)
        {
            (step.State, step.Why) = (TurnStepState.LeftOut, KeptReason.Of(why));
            return;
        }

        // Whoever was killed between beginning it and noting so finds it again.
        var begun = await db
            .Runs.Where(r => r.TurnId == turn.Id && r.LaneId == step.LaneId && (step.RunId == null || r.Id > step.RunId))
            .Select(r => (long?)r.Id)
            .FirstOrDefaultAsync(cancel);
        string? only = null;
        if (begun is null && turn.Scope is not null && (only = await OnlyAsync(db, turn, lane!, cancel)) is null)
        {
            (step.State, step.Why) = (TurnStepState.LeftOut, KeptReason.Of(NotConcerned));
            return;
        }

        var started = begun is { } known ? known : await StartAsync(turn, job, step, only, cancel);
        if (started.Fault is { Code: RunDesk.Busy })
            return;
        step.Tries++;
        if (started.Fault is { } fault)
        {
            Fail(job, step, fault);
            return;
        }

        (step.State, step.RunId, step.AgainAt, step.Why) = (TurnStepState.Working, started.Value, null, null);
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("job", job.Id));
    }

    private static readonly Reason NotConcerned = new("turn.notConcerned", "None of the records that this turn is about concern it.");

    // The records that a lane looks at in a small turn: what the turn began with, and what lanes before it have touched.
    private static async Task<string?> OnlyAsync(NarbitContext db, JobTurn turn, Lane lane, CancellationToken cancel)
    {
        var scope = TurnScope.Read(turn.Scope!);
        foreach (var before in turn.Steps.Where(s => s.State == TurnStepState.Done && s.RunId is not null))
        {
            var run = await db.Runs.AsNoTracking().FirstAsync(r => r.Id == before.RunId, cancel);
            var its = await db.Lanes.IgnoreQueryFilters().AsNoTracking().FirstAsync(l => l.Id == before.LaneId, cancel);
            foreach (var touched in await LaneWorks.Of(its.Kind).Reading.TouchedByAsync(db, its, run, cancel))
                scope.Add(touched);
        }

        var concerned = await LaneWorks.Of(lane.Kind).Reading.ConcernedAsync(db, lane, scope, cancel);
        return JsonText.WriteNames([.. concerned]);
    }

    private Task<Outcome<long>> StartAsync(JobTurn turn, Job job, TurnStep step, string? only, CancellationToken cancel) =>
        runs.StartAsync(
            new RunRequest(step.LaneId, Preview: false, turn.Trigger, turn.StartedBy)
            {
                TurnId = turn.Id,
                Fields = job.Lanes.Find(l => l.LaneId == step.LaneId)?.Fields,
                Only = only,
            },
            cancel
        );

    // Why a lane has no run in this turn; null: it has.
    private static Reason? LeftOut(JobTurn turn, Job job, Lane? lane) =>
        lane is null ? new Reason("lane.unknown", "The lane was removed.")
        : job.RemovedAt is not null ? new Reason("job.unknown", "The job was removed.")
        : lane.Paused ? new Reason("lane.leftOut", "The lane is left out of its job until a person takes it in again.")
        : lane.Off ? new Reason("lane.off", "The lane is switched off.")
        : job.WhenFailed == WhenFailed.Stop && turn.Steps.Exists(s => s.State == TurnStepState.Failed)
            ? new Reason("turn.stopped", "A lane before it failed, and the job stops then.")
        : null;

    private void Fail(Job job, TurnStep step, Reason why)
    {
        var again = job.WhenFailed == WhenFailed.Again && step.Tries <= job.AgainTimes;
        step.State = again ? TurnStepState.Waiting : TurnStepState.Failed;
        step.AgainAt = again ? clock.GetUtcNow().AddMinutes(job.AgainAfterMinutes) : null;
        step.Why = KeptReason.Of(why);
    }

    private async Task EndAsync(NarbitContext db, JobTurn turn, CancellationToken cancel)
    {
        if (turn.Steps.Exists(s => s.State is TurnStepState.Waiting or TurnStepState.Working))
            return;
        turn.State = turn.Steps.Exists(s => s.State == TurnStepState.Failed) ? TurnState.Failed : TurnState.Done;
        turn.EndedAt = clock.GetUtcNow();
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("job", turn.JobId, "ended"));
    }

    private sealed record Move(JobTurn Turn, Job Job, TurnStep Step, Lane? Lane);
}
