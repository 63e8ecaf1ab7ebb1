using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Runs;
using Narbit.Engine.Jobs;
using Narbit.Web.Api;

namespace Narbit.Web.Timetable;

/// <summary>An hour of the clock on a ribbon.</summary>
/// <param name="At">When it begins.</param>
/// <param name="Label">What the clock shows then, e.g. <c>02:00</c>.</param>
/// <param name="Changed">Whether the clocks were changed since the hour before.</param>
internal sealed record HourMark(DateTimeOffset At, string Label, bool Changed);

/// <summary>A day off on a ribbon.</summary>
internal sealed record OffMark(DateTimeOffset From, DateTimeOffset Until, string Date, string? Name);

/// <summary>A turn on a ribbon.</summary>
internal sealed record TurnTick(
    long Id,
    DateTimeOffset At,
    DateTimeOffset? EndedAt,
    string Outcome,
    DueFate Fate,
    int Times,
    bool Small,
    long? RunId
);

/// <summary>A job with its day.</summary>
/// <param name="Job">The job.</param>
/// <param name="Past">What ran and what did not, in order.</param>
/// <param name="Coming">When turns will begin.</param>
internal sealed record JobRibbon(JobView Job, IReadOnlyList<TurnTick> Past, IReadOnlyList<DateTimeOffset> Coming);

/// <summary>The jobs of a workspace over a day or a week.</summary>
internal sealed record TimetableView
{
    public required DateTimeOffset From { get; init; }

    public required DateTimeOffset Until { get; init; }

    public required DateTimeOffset Now { get; init; }

    public required string TimeZone { get; init; }

    /// <summary>The first day, ISO 8601.</summary>
    public required string Day { get; init; }

    public required IReadOnlyList<HourMark> Hours { get; init; }

    public required IReadOnlyList<OffMark> Off { get; init; }

    /// <summary>How many jobs there are under the search.</summary>
    public required int Total { get; init; }

    public required IReadOnlyList<JobRibbon> Jobs { get; init; }

    /// <summary>The lanes that are in no job.</summary>
    public required IReadOnlyList<string> ByHand { get; init; }
}

/// <summary>A time at which a turn will begin.</summary>
internal sealed record ComingTurn(string JobId, string Job, DateTimeOffset At, string? Zone);

/// <summary>How the turns of a job went on a day.</summary>
/// <param name="Date">The day, ISO 8601.</param>
/// <param name="Done">Turns that are done.</param>
/// <param name="Waits">Turns of which something waits for a person.</param>
/// <param name="Failed">Turns in which a lane failed.</param>
/// <param name="NotRun">Times at which none began.</param>
/// <param name="MedianSeconds">How long a turn took, in the middle; null: none ran.</param>
/// <param name="Written">Records that were written.</param>
/// <param name="ByClock">Of these, those that the clock's turns wrote: where a job runs at once, what no event told of.</param>
internal sealed record JobDay(string Date, int Done, int Waits, int Failed, int NotRun, double? MedianSeconds, int Written, int ByClock);

/// <summary>Which turns are looked at: all of these must hold.</summary>
internal sealed record TurnFilter
{
    /// <summary>Words in the job's name.</summary>
    public string? Q { get; init; }

    /// <summary>This one turn.</summary>
    public long? Turn { get; init; }

    /// <summary>Turns of this job.</summary>
    public string? Job { get; init; }

    /// <summary>Jobs with a lane of this kind.</summary>
    public string? Kind { get; init; }

    /// <summary>Jobs with a lane from or to this system.</summary>
    public string? System { get; init; }

    /// <summary>done, failed, working, or what a time came to that began no turn: skipped, paused, missed, atWork.</summary>
    public string? Outcome { get; init; }

    public DateTimeOffset? From { get; init; }

    public DateTimeOffset? Until { get; init; }
}

