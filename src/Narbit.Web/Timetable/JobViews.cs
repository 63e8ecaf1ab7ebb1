using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Runs;

namespace Narbit.Web.Timetable;

/// <summary>A lane as it is named in a job.</summary>
internal sealed record JobLaneView(string Id, string Name, string Kind, SystemTag Source, SystemTag Target)
{
    /// <summary>Whether the job leaves it out until somebody takes it in again.</summary>
    public bool LeftOut { get; init; }

    /// <summary>Whether it was removed.</summary>
    public bool Removed { get; init; }

    /// <summary>The only fields that the job writes; null: all.</summary>
    public IReadOnlyList<string>? Fields { get; init; }
}

/// <summary>A lane in a turn of a job.</summary>
internal sealed record TurnStepView(
    string LaneId,
    string Lane,
    TurnStepState State,
    long? RunId,
    int Tries,
    DateTimeOffset? AgainAt,
    Reason? Why
);

/// <summary>A turn of a job, or times at which none began.</summary>
internal sealed record TurnView
{
    public required long Id { get; init; }

    public required string JobId { get; init; }

    public required string Job { get; init; }

    /// <summary>When it was due, the first time of several.</summary>
    public required DateTimeOffset DueAt { get; init; }

    /// <summary>The last time that it stands for.</summary>
    public required DateTimeOffset DueUntil { get; init; }

    /// <summary>For how many times of the timetable it stands.</summary>
    public int Times { get; init; }

    public RunTrigger Trigger { get; init; }

    public required string StartedBy { get; init; }

    public DueFate Fate { get; init; }

    /// <summary>How it went: working, waiting, done, waits (for a person), failed, notRun.</summary>
    public required string Outcome { get; init; }

    public DateTimeOffset? StartedAt { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>How many records it is about; null: all.</summary>
    public int? Records { get; init; }

    /// <summary>How many records it wrote.</summary>
    public int Written { get; init; }

    public required IReadOnlyList<TurnStepView> Steps { get; init; }
}

/// <summary>A job as lists and pages show it.</summary>
internal sealed record JobView
{
    public required string Id { get; init; }

    public required JobDocument Document { get; init; }

    /// <summary>What it does by itself, in words.</summary>
    public required string Words { get; init; }

    public required IReadOnlyList<JobLaneView> Lanes { get; init; }

    /// <summary>The next times at which turns begin, five at most.</summary>
    public required IReadOnlyList<DateTimeOffset> Next { get; init; }

    public bool Paused { get; init; }

    /// <summary>Until when it is paused; null: until further notice, or it is not.</summary>
    public DateTimeOffset? PausedUntil { get; init; }

    /// <summary>So many of its next times are left out.</summary>
    public int SkipNext { get; init; }

    public TurnView? AtWork { get; init; }

    public TurnView? Last { get; init; }

    /// <summary>What a person should know of how it came to be as it is.</summary>
    public Reason? Notice { get; init; }

    /// <summary>Why its times cannot be told; null: they can.</summary>
    public Reason? Fault { get; init; }
}

/// <summary>Puts together what is shown of jobs and turns.</summary>
internal sealed class JobViews
{
    private readonly NarbitContext _db;
    private readonly DateTimeOffset _now;
    private Dictionary<string, Lane> _lanes = [];
    private Dictionary<string, SystemTag> _systems = [];
    private IReadOnlyList<string> _daysOff = [];

    private JobViews(NarbitContext db, DateTimeOffset now) => (_db, _now) = (db, now);

    /// <summary>Looks up what all of them name.</summary>
    public static async Task<JobViews> OpenAsync(NarbitContext db, DateTimeOffset now, CancellationToken cancel) =>
        new(db, now)
        {
            _lanes = await db.Lanes.IgnoreQueryFilters().AsNoTracking().ToDictionaryAsync(l => l.Id, cancel),
            _systems = await db.Systems.IgnoreQueryFilters().AsNoTracking().ToDictionaryAsync(s => s.Id, SystemTag.Of, cancel),
            _daysOff = await JobTimes.DaysOffAsync(db, cancel),
        };

    /// <summary>Jobs as they are shown, in the order in which they are given.</summary>
    public async Task<IReadOnlyList<JobView>> JobsAsync(IReadOnlyList<Job> jobs, CancellationToken cancel)
    {
        var ids = jobs.Select(j => j.Id).ToList();
        var open = await _db
            .Turns.AsNoTracking()
            .Include(t => t.Steps)
            .Where(t => ids.Contains(t.JobId) && t.State == TurnState.Working)
            .ToListAsync(cancel);
        var last = new List<JobTurn>();
        // One by one, each is at the end of an index; of all at once every turn would be looked at.
        foreach (var id in ids)
            if (await LastAsync(id, cancel) is { } turn)
                last.Add(turn);
        var turns = await TurnsAsync([.. open, .. last], jobs.ToDictionary(j => j.Id, j => j.Name), cancel);
        return [.. jobs.Select(j => Of(j, turns))];
    }

