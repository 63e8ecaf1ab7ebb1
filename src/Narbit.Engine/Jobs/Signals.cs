using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Jobs;

/// <summary>
/// Begins small turns of the jobs that run at once, when records that they are about were touched. While a turn is at work, what happens
/// is gathered in the one that waits for its end, so that many events make few turns.
/// </summary>
/// <param name="database">Where jobs are.</param>
/// <param name="beat">What moves turns on.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
public sealed class Signals(Database database, JobClock beat, LiveFeed live, TimeProvider clock)
{
    /// <summary>Tells that records were touched.</summary>
    /// <param name="touched">The records; what is new of them is in the mirror already.</param>
    /// <param name="by">What tells so, for people.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>The jobs that look at them.</returns>
    public async Task<IReadOnlyList<string>> TellAsync(RecordsTouched touched, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var told = new List<string>();
        foreach (var job in await ListeningAsync(db, cancel))
            if (await IsAboutAsync(db, job, touched, cancel))
            {
                await AddAsync(db, job, touched, by, cancel);
                told.Add(job.Id);
            }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        foreach (var job in told)
            live.Tell(new LiveEvent("job", job));
        if (told.Count > 0)
            beat.Wake();
        return told;
    }

    /// <summary>Whether a lane looks at records of a kind in a system.</summary>
    public static bool Hears(Lane lane, string systemId, RecordKind kind)
    {
        var work = LaneWorks.Of(lane.Kind);
        return (lane.SourceId == systemId && work.Hears(kind)) || (lane.TargetId == systemId && work.WritesSource && work.Record == kind);
    }

    private Task<List<Job>> ListeningAsync(NarbitContext db, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        return db
            .Jobs.Include(j => j.Lanes)
            .Where(j => j.AtOnce && !j.Off && (j.PausedUntil == null || j.PausedUntil <= now))
            .ToListAsync(cancel);
    }

    private static async Task<bool> IsAboutAsync(NarbitContext db, Job job, RecordsTouched touched, CancellationToken cancel)
    {
        var ids = job.Lanes.Select(l => l.LaneId).ToList();
        var lanes = await db.Lanes.AsNoTracking().Where(l => ids.Contains(l.Id) && !l.Off && !l.Paused).ToListAsync(cancel);
        return lanes.Exists(l => Hears(l, touched.SystemId, touched.Kind));
    }

    private async Task AddAsync(NarbitContext db, Job job, RecordsTouched touched, string by, CancellationToken cancel)
    {
        var open = await db
            .Turns.Where(t => t.JobId == job.Id && (t.State == TurnState.Working || t.State == TurnState.Waiting))
            .ToListAsync(cancel);
        if (open.Find(t => t.State == TurnState.Waiting) is { } waiting)
        {
            // One that looks at everything looks at these too.
            if (waiting.Scope is null)
                return;
            var more = TurnScope.Read(waiting.Scope);
            more.Add(touched);
            waiting.Scope = more.Write();
            return;
        }

        var scope = TurnScope.Empty();
        scope.Add(touched);
        var now = clock.GetUtcNow();
        db.Turns.Add(
            new JobTurn
            {
                JobId = job.Id,
                DueAt = now,
                DueUntil = now,
                Times = 0,
                Trigger = RunTrigger.Event,
                StartedBy = by,
                Fate = DueFate.Run,
                State = open.Count == 0 ? TurnState.Working : TurnState.Waiting,
                StartedAt = open.Count == 0 ? now : null,
                Scope = scope.Write(),
                Steps = TurnMover.Steps(job),
            }
        );
    }
}
