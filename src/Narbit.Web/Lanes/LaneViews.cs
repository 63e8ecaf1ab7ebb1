using Microsoft.EntityFrameworkCore;
using Narbit.Core.Guarding;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Web.Lanes;

/// <summary>What a lane does, in the words and with the pages that its kind of work has.</summary>
/// <param name="Kind">The code.</param>
/// <param name="Label">What flows, e.g. <c>Prices</c>.</param>
/// <param name="Noun">What one value of it is called.</param>
/// <param name="MoveUnit">What moves are counted in, or null.</param>
/// <param name="Pairs">Whether it flows between two systems.</param>
/// <param name="Steps">Its pages, in order.</param>
/// <param name="Limits">The guards' limits that mean something to it.</param>
/// <param name="PlaceInJob">Where it goes in a new job: what others depend on goes first.</param>
internal sealed record LaneWorkView(
    string Kind,
    string Label,
    Noun Noun,
    string? MoveUnit,
    bool Pairs,
    string ReferenceLabel,
    string CaptionLabel,
    IReadOnlyList<LaneStep> Steps,
    IReadOnlyList<WatchedLimit> Limits,
    int PlaceInJob
)
{
    /// <summary>A kind of work as it is shown.</summary>
    public static LaneWorkView Of(LaneWork work) =>
        new(
            work.Kind,
            work.Label,
            work.Noun,
            work.MoveUnit,
            work.Pairs,
            work.ReferenceLabel,
            work.CaptionLabel,
            work.Steps,
            work.Limits,
            work.PlaceInJob
        );
}

/// <summary>A lane as lists and pages show it.</summary>
internal sealed record LaneSummary
{
    public required string Id { get; init; }

    public required string Kind { get; init; }

    /// <summary>What flows, e.g. <c>Prices</c>.</summary>
    public required string Name { get; init; }

    public required LaneWorkView Work { get; init; }

    public required SystemTag Source { get; init; }

    public required SystemTag Target { get; init; }

    /// <summary>The target's currency, ISO 4217, in which limits of money are meant.</summary>
    public required string Currency { get; init; }

    public string? SkuStartsWith { get; init; }

    public bool PublishedOnly { get; init; }

    public int RuleNumber { get; init; }

    /// <summary>What of it is at the mismatch desk.</summary>
    public IReadOnlyList<LaneTrouble> Troubles { get; init; } = [];

    /// <summary>The job that it is in; null: it runs by hand.</summary>
    public LaneJob? Job { get; init; }

    /// <summary>Whether its job leaves it out until somebody takes it in again.</summary>
    public bool Paused { get; init; }

    public bool Off { get; init; }

    /// <summary>When its job's next turn begins by the clock; null: not, or without this lane.</summary>
    public DateTimeOffset? NextDueAt { get; init; }

    public DateTimeOffset? ComparedAt { get; init; }

    public long? ComparedRunId { get; init; }

    /// <summary>What its newest comparison says of it.</summary>
    public required LaneStanding Standing { get; init; }

    /// <summary>The short name of its first step that is not ready; null: all are.</summary>
    public string? NextStep { get; init; }

    /// <summary>How many records of the target wait to be paired.</summary>
    public int UnpairedThere { get; init; }

    /// <summary>How many records of the source wait to be paired.</summary>
    public int UnpairedHere { get; init; }

    public int Links { get; init; }

    public long? WorkingRunId { get; init; }

    public long? ReadyRunId { get; init; }

    public bool ReadyIsStopped { get; init; }

    /// <summary>The pairing of the two systems; null: they are not paired, or only through the hub.</summary>
    public long? CoupleId { get; init; }

    /// <summary>Since when nothing is sent, because somebody is pairing; null: the lane is open.</summary>
    public DateTimeOffset? ClosedAt { get; init; }

    public string? ClosedBy { get; init; }

    /// <summary>When the person at work last changed what they have not saved of it; null: nothing is unsaved.</summary>
    public DateTimeOffset? DraftAt { get; init; }
}

