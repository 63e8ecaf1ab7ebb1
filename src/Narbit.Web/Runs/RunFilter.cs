using Narbit.Data;
using Narbit.Data.Runs;

namespace Narbit.Web.Runs;

/// <summary>Which runs are looked at: all of these must hold.</summary>
internal sealed record RunFilter
{
    /// <summary>Runs of this lane.</summary>
    public string? Lane { get; init; }

    /// <summary>How they ended, see <see cref="With"/>.</summary>
    public string? Outcome { get; init; }

    /// <summary>Who started them, or <c>timetable</c>.</summary>
    public string? By { get; init; }

    /// <summary>Started then or later.</summary>
    public DateTimeOffset? From { get; init; }

    /// <summary>Started before then.</summary>
    public DateTimeOffset? Until { get; init; }

    /// <summary>The runs that fit.</summary>
    public IQueryable<Run> Of(NarbitContext db, IQueryable<Run> runs)
    {
        if (Lane is { } lane)
            runs = runs.Where(r => r.LaneId == lane);
        if (From is { } from)
            runs = runs.Where(r => r.StartedAt >= from);
        if (Until is { } until)
            runs = runs.Where(r => r.StartedAt < until);
        if (By is { } by)
            runs = by == "timetable" ? runs.Where(r => r.Trigger == RunTrigger.Timetable) : runs.Where(r => r.StartedBy == by);
        return With(runs, db, Outcome);
    }

    /// <summary>
    /// Runs by their outcome: <c>working</c>, <c>waits</c> for a person, <c>done</c> with nothing open, <c>held</c> with values held,
    /// <c>notThere</c> with writes that did not get there, <c>failed</c> as a whole, <c>superseded</c>.
    /// </summary>
    public static IQueryable<Run> With(IQueryable<Run> runs, NarbitContext db, string? outcome) =>
        outcome switch
        {
            "working" => runs.Where(r => r.State == RunState.Working),
            "waits" => runs.Where(r => r.State == RunState.Ready),
            "failed" => runs.Where(r => r.State == RunState.Failed),
            "superseded" => runs.Where(r => r.State == RunState.Superseded),
            "notThere" => runs.Where(r => r.State == RunState.Done && db.Writes.Any(w => w.RunId == r.Id && w.State == WriteState.Failed)),
            "held" => runs.Where(r => r.State == RunState.Done && db.Writes.Any(w => w.RunId == r.Id && w.State == WriteState.Held)),
            "done" => runs.Where(r => r.State == RunState.Done),
            _ => runs,
        };
}