    private Task<JobTurn?> LastAsync(string job, CancellationToken cancel) =>
        _db
            .Turns.AsNoTracking()
            .Include(t => t.Steps)
            .Where(t => t.JobId == job && t.State != TurnState.Working && t.State != TurnState.Waiting)
            .OrderByDescending(t => t.DueAt)
            .FirstOrDefaultAsync(cancel);

    /// <summary>Turns as they are shown, in the order in which they are given.</summary>
    public async Task<IReadOnlyList<TurnView>> TurnsAsync(
        IReadOnlyList<JobTurn> turns,
        IReadOnlyDictionary<string, string> names,
        CancellationToken cancel
    )
    {
        var runs = turns.SelectMany(t => t.Steps).Select(s => s.RunId).OfType<long>().ToHashSet();
        var outcomes = await RunOutcomes.OfAsync(_db, runs, cancel);
        return [.. turns.Select(t => Of(t, names.GetValueOrDefault(t.JobId, t.JobId), outcomes))];
    }

    /// <summary>A lane's name as lists of jobs have it.</summary>
    public string NameOf(string laneId) =>
        _lanes.TryGetValue(laneId, out var lane)
            ? $"{lane.Name ?? LaneWorks.Of(lane.Kind).Label} → {_systems[lane.TargetId].Name}"
            : laneId;

    /// <summary>The times at which turns of a job will begin.</summary>
    public IEnumerable<DateTimeOffset> Coming(Job job) => JobTimes.Coming(job, _daysOff, _now);

    private JobView Of(Job job, IReadOnlyList<TurnView> turns)
    {
        var document = JobJson.Of(job);
        var paused = job.PausedUntil > _now;
        return new JobView
        {
            Id = job.Id,
            Document = document,
            Words = JobActs.Words(job),
            Lanes = [.. document.Lanes.Where(l => _lanes.ContainsKey(l.Lane)).Select(LaneOf)],
            Next = [.. Coming(job).Take(JobEffect.Shown)],
            Paused = paused,
            PausedUntil = paused && job.PausedUntil < DateTimeOffset.MaxValue ? job.PausedUntil : null,
            SkipNext = job.SkipNext,
            AtWork = turns.FirstOrDefault(t => t.JobId == job.Id && t.Outcome == "working"),
            Last = turns.FirstOrDefault(t => t.JobId == job.Id && t.Outcome != "working"),
            Notice = job.Notice?.Reason,
            Fault = document.Timetable is { } timetable ? JobTimes.Of(timetable, _daysOff).Fault : null,
        };
    }

    private JobLaneView LaneOf(LaneInJob entry)
    {
        var lane = _lanes[entry.Lane];
        return new JobLaneView(
            lane.Id,
            lane.Name ?? LaneWorks.Of(lane.Kind).Label,
            lane.Kind,
            _systems[lane.SourceId],
            _systems[lane.TargetId]
        )
        {
            LeftOut = lane.Paused,
            Removed = lane.RemovedAt is not null,
            Fields = entry.Fields,
        };
    }

    private TurnView Of(JobTurn turn, string name, IReadOnlyDictionary<long, RunOutcome> outcomes)
    {
        var steps = turn.Steps.OrderBy(s => s.Place).ToList();
        var runs = steps.Select(s => s.RunId).OfType<long>().Where(outcomes.ContainsKey).Select(r => outcomes[r]).ToList();
        return new TurnView
        {
            Id = turn.Id,
            JobId = turn.JobId,
            Job = name,
            DueAt = turn.DueAt,
            DueUntil = turn.DueUntil,
            Times = turn.Times,
            Trigger = turn.Trigger,
            StartedBy = turn.StartedBy,
            Fate = turn.Fate,
            Outcome = Outcome(turn, runs),
            StartedAt = turn.StartedAt,
            EndedAt = turn.EndedAt,
            Records = turn.Scope is null ? null : TurnScope.Read(turn.Scope).Count,
            Written = runs.Sum(r => r.Written),
            Steps =
            [
                .. steps.Select(s => new TurnStepView(s.LaneId, NameOf(s.LaneId), s.State, s.RunId, s.Tries, s.AgainAt, s.Why?.Reason)),
            ],
        };
    }

    private static string Outcome(JobTurn turn, List<RunOutcome> runs) =>
        turn.State switch
        {
            TurnState.Working => "working",
            TurnState.Waiting => "waiting",
            TurnState.NotRun => "notRun",
            TurnState.Failed => "failed",
            _ => runs.Exists(r => r.Word == "failed") ? "failed"
            : runs.Exists(r => r.Word == "waits") ? "waits"
            : "done",
        };
}