/// <summary>The job of a lane.</summary>
/// <param name="Words">What the job does by itself.</param>
internal sealed record LaneJob(string Id, string Name, string Words, bool Paused, bool Off);

internal sealed record LaneScope(string? SkuStartsWith, bool PublishedOnly);

/// <summary>Whether a lane is left out of its job.</summary>
internal sealed record LaneLeftOut(bool LeftOut);

internal sealed record LaneSwitch(bool Off);

/// <summary>What people call a lane; null or blank: what it does.</summary>
internal sealed record LaneNamed(string? Name);

/// <summary>A lane that somebody makes: what flows, from where, to where.</summary>
internal sealed record LaneToAdd(string Kind, string Source, string Target);

/// <summary>Between which systems a lane like another one is made.</summary>
internal sealed record LaneToCopy(string Source, string Target);

/// <summary>A document as a version of it was saved.</summary>
internal sealed record RuleView(int Number, string Author, DateTimeOffset At, string? Note, LaneDocument Document, GuardLimits Guards);

/// <summary>What a rule can be made of.</summary>
/// <param name="PriceLists">What the source's prices can be picked from.</param>
/// <param name="Groups">The price lists that the target keeps.</param>
/// <param name="TargetLists">Those of them that the price itself may go to; none where the target has a regular price.</param>
/// <param name="Locations">The source's locations.</param>
/// <param name="Currency">The target's currency.</param>
/// <param name="Decimals">Its digits after the point.</param>
/// <param name="SourceUnit">What the source's prices are counted in; null: it does not say.</param>
internal sealed record RuleChoices(
    IReadOnlyList<string> PriceLists,
    IReadOnlyList<string> Groups,
    IReadOnlyList<string> TargetLists,
    IReadOnlyList<string> Locations,
    string Currency,
    int Decimals,
    string? SourceUnit
);

internal sealed record RuleToTry(LaneDocument Document, GuardLimits? Guards, string? Focus);

internal sealed record RuleToSave(int BaseNumber, string? Note, LaneDocument Document, GuardLimits? Guards);

internal sealed record RunToStart(bool Preview);

internal sealed record RunStarted(long RunId);

/// <summary>Puts together what is shown of lanes.</summary>
internal static class LaneViews
{
    /// <summary>All lanes, or one, by what flows and where to.</summary>
    public static async Task<IReadOnlyList<LaneSummary>> AllAsync(
        NarbitContext db,
        string? only,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        var systems = await db.Systems.AsNoTracking().ToDictionaryAsync(s => s.Id, cancel);
        var lanes = await db.Lanes.AsNoTracking().Where(l => only == null || l.Id == only).ToListAsync(cancel);
        var open = await OpenRunsAsync(db, cancel);
        var drafts = await db
            .Drafts.AsNoTracking()
            .Where(d => d.ThrownAt == null && db.Workspaces.Any(w => w.Person == d.Person))
            .ToDictionaryAsync(d => d.LaneId, d => d.At, cancel);
        var standings = await LaneStandings.OfAsync(db, lanes, cancel);
        var jobs = await JobsAsync(db, now, cancel);
        var summaries = new List<LaneSummary>(lanes.Count);
        foreach (var lane in lanes.Where(l => systems.ContainsKey(l.SourceId) && systems.ContainsKey(l.TargetId)))
        {
            var summary = await OneAsync(
                db,
                lane,
                systems[lane.SourceId],
                systems[lane.TargetId],
                new Around([.. open[lane.Id]], standings[lane.Id], jobs.GetValueOrDefault(lane.Id)),
                cancel
            );
            summary = summary with { Troubles = await LaneTroubles.OfAsync(db, lane.Id, cancel) };
            summaries.Add(drafts.TryGetValue(lane.Id, out var at) ? summary with { DraftAt = at } : summary);
        }

        return summaries;
    }

