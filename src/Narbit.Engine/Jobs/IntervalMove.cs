using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Jobs;

/// <summary>
/// Makes jobs of the intervals that lanes had before there were jobs: a job for each such lane, at the same times where a timetable can
/// have them. Where it cannot, since a timetable begins anew with each local day, the job says so.
/// </summary>
public static class IntervalMove
{
    // Times are compared over a year, so that both changes of the clocks are among them.
    private const int Days = 366;

    /// <summary>Moves what is left of them over.</summary>
    public static async Task MoveAsync(Database database, DateTimeOffset now, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lanes = await db.Lanes.Where(l => l.EveryMinutes != null).ToListAsync(cancel);
        if (lanes.Count == 0)
            return;
        var zone = await db.Workspaces.Select(w => w.TimeZone).FirstOrDefaultAsync(cancel) ?? "UTC";
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        var names = await db.Systems.ToDictionaryAsync(s => s.Id, s => s.Name, cancel);
        // Lanes on a timetable were begun by webhooks too.
        var hooked = (await db.Systems.Where(s => s.HookSecretAt != null).Select(s => s.Id).ToListAsync(cancel)).ToHashSet();
        foreach (var lane in lanes)
        {
            var job = JobOf(lane, zone, names, daysOff, now);
            job.AtOnce = hooked.Contains(lane.SourceId);
            db.Jobs.Add(job);
            lane.EveryMinutes = null;
        }

        await db.SaveChangesAsync(cancel);
    }

    private static Job JobOf(Lane lane, string zone, Dictionary<string, string> names, IReadOnlyList<string> daysOff, DateTimeOffset now)
    {
        var minutes = lane.EveryMinutes!.Value;
        var timetable = new Timetable
        {
            Zone = zone,
            Every = new TimetableSteps { Minutes = minutes },
        };
        var work = LaneWorks.Of(lane.Kind);
        var name =
            lane.Name
            ?? work.NameOf(names.GetValueOrDefault(lane.SourceId, lane.SourceId), names.GetValueOrDefault(lane.TargetId, lane.TargetId));
        var job = new Job
        {
            Id = lane.Id,
            Name = name,
            Timetable = JobJson.Write(timetable),
            Notice = KeptReason.Of(Notice(minutes, timetable, now)),
            Lanes = [new JobLane { LaneId = lane.Id }],
        };
        JobTimes.Begin(job, daysOff, now);
        return job;
    }

    /// <summary>What is different from before; null: nothing.</summary>
    public static Reason? Notice(int minutes, Timetable timetable, DateTimeOffset now)
    {
        var until = now.AddDays(Days);
        var before = new Interval(TimeSpan.FromMinutes(minutes)).Between(now, until);
        if (timetable.Times().ValueOrDefault is { } times && before.SequenceEqual(times.After(now).TakeWhile(t => t <= until)))
            return null;
        return new Reason(
            "job.timesMoved",
            $"Its {minutes} minutes were counted from midnight UTC, without an end. Now every day begins anew at midnight in "
                + $"{timetable.Zone}, so its times are others than before."
        );
    }
}
