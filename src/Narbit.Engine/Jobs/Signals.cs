using System.Globalization;
using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;

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
    // Whatever ended so long before the last run's end has been told of.
    private static readonly TimeSpan Lately = TimeSpan.FromMinutes(1);

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
            if (!touched.Through.Contains(job.Id) && await IsAboutAsync(db, job, touched, cancel))
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

    /// <summary>Tells what runs have written, until it is told to stop.</summary>
    public async Task WorkAsync(CancellationToken cancel)
    {
        var done = Channel.CreateUnbounded<long>();
        void Hear(LiveEvent what)
        {
            if (what is { Topic: "run", Phase: "done" })
                done.Writer.TryWrite(long.Parse(what.Id, CultureInfo.InvariantCulture));
        }

        live.Happened += Hear;
        try
        {
            await CatchUpAsync(cancel);
            await foreach (var run in done.Reader.ReadAllAsync(cancel))
                await WroteAsync(run, cancel);
        }
        finally
        {
            live.Happened -= Hear;
        }
    }

    /// <summary>
    /// Tells of the runs that ended last, where nobody was told since: a process may have ended between a run's end and the telling.
    /// Whoever hears of one twice finds nothing new.
    /// </summary>
    public async Task CatchUpAsync(CancellationToken cancel)
    {
        List<long> untold = [];
        await using (var db = database.CreateDbContext())
        {
            var ended = db.Runs.Where(r => r.State == RunState.Done && r.EndedAt != null);
            if (await ended.MaxAsync(r => r.EndedAt, cancel) is not { } last)
                return;
            var since = last - Lately;
            untold = await ended
                .Where(r => r.EndedAt >= since)
                .Where(r => !db.Turns.Any(t => t.Trigger == RunTrigger.Event && t.DueAt >= r.EndedAt))
                .OrderBy(r => r.Id)
                .Select(r => r.Id)
                .ToListAsync(cancel);
        }

        foreach (var run in untold)
            await WroteAsync(run, cancel);
    }

    /// <summary>Tells what a run has touched to the jobs that it did not come through.</summary>
    public async Task WroteAsync(long runId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (!await db.Jobs.AnyAsync(j => j.AtOnce && !j.Off, cancel))
            return;
        if (await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == runId, cancel) is not { State: RunState.Done } run)
            return;
        if (await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == run.LaneId, cancel) is not { } lane)
            return;
        var turn = await db.Turns.AsNoTracking().FirstOrDefaultAsync(t => t.Id == run.TurnId, cancel);
        IReadOnlyList<string> through = turn is null ? [] : [.. turn.Chain.Split(' ', StringSplitOptions.RemoveEmptyEntries), turn.JobId];
        foreach (var touched in await LaneWorks.Of(lane.Kind).Reading.TouchedByAsync(db, lane, run, cancel))
            await TellAsync(touched with { Through = through }, lane.Name ?? LaneWorks.Of(lane.Kind).Label, cancel);
    }

    /// <summary>Whether a lane looks at records of a kind in a system.</summary>
    public static bool Hears(Lane lane, string systemId, RecordKind kind)
    {
        var work = LaneWorks.Of(lane.Kind);
        return (lane.SourceId == systemId && work.Reading.Hears(kind))
            || (lane.TargetId == systemId && work.Writing.WritesSource && work.Record == kind);
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
            waiting.Chain = string.Join(' ', waiting.Chain.Split(' ', StringSplitOptions.RemoveEmptyEntries).Union(touched.Through));
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
                Chain = string.Join(' ', touched.Through),
                Steps = TurnMover.Steps(job),
            }
        );
    }
}
