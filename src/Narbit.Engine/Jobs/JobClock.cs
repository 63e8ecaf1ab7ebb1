using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Runs;

namespace Narbit.Engine.Jobs;

/// <summary>
/// Keeps the times of jobs: notes what each came to and begins turns. What is due lies in the database, and a time is settled in the
/// same transaction as its turn begins, so that nothing is kept twice or forgotten, whoever kills what when.
/// </summary>
/// <param name="database">Where jobs are.</param>
/// <param name="turns">What moves turns on.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
/// <param name="log">Where defects are written.</param>
public sealed class JobClock(Database database, TurnMover turns, LiveFeed live, TimeProvider clock, ILogger<JobClock> log) : IDisposable
{
    /// <summary>Who begins turns that the clock begins.</summary>
    public const string Clock = "Timetable";

    // So often is looked whatever is due, since a clock may be set and a machine may sleep.
    private static readonly TimeSpan AtMost = TimeSpan.FromSeconds(15);
    private static readonly TimeSpan AtLeast = TimeSpan.FromMilliseconds(20);
    private static readonly TimeSpan AfterDefect = TimeSpan.FromSeconds(1);

    private readonly SemaphoreSlim _news = new(0, 1);

    /// <summary>Has the clock look at once.</summary>
    public void Wake()
    {
        try
        {
            _news.Release();
        }
        catch (SemaphoreFullException)
        {
            // It is about to look anyway.
        }
    }

    /// <summary>Keeps the times until it is told to stop.</summary>
    public async Task WorkAsync(CancellationToken cancel)
    {
        live.Happened += Hear;
        try
        {
            while (true)
                await PauseAsync(await BeatAsync(cancel), cancel);
        }
        finally
        {
            live.Happened -= Hear;
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _news.Dispose();

    /// <summary>Settles what is due and moves the turns at work on.</summary>
    /// <returns>When there is something to do next, as far as is known.</returns>
    public async Task<DateTimeOffset?> BeatAsync(CancellationToken cancel)
    {
        foreach (var job in await DueAsync(cancel))
            await GuardedAsync(job, () => SettleAsync(job, cancel));
        var next = await turns.MoveAllAsync(cancel);
        await using var db = database.CreateDbContext();
        var due = await db.Jobs.Where(j => j.NextDueAt != null).MinAsync(j => j.NextDueAt, cancel);
        // What is still due could not be settled; it is not tried again without a breath.
        var now = clock.GetUtcNow();
        due = due <= now ? now + AfterDefect : due;
        return due is null || next < due ? next : due;
    }

    private void Hear(LiveEvent what)
    {
        if (what is { Topic: "run", Phase: "done" or "ready" or "failed" or "superseded" } or { Topic: "job", Phase: "ended" })
            Wake();
    }

    private async Task PauseAsync(DateTimeOffset? next, CancellationToken cancel)
    {
        var wait = next is { } due ? due - clock.GetUtcNow() : AtMost;
        wait = wait > AtMost ? AtMost : wait;
        if (wait < AtLeast)
            wait = AtLeast;
        using var first = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        await Task.WhenAny(Task.Delay(wait, clock, first.Token), _news.WaitAsync(first.Token));
        await first.CancelAsync();
        cancel.ThrowIfCancellationRequested();
    }

    // Those that are due, and those whose clock ran far ahead.
    private async Task<List<string>> DueAsync(CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var ahead = now + DuePlan.MostSetBack;
        await using var db = database.CreateDbContext();
        return await db
            .Jobs.Where(j => !j.Off && (j.NextDueAt <= now || (j.NextDueAt != null && j.SettledUntil > ahead)))
            .OrderBy(j => j.NextDueAt)
            .Select(j => j.Id)
            .ToListAsync(cancel);
    }

    // One job that breaks never stops the others; it is looked at again with the next beat.
    private async Task GuardedAsync(string job, Func<Task> act)
    {
        try
        {
            await act();
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "Job {Job} was due but its turn could not begin; it is tried again", job);
        }
    }

    private async Task SettleAsync(string jobId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var job = await db.Jobs.Include(j => j.Lanes).FirstAsync(j => j.Id == jobId, cancel);
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        if (JobTimes.Of(job, daysOff) is { } times)
        {
            var open = await db
                .Turns.Where(t => t.JobId == jobId && (t.State == TurnState.Working || t.State == TurnState.Waiting))
                .ToListAsync(cancel);
            var waiting = open.Find(t => t.State == TurnState.Waiting);
            var work =
                waiting is not null ? JobWork.Waits
                : open.Count > 0 ? JobWork.AtWork
                : JobWork.Idle;
            var habits = new DueHabits(job.WhenAtWork, job.WhenMissed);
            var settled = DuePlan.Settle(times, JobTimes.Standing(job), habits, work, clock.GetUtcNow());
            await NoteAsync(db, job, settled.Times, waiting, work, cancel);
            (job.SettledUntil, job.SkipNext, job.PausedUntil) = (
                settled.Standing.SettledUntil,
                settled.Standing.SkipNext,
                settled.Standing.PausedUntil
            );
        }

        JobTimes.Arm(job, daysOff);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        live.Tell(new LiveEvent("job", jobId));
    }

    private async Task NoteAsync(
        NarbitContext db,
        Job job,
        IReadOnlyList<DueTimes> times,
        JobTurn? waiting,
        JobWork work,
        CancellationToken cancel
    )
    {
        var shared = times.Where(t => t.Fate == DueFate.Shared).Sum(t => t.Count);
        var before = await db.Turns.Where(t => t.JobId == job.Id).OrderByDescending(t => t.Id).FirstOrDefaultAsync(cancel);
        foreach (var some in times.Where(t => t.Fate != DueFate.Shared))
            if (some.Fate == DueFate.Run)
                db.Turns.Add(before = Turn(job, some, shared, work));
            else if (before is { State: TurnState.NotRun } && before.Fate == some.Fate)
                (before.DueUntil, before.Times) = (some.Last, before.Times + some.Count);
            else
                db.Turns.Add(before = NotRun(job, some));
        if (waiting is not null && shared > 0)
            // What it stands for now is every time that passed, so it looks at everything.
            (waiting.DueUntil, waiting.Times, waiting.Scope) = (times[^1].Last, waiting.Times + shared, null);
    }

    private JobTurn Turn(Job job, DueTimes due, int shared, JobWork work) =>
        new()
        {
            JobId = job.Id,
            DueAt = due.First,
            DueUntil = due.Last,
            Times = due.Count + shared,
            Trigger = RunTrigger.Timetable,
            StartedBy = Clock,
            Fate = DueFate.Run,
            State = work == JobWork.Idle ? TurnState.Working : TurnState.Waiting,
            StartedAt = work == JobWork.Idle ? clock.GetUtcNow() : null,
            Steps = TurnMover.Steps(job),
        };

    private JobTurn NotRun(Job job, DueTimes due) =>
        new()
        {
            JobId = job.Id,
            DueAt = due.First,
            DueUntil = due.Last,
            Times = due.Count,
            Trigger = RunTrigger.Timetable,
            StartedBy = Clock,
            Fate = due.Fate,
            State = TurnState.NotRun,
            EndedAt = clock.GetUtcNow(),
        };
}