/// <summary>What runs, ran and will run.</summary>
internal static class TimetableApi
{
    private const int MostTicks = 1500;
    private const int MostJobs = 60;
    private const int MostHistory = 20_000;
    private const int MostComing = 1000;
    private const int Week = 7;

    public static void Map(RouteGroupBuilder api)
    {
        var timetable = api.MapGroup("/timetable").WithTags("Timetable");
        timetable.MapGet("/", GetAsync).WithName("timetable");
        timetable.MapGet("/turns", TurnsAsync).WithName("listTurns");
        timetable.MapGet("/coming", ComingAsync).WithName("listComing");
        api.MapGet("/jobs/{id}/history", HistoryAsync).WithName("jobHistory").WithTags("Timetable");
    }

    private static async Task<Results<Ok<TimetableView>, ProblemHttpResult>> GetAsync(
        DateOnly? day,
        int? days,
        int? offset,
        Database database,
        TimeProvider clock,
        [AsParameters] TurnFilter filter,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var zone = await Zones.OfWorkspaceAsync(db, cancel);
        var now = clock.GetUtcNow();
        var first = day ?? DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(now, zone).Date);
        var (from, until) = (Zones.Midnight(first, zone), Zones.Midnight(first.AddDays(days == Week ? Week : 1), zone));
        var jobs = JobsOf(db, filter with { Outcome = null });
        var some = await jobs.AsNoTracking()
            .Include(j => j.Lanes)
            .OrderByDescending(j => j.OnTop)
            .ThenBy(j => j.Name)
            .Skip(Math.Max(0, offset ?? 0))
            .Take(MostJobs)
            .ToListAsync(cancel);
        var views = await JobViews.OpenAsync(db, now, cancel);
        var past = await PastAsync(db, views, some, from, until, cancel);
        var shown = await views.JobsAsync(some, cancel);
        return TypedResults.Ok(
            new TimetableView
            {
                From = from,
                Until = until,
                Now = now,
                TimeZone = zone.Id,
                Day = Text(first),
                Hours = Hours(from, until, zone),
                Off = await OffAsync(db, zone, first, days == Week ? Week : 1, cancel),
                Total = await jobs.CountAsync(cancel),
                Jobs = [.. some.Zip(shown, (j, view) => new JobRibbon(view, [.. past[j.Id]], Coming(views, j, from, until)))],
                ByHand = await db.Lanes.Where(l => !db.JobLanes.Any(j => j.LaneId == l.Id)).Select(l => l.Id).ToListAsync(cancel),
            }
        );
    }

    private static IQueryable<Job> JobsOf(NarbitContext db, TurnFilter filter)
    {
        IQueryable<Job> jobs = db.Jobs;
        if (filter.Job is { } id)
            jobs = jobs.Where(j => j.Id == id);
        if (!string.IsNullOrWhiteSpace(filter.Q))
        {
            var like = Window.Like(filter.Q);
            jobs = jobs.Where(j => EF.Functions.Like(j.Name, like, "\\"));
        }

        if (filter.Kind is { } kind)
            jobs = jobs.Where(j => j.Lanes.Any(e => db.Lanes.Any(l => l.Id == e.LaneId && l.Kind == kind)));
        if (filter.System is { } system)
            jobs = jobs.Where(j => j.Lanes.Any(e => db.Lanes.Any(l => l.Id == e.LaneId && (l.SourceId == system || l.TargetId == system))));
        return jobs;
    }

    private static async Task<ILookup<string, TurnTick>> PastAsync(
        NarbitContext db,
        JobViews views,
        List<Job> jobs,
        DateTimeOffset from,
        DateTimeOffset until,
        CancellationToken cancel
    )
    {
        var ids = jobs.Select(j => j.Id).ToList();
        // The newest where there are more than a ribbon can show.
        var turns = await db
            .Turns.AsNoTracking()
            .Include(t => t.Steps)
            .Where(t => ids.Contains(t.JobId) && t.DueAt >= from && t.DueAt < until)
            .OrderByDescending(t => t.Id)
            .Take(MostTicks)
            .ToListAsync(cancel);
        turns.Reverse();
        var shown = await views.TurnsAsync(turns, jobs.ToDictionary(j => j.Id, j => j.Name), cancel);
        return shown.ToLookup(t => t.JobId, Tick);
    }

    private static TurnTick Tick(TurnView turn) =>
        new(
            turn.Id,
            turn.StartedAt ?? turn.DueAt,
            turn.EndedAt ?? turn.DueUntil,
            turn.Outcome,
            turn.Fate,
            turn.Times,
            turn.Records is not null,
            turn.Steps.Select(s => s.RunId).FirstOrDefault(r => r is not null)
        );

    private static IReadOnlyList<DateTimeOffset> Coming(JobViews views, Job job, DateTimeOffset from, DateTimeOffset until) =>
        [.. views.Coming(job).SkipWhile(t => t < from).TakeWhile(t => t < until).Take(MostTicks)];

    // Hours that pass are elapsed hours; the clock shows on each what it shows.
    private static List<HourMark> Hours(DateTimeOffset from, DateTimeOffset until, TimeZoneInfo zone)
    {
        var marks = new List<HourMark>();
        for (var at = from; at < until; at = at.AddHours(1))
        {
            var local = TimeZoneInfo.ConvertTime(at, zone);
            var changed = at > from && zone.GetUtcOffset(at) != zone.GetUtcOffset(at.AddHours(-1));
            marks.Add(new HourMark(at, local.ToString("HH:mm", System.Globalization.CultureInfo.InvariantCulture), changed));
        }

        return marks;
    }

    private static async Task<IReadOnlyList<OffMark>> OffAsync(
        NarbitContext db,
        TimeZoneInfo zone,
        DateOnly first,
        int days,
        CancellationToken cancel
    )
    {
        var shown = Enumerable.Range(0, days).Select(first.AddDays).ToDictionary(Text);
        var dates = shown.Keys.ToList();
        var off = await db.DaysOff.Where(d => dates.Contains(d.Date)).OrderBy(d => d.Date).ToListAsync(cancel);
        return
        [
            .. off.Select(d => new OffMark(
                Zones.Midnight(shown[d.Date], zone),
                Zones.Midnight(shown[d.Date].AddDays(1), zone),
                d.Date,
                d.Name
            )),
        ];
    }

    private static async Task<Ok<Slice<TurnView>>> TurnsAsync(
        int? offset,
        int? limit,
        Database database,
        TimeProvider clock,
        [AsParameters] TurnFilter filter,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var window = new Window(offset, limit);
        var jobs = JobsOf(db, filter).Select(j => j.Id);
        var turns = With(db.Turns.Where(t => jobs.Contains(t.JobId) && t.State != TurnState.Waiting), filter);
        var total = await turns.CountAsync(cancel);
        var rows = await turns
            .AsNoTracking()
            .Include(t => t.Steps)
            .OrderByDescending(t => t.Id)
            .Skip(window.From)
            .Take(window.Size)
            .ToListAsync(cancel);
        var views = await JobViews.OpenAsync(db, clock.GetUtcNow(), cancel);
        var names = await db.Jobs.ToDictionaryAsync(j => j.Id, j => j.Name, cancel);
        return TypedResults.Ok(new Slice<TurnView>(total, window.From, await views.TurnsAsync(rows, names, cancel)));
    }

    private static IQueryable<JobTurn> With(IQueryable<JobTurn> turns, TurnFilter filter)
    {
        if (filter.Turn is { } turn)
            turns = turns.Where(t => t.Id == turn);
        if (filter.From is { } from)
            turns = turns.Where(t => t.DueUntil >= from);
        if (filter.Until is { } until)
            turns = turns.Where(t => t.DueAt < until);
        return filter.Outcome switch
        {
            "working" => turns.Where(t => t.State == TurnState.Working),
            "done" => turns.Where(t => t.State == TurnState.Done),
            "failed" => turns.Where(t => t.State == TurnState.Failed),
            "past" => turns.Where(t => t.State != TurnState.Working),
            "skipped" => turns.Where(t => t.Fate == DueFate.Skipped),
            "paused" => turns.Where(t => t.Fate == DueFate.Paused),
            "missed" => turns.Where(t => t.Fate == DueFate.Missed),
            "atWork" => turns.Where(t => t.Fate == DueFate.AtWork),
            _ => turns,
        };
    }

    // Of all jobs the next times, the soonest first.
    private static async Task<Ok<Slice<ComingTurn>>> ComingAsync(
        int? offset,
        int? limit,
        Database database,
        TimeProvider clock,
        [AsParameters] TurnFilter filter,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var window = new Window(offset, limit);
        var views = await JobViews.OpenAsync(db, clock.GetUtcNow(), cancel);
        var jobs = await JobsOf(db, filter).AsNoTracking().ToListAsync(cancel);
        var until = filter.Until ?? clock.GetUtcNow().AddDays(1);
        var coming = jobs.SelectMany(j => views.Coming(j).TakeWhile(t => t < until).Take(MostComing).Select(t => (Job: j, At: t)))
            .OrderBy(c => c.At)
            .ThenBy(c => c.Job.Name, StringComparer.Ordinal)
            .Take(MostComing)
            .ToList();
        return TypedResults.Ok(
            new Slice<ComingTurn>(
                coming.Count,
                window.From,
                [
                    .. coming
                        .Skip(window.From)
                        .Take(window.Size)
                        .Select(c => new ComingTurn(c.Job.Id, c.Job.Name, c.At, JobJson.ReadTimetable(c.Job.Timetable)?.Zone)),
                ]
            )
        );
    }

    private static async Task<Results<Ok<IReadOnlyList<JobDay>>, ProblemHttpResult>> HistoryAsync(
        string id,
        int? days,
        Database database,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (!await db.Jobs.AnyAsync(j => j.Id == id, cancel))
            return Problems.NotFound($"There is no job “{id}”.");
        var zone = await Zones.OfWorkspaceAsync(db, cancel);
        var now = clock.GetUtcNow();
        var last = DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(now, zone).Date);
        var count = Math.Clamp(days ?? 14, 1, 60);
        var from = Zones.Midnight(last.AddDays(1 - count), zone);
        var turns = await db
            .Turns.AsNoTracking()
            .Include(t => t.Steps)
            .Where(t => t.JobId == id && t.DueAt >= from)
            .OrderByDescending(t => t.DueAt)
            .Take(MostHistory)
            .ToListAsync(cancel);
        var views = await JobViews.OpenAsync(db, now, cancel);
        var shown = await views.TurnsAsync(turns, new Dictionary<string, string>(), cancel);
        var byDay = shown.ToLookup(t => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(t.DueAt, zone).Date));
        return TypedResults.Ok<IReadOnlyList<JobDay>>([
            .. Enumerable.Range(0, count).Select(i => last.AddDays(1 - count + i)).Select(d => Day(d, [.. byDay[d]])),
        ]);
    }

    private static JobDay Day(DateOnly date, List<TurnView> turns)
    {
        var seconds = turns
            .Where(t => t is { StartedAt: not null, EndedAt: not null })
            .Select(t => (t.EndedAt!.Value - t.StartedAt!.Value).TotalSeconds)
            .Order()
            .ToList();
        return new JobDay(
            Text(date),
            turns.Count(t => t.Outcome == "done"),
            turns.Count(t => t.Outcome == "waits"),
            turns.Count(t => t.Outcome == "failed"),
            turns.Where(t => t.Outcome == "notRun").Sum(t => t.Times),
            seconds.Count == 0 ? null : seconds[seconds.Count / 2],
            turns.Sum(t => t.Written),
            turns.Where(t => t.Trigger == RunTrigger.Timetable).Sum(t => t.Written)
        );
    }

    private static string Text(DateOnly day) => day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
}
