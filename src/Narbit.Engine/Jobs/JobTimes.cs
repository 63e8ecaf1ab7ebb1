using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;

namespace Narbit.Engine.Jobs;

/// <summary>The times of jobs, with the days off that hold for the whole workspace.</summary>
public static class JobTimes
{
    /// <summary>The days off, ISO 8601.</summary>
    public static async Task<IReadOnlyList<string>> DaysOffAsync(NarbitContext db, CancellationToken cancel) =>
        await db.DaysOff.OrderBy(d => d.Date).Select(d => d.Date).ToListAsync(cancel);

    /// <summary>The times of a timetable on all days but those off; or what is wrong with it.</summary>
    public static Outcome<TimetableTimes> Of(Timetable timetable, IReadOnlyList<string> daysOff) =>
        (daysOff.Count == 0 ? timetable : timetable with { Except = [.. timetable.Except ?? [], .. daysOff] }).Times();

    /// <summary>The times of a job; null: it has none, or they cannot be told.</summary>
    public static TimetableTimes? Of(Job job, IReadOnlyList<string> daysOff) =>
        JobJson.ReadTimetable(job.Timetable) is { } timetable ? Of(timetable, daysOff).ValueOrDefault : null;

    /// <summary>Where a job stands with its times.</summary>
    public static DueStanding Standing(Job job) => new(job.SettledUntil, job.SkipNext, job.PausedUntil);

    /// <summary>The times at which turns of a job will begin.</summary>
    public static IEnumerable<DateTimeOffset> Coming(Job job, IReadOnlyList<string> daysOff, DateTimeOffset now) =>
        job.Off || Of(job, daysOff) is not { } times ? [] : DuePlan.Coming(times, Standing(job), now);

    /// <summary>Notes when a job is looked at next; called whenever its times may be others.</summary>
    public static void Arm(Job job, IReadOnlyList<string> daysOff) =>
        job.NextDueAt =
            job.Off || Of(job, daysOff) is not { } times
                ? null
                : times.After(job.SettledUntil).Select(t => (DateTimeOffset?)t).FirstOrDefault();

    /// <summary>Arms a job whose times begin to count now; what passed before does not count.</summary>
    public static void Begin(Job job, IReadOnlyList<string> daysOff, DateTimeOffset now)
    {
        job.SettledUntil = now;
        Arm(job, daysOff);
    }
}