    private static async Task<LaneSummary> OneAsync(
        NarbitContext db,
        Lane lane,
        ConnectedSystem source,
        ConnectedSystem target,
        Around around,
        CancellationToken cancel
    )
    {
        var (open, standing, job) = around;
        var work = LaneWorks.Of(lane.Kind);
        var book = await PairBook.OpenAsync(db, work.Record, lane.SourceId, lane.TargetId, cancel);
        var (there, here) = await book.UnpairedAsync(db, cancel);
        var links = await book.CountAsync(db, cancel);
        var ready = open.FirstOrDefault(r => r.State == RunState.Ready);
        return new LaneSummary
        {
            Id = lane.Id,
            Kind = lane.Kind,
            Name = lane.Name ?? work.Label,
            Work = LaneWorkView.Of(work),
            Source = SystemTag.Of(source),
            Target = SystemTag.Of(target),
            Currency = target.Currency,
            SkuStartsWith = lane.SkuStartsWith,
            PublishedOnly = lane.PublishedOnly,
            RuleNumber = lane.RuleNumber,
            Paused = lane.Paused,
            Off = lane.Off,
            ComparedAt = lane.ComparedAt,
            ComparedRunId = lane.ComparedRunId,
            Standing = standing,
            NextStep = NextStep(lane, work, links, standing, job is not null),
            Job = job?.Job,
            NextDueAt = lane.Paused ? null : job?.Next,
            UnpairedThere = there,
            UnpairedHere = here,
            Links = links,
            WorkingRunId = open.FirstOrDefault(r => r.State == RunState.Working)?.Id,
            ReadyRunId = ready?.Id,
            ReadyIsStopped = ready is { Preview: false },
            CoupleId = book.Couples is [var couple] ? couple.Id : null,
            ClosedAt = lane.ClosedAt,
            ClosedBy = lane.ClosedBy,
        };
    }

    // What a person would do next in a lane: pair, map, look at what would change, put it on a timetable.
    private static string? NextStep(Lane lane, LaneWork work, int links, LaneStanding standing, bool timed)
    {
        bool Has(string step) => work.Steps.Any(s => s.Key == step);
        return lane.Off ? "scope"
            : Has("pairs") && links == 0 ? "pairs"
            : work.Part == "map" && lane.RuleNumber == 1 ? "map"
            : Has("rule") && lane.RuleNumber == 1 && lane.ComparedAt is null ? "rule"
            : standing.RunId is null || standing.IsStale || standing.Open > 0 ? "preview"
            : Has("timetable") && !timed ? "timetable"
            : null;
    }

    // What is known of a lane beside itself.
    private sealed record Around(IReadOnlyList<OpenRun> Open, LaneStanding Standing, JobOfLane? Job);

    private sealed record JobOfLane(LaneJob Job, DateTimeOffset? Next);

    // The job of each lane that is in one.
    private static async Task<Dictionary<string, JobOfLane>> JobsAsync(NarbitContext db, DateTimeOffset now, CancellationToken cancel)
    {
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        var found = new Dictionary<string, JobOfLane>(StringComparer.Ordinal);
        foreach (var job in await db.Jobs.AsNoTracking().Include(j => j.Lanes).ToListAsync(cancel))
        {
            var shown = new LaneJob(job.Id, job.Name, JobActs.Words(job), job.PausedUntil > now, job.Off);
            var next = JobTimes.Coming(job, daysOff, now).Select(t => (DateTimeOffset?)t).FirstOrDefault();
            foreach (var entry in job.Lanes)
                found[entry.LaneId] = new JobOfLane(shown, next);
        }

        return found;
    }

    private sealed record OpenRun(long Id, RunState State, bool Preview);

    // Runs at work and change sets that wait, the newest first.
    private static async Task<ILookup<string, OpenRun>> OpenRunsAsync(NarbitContext db, CancellationToken cancel)
    {
        var open = await db
            .Runs.Where(r => r.State == RunState.Working || r.State == RunState.Ready)
            .OrderByDescending(r => r.Id)
            .Select(r => new { r.LaneId, Run = new OpenRun(r.Id, r.State, r.Preview) })
            .ToListAsync(cancel);
        return open.ToLookup(r => r.LaneId, r => r.Run, StringComparer.Ordinal);
    }
}
