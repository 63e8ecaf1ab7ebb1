using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Runs;

namespace Narbit.Engine.Jobs;

/// <summary>What is decided about jobs: what they are, and what is done with them in hand. All of it can be looked at before.</summary>
/// <param name="database">Where jobs are.</param>
/// <param name="beat">What keeps their times.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
public sealed class JobDesk(Database database, JobClock beat, LiveFeed live, TimeProvider clock)
{
    private const int MostJobs = 2000;

    /// <summary>What a job would be like, before it is kept.</summary>
    /// <param name="id">The job that is changed; null: a new one.</param>
    /// <param name="document">What it would be.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<JobEffect>> LookAsync(string? id, JobDocument document, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await JobCheck.FaultAsync(db, id, document, cancel) is { } fault)
            return fault;
        var job = await DraftedAsync(db, id, document, cancel);
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        return await EffectAsync(db, job, JobActs.Words(job), daysOff, cancel);
    }

    /// <summary>Keeps a job, or makes one.</summary>
    /// <param name="id">The job that is changed; null: a new one.</param>
    /// <param name="document">What it is to be.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Its short name, or why it cannot be kept.</returns>
    public async Task<Outcome<string>> SaveAsync(string? id, JobDocument document, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await JobCheck.FaultAsync(db, id, document, cancel) is { } fault)
            return fault;
        if (id is null && await db.Jobs.CountAsync(cancel) >= MostJobs)
            return new Reason("job.tooMany", $"There are {MostJobs:N0} jobs already; remove one first.");
        var name = id ?? await FreeIdAsync(db, document.Name, cancel);
        await PutAsync(db, name, document, clock.GetUtcNow(), cancel);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        Tell(name);
        return name;
    }

    /// <summary>Puts a checked job into the caller's transaction; where its times stay as they were, none of them is lost.</summary>
    internal static async Task PutAsync(NarbitContext db, string id, JobDocument document, DateTimeOffset now, CancellationToken cancel)
    {
        var job = await db.Jobs.IgnoreQueryFilters().Include(j => j.Lanes).FirstOrDefaultAsync(j => j.Id == id, cancel);
        var (before, wasOff) = (job?.Timetable, job?.Off == true || job?.RemovedAt is not null);
        if (job is null)
            db.Jobs.Add(job = new Job { Id = id, Name = document.Name });
        db.JobLanes.RemoveRange(job.Lanes);
        await db.SaveChangesAsync(cancel);
        JobJson.Into(job, document);
        job.RemovedAt = null;
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        if (job.SettledUntil == default || before != job.Timetable || wasOff)
            JobTimes.Begin(job, daysOff, now);
        else
            JobTimes.Arm(job, daysOff);
    }

    /// <summary>What follows from doing something with a job, before it is done.</summary>
    public async Task<Outcome<JobEffect>> LookAsync(string id, JobAct act, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Jobs.AsNoTracking().Include(j => j.Lanes).FirstOrDefaultAsync(j => j.Id == id, cancel) is not { } job)
            return Unknown(id);
        var now = clock.GetUtcNow();
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        var atWork = await db.Turns.AnyAsync(t => t.JobId == id && t.State == TurnState.Working, cancel);
        var words = JobActs.Do(job, act, now, daysOff, atWork);
        return words.Fault is { } fault ? fault : await EffectAsync(db, job, words.Value, daysOff, cancel);
    }

    /// <summary>Does something with a job.</summary>
    /// <returns>What became of it in words; or why it cannot be done.</returns>
    public async Task<Outcome<string>> DoAsync(string id, JobAct act, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await db.Jobs.Include(j => j.Lanes).FirstOrDefaultAsync(j => j.Id == id, cancel) is not { } job)
            return Unknown(id);
        var now = clock.GetUtcNow();
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        var open = await db
            .Turns.Where(t => t.JobId == id && (t.State == TurnState.Working || t.State == TurnState.Waiting))
            .ToListAsync(cancel);
        var words = JobActs.Do(job, act, now, daysOff, open.Count > 0);
        if (words.Fault is { } fault)
            return fault;
        if (act.Kind == JobActKind.RunNow)
            Begin(db, job, open, by, now);
        JobTimes.Arm(job, daysOff);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        Tell(id);
        return words.Value;
    }

    /// <summary>Removes a job; its lanes run by hand then, and what it did stays readable.</summary>
    /// <returns>Why it stays; null: it is removed.</returns>
    public async Task<Reason?> RemoveAsync(string id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Jobs.Include(j => j.Lanes).FirstOrDefaultAsync(j => j.Id == id, cancel) is not { } job)
            return Unknown(id);
        (job.RemovedAt, job.NextDueAt) = (clock.GetUtcNow(), null);
        job.LanesBefore = JobJson.WriteLanes(JobJson.Of(job).Lanes);
        db.JobLanes.RemoveRange(job.Lanes);
        await db.SaveChangesAsync(cancel);
        Tell(id);
        return null;
    }

    /// <summary>Brings a job back with those of its lanes that are in no other job meanwhile; what it missed is not made up for.</summary>
    /// <returns>Why it stays removed; null: it is back.</returns>
    public async Task<Reason?> BringBackAsync(string id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await db.Jobs.IgnoreQueryFilters().FirstOrDefaultAsync(j => j.Id == id && j.RemovedAt != null, cancel) is not { } job)
            return new Reason("job.unknown", $"There is no removed job “{id}”.");
        var taken = await db.JobLanes.Select(l => l.LaneId).ToListAsync(cancel);
        var free = JobJson.ReadLanes(job.LanesBefore).Where(l => !taken.Contains(l.Lane)).ToList();
        if (free.Count == 0)
            return new Reason("job.laneElsewhere", "All its lanes are in other jobs now; take one out there first.");
        await PutAsync(db, id, JobJson.Of(job) with { Lanes = free }, clock.GetUtcNow(), cancel);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        Tell(id);
        return null;
    }

    /// <summary>Sets the days on which no job begins by the clock.</summary>
    /// <returns>Why they cannot be set; null: they are.</returns>
    public async Task<Reason?> SetDaysOffAsync(IReadOnlyList<DayOff> days, CancellationToken cancel)
    {
        if (days.FirstOrDefault(d => !JobCheck.IsDate(d.Date)) is { } unread)
            return new Reason("timetable.invalid", $"“{unread.Date}” is no date; one is 2026-12-24.");
        if (days.GroupBy(d => d.Date, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return new Reason("timetable.invalid", $"{twice.Key} stands here twice.");
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.DaysOff.ExecuteDeleteAsync(cancel);
        db.DaysOff.AddRange(
            days.Select(d => new DayOff { Date = d.Date, Name = string.IsNullOrWhiteSpace(d.Name) ? null : d.Name.Trim() })
        );
        var dates = days.Select(d => d.Date).ToList();
        foreach (var job in await db.Jobs.ToListAsync(cancel))
            JobTimes.Arm(job, dates);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        Tell("");
        return null;
    }

    private void Tell(string id)
    {
        live.Tell(new LiveEvent("job", id));
        beat.Wake();
    }

    // What is asked for while a turn is at work waits for its end; one that waits already does it.
    private static void Begin(NarbitContext db, Job job, List<JobTurn> open, string by, DateTimeOffset now)
    {
        if (open.Find(t => t.State == TurnState.Waiting) is { } waiting)
        {
            waiting.Scope = null;
            return;
        }

        db.Turns.Add(
            new JobTurn
            {
                JobId = job.Id,
                DueAt = now,
                DueUntil = now,
                Times = 0,
                Trigger = RunTrigger.Person,
                StartedBy = by,
                Fate = DueFate.Run,
                State = open.Count == 0 ? TurnState.Working : TurnState.Waiting,
                StartedAt = open.Count == 0 ? now : null,
                Steps = TurnMover.Steps(job),
            }
        );
    }

    // What is paused or left out stays so, whatever else of the job is changed.
    private async Task<Job> DraftedAsync(NarbitContext db, string? id, JobDocument document, CancellationToken cancel)
    {
        var kept = await db.Jobs.AsNoTracking().FirstOrDefaultAsync(j => j.Id == id, cancel);
        var job = new Job
        {
            Id = id ?? "",
            Name = document.Name,
            SettledUntil = clock.GetUtcNow(),
            SkipNext = kept?.SkipNext ?? 0,
            PausedUntil = kept?.PausedUntil,
        };
        JobJson.Into(job, document);
        return job;
    }

    private async Task<JobEffect> EffectAsync(
        NarbitContext db,
        Job job,
        string words,
        IReadOnlyList<string> daysOff,
        CancellationToken cancel
    )
    {
        var now = clock.GetUtcNow();
        var timetable = JobJson.ReadTimetable(job.Timetable);
        return new JobEffect
        {
            Words = words,
            Zone = timetable?.Zone,
            Next = [.. JobTimes.Coming(job, daysOff, now).Take(JobEffect.Shown)],
            Surprises = timetable is null ? [] : TimetableWords.Surprises(timetable, now),
            Requests = await ExpectedRequests.OfAsync(db, job, daysOff, now, cancel),
        };
    }

    private static Reason Unknown(string id) => new("job.unknown", $"There is no job “{id}”.");

    private static async Task<string> FreeIdAsync(NarbitContext db, string name, CancellationToken cancel)
    {
        var wanted = JobCheck.ShortNameOf(name);
        var taken = await db.Jobs.IgnoreQueryFilters().Where(j => j.Id.StartsWith(wanted)).Select(j => j.Id).ToListAsync(cancel);
        return Enumerable.Range(1, taken.Count + 1).Select(n => n == 1 ? wanted : $"{wanted}-{n}").First(id => !taken.Contains(id));
    }
}
