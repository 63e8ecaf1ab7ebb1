using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Engine;
using Narbit.Engine.Runs;
using Quartz;

namespace Narbit.Web.Timetable;

/// <summary>
/// Starts lanes when they are due. What is due when lies in the database, so a restart forgets nothing; Quartz only wakes us.
/// </summary>
public sealed class LaneTimetable(
    Database database,
    RunDesk runs,
    ISchedulerFactory schedulers,
    TimeProvider clock,
    LiveFeed live,
    ILogger<LaneTimetable> log
)
{
    /// <summary>Arms every lane; one that was due while nothing ran starts at once.</summary>
    public async Task ArmAllAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        foreach (var lane in await db.Lanes.AsNoTracking().Where(l => l.EveryMinutes != null && !l.Paused).ToListAsync(cancel))
            await ArmAsync(lane.Id, lane.NextDueAt ?? clock.GetUtcNow(), cancel);
    }

    /// <summary>Sets a lane's timetable.</summary>
    public async Task<Reason?> SetAsync(string laneId, int? everyMinutes, bool paused, CancellationToken cancel)
    {
        if (everyMinutes is { } minutes && !new Interval(TimeSpan.FromMinutes(minutes)).Valid)
            return new Reason("timetable.invalid", "A lane can run every 1 minute to every 24 hours.");
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.FirstOrDefaultAsync(l => l.Id == laneId, cancel);
        if (lane is null)
            return new Reason("lane.unknown", $"There is no lane “{laneId}”.");
        (lane.EveryMinutes, lane.Paused) = (everyMinutes, paused);
        lane.NextDueAt = everyMinutes is { } every && !paused ? new Interval(TimeSpan.FromMinutes(every)).Next(clock.GetUtcNow()) : null;
        await db.SaveChangesAsync(cancel);
        if (lane.NextDueAt is { } due)
            await ArmAsync(laneId, due, cancel);
        else
            await (await schedulers.GetScheduler(cancel)).UnscheduleJob(Trigger(laneId), cancel);
        live.Tell(new LiveEvent("lane", laneId));
        return null;
    }

    /// <summary>Starts a lane that is due and arms it for the next time, whatever keeps it from starting now.</summary>
    public async Task DueAsync(string laneId, CancellationToken cancel)
    {
        Interval? interval = new Interval(TimeSpan.FromMinutes(1));
        try
        {
            interval = await EveryAsync(laneId, cancel);
            if (interval is not null)
                await StartAsync(laneId, cancel);
        }
        finally
        {
            if (interval is { } next)
                await NextAsync(laneId, next, cancel);
        }
    }

    private async Task<Interval?> EveryAsync(string laneId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var every = await db.Lanes.Where(l => l.Id == laneId && !l.Paused).Select(l => l.EveryMinutes).FirstOrDefaultAsync(cancel);
        return every is { } minutes ? new Interval(TimeSpan.FromMinutes(minutes)) : null;
    }

    private async Task StartAsync(string laneId, CancellationToken cancel)
    {
        var started = await runs.StartAsync(laneId, preview: false, RunTrigger.Timetable, "Timetable", cancel);
        if (started.Fault is { } busy)
            log.LogInformation("Lane {Lane} was due but did not start: {Why}", laneId, busy.Words);
    }

    private async Task NextAsync(string laneId, Interval interval, CancellationToken cancel)
    {
        var due = interval.Next(clock.GetUtcNow());
        await ArmAsync(laneId, due, cancel);
        await using var db = database.CreateDbContext();
        await db.Lanes.Where(l => l.Id == laneId).ExecuteUpdateAsync(s => s.SetProperty(l => l.NextDueAt, due), cancel);
        live.Tell(new LiveEvent("lane", laneId));
    }

    private async Task ArmAsync(string laneId, DateTimeOffset at, CancellationToken cancel)
    {
        var scheduler = await schedulers.GetScheduler(cancel);
        var trigger = TriggerBuilder
            .Create()
            .WithIdentity(Trigger(laneId))
            .ForJob(LaneJob.Key)
            .UsingJobData(LaneJob.Lane, laneId)
            .StartAt(at)
            .Build();
        if (await scheduler.RescheduleJob(Trigger(laneId), trigger, cancel) is null)
            await scheduler.ScheduleJob(trigger, cancellationToken: cancel);
    }

    private static TriggerKey Trigger(string laneId) => new(laneId, "lanes");
}

/// <summary>What Quartz calls when a lane is due.</summary>
public sealed class LaneJob(LaneTimetable timetable) : IJob
{
    public const string Lane = "lane";
    public static readonly JobKey Key = new("lane", "narbit");

    public async ValueTask Execute(IJobExecutionContext context, CancellationToken cancellationToken) =>
        await timetable.DueAsync(context.MergedJobDataMap.GetString(Lane)!, cancellationToken);
}
