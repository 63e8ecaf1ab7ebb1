using Microsoft.EntityFrameworkCore;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Mismatches;
using Narbit.Engine.Jobs;

namespace Narbit.Engine.Mismatches;

/// <summary>What keeps a job from doing what it is to do: its times cannot be told, it missed the last one, a lane was left out.</summary>
public sealed class JobMismatches : IMismatchSource
{
    /// <inheritdoc/>
    public string Family => "job:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Jobs.Select(j => j.Id).ToListAsync(cancel);

    /// <inheritdoc/>
    public Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<string>>(what.Topic == "job" ? [what.Id] : []);

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        if (await db.Jobs.AsNoTracking().Include(j => j.Lanes).FirstOrDefaultAsync(j => j.Id == origin, cancel) is not { } job)
            return null;
        if (job.Off || await FirstLaneAsync(db, job, cancel) is not { } lane)
            return new Look(job.SettledUntil, []);
        var found = new List<FoundMismatch>();
        if (job.Timetable is not null && JobTimes.Of(job, await JobTimes.DaysOffAsync(db, cancel)) is null)
            found.Add(Of(job, lane, "job.untold", $"{job.Name} has a timetable of which no time can be told; set it anew"));
        var last = await db
            .Turns.AsNoTracking()
            .Include(t => t.Steps)
            .Where(t => t.JobId == origin && t.State != TurnState.Working && t.State != TurnState.Waiting)
            .OrderByDescending(t => t.Id)
            .FirstOrDefaultAsync(cancel);
        if (last is { State: TurnState.NotRun, Fate: DueFate.Missed })
            found.Add(
                Of(job, lane, "job.missed", $"{job.Name} missed {(last.Times == 1 ? "a time" : $"{last.Times:N0} times")}") with
                {
                    Since = last.DueAt,
                }
            );
        foreach (var step in last?.Steps.Where(s => s.State == TurnStepState.LeftOut && s.Why is not null) ?? [])
            found.Add(
                Of(job, lane, "job.leftOut", step.Why!.Words) with
                {
                    LaneId = step.LaneId,
                    Scope = $"{job.Id}/{step.LaneId}",
                    Since = last!.DueAt,
                    Subject = step.Why.Code,
                }
            );
        return new Look(job.SettledUntil > last?.DueUntil ? job.SettledUntil : last?.DueUntil ?? job.SettledUntil, found);
    }

    private static async Task<Lane?> FirstLaneAsync(NarbitContext db, Job job, CancellationToken cancel)
    {
        var first = job.Lanes.OrderBy(l => l.Place).Select(l => l.LaneId).FirstOrDefault();
        return await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == first, cancel);
    }

    private static FoundMismatch Of(Job job, Lane lane, string cause, string words) =>
        new()
        {
            Cause = cause,
            SystemId = lane.SourceId,
            OtherSystemId = lane.TargetId,
            Scope = job.Id,
            LaneId = lane.Id,
            Caption = job.Name,
            Words = words,
        };
}
