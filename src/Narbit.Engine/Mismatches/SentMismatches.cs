using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mismatches;
using Narbit.Data.Runs;

namespace Narbit.Engine.Mismatches;

/// <summary>What a lane has sent since its newest comparison and did not get there: refused, lost, or changed there before.</summary>
public sealed class SentMismatches : IMismatchSource
{
    private static readonly WriteState[] Lost = [WriteState.Failed, WriteState.Overtaken];

    /// <inheritdoc/>
    public string Family => "sent:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Lanes.Where(l => l.ComparedRunId != null).Select(l => l.Id).ToListAsync(cancel);

    /// <inheritdoc/>
    public Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel) =>
        LaneOf.EventAsync(db, what, cancel);

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        if (await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == origin, cancel) is not { ComparedRunId: { } compared } lane)
            return null;
        var runs = await db
            .Runs.AsNoTracking()
            .Where(r => r.Id == compared || (r.LaneId == origin && r.Id > compared && r.Only != null))
            .Select(r => new
            {
                r.Id,
                r.EndedAt,
                r.PlannedAt,
                r.State,
            })
            .ToListAsync(cancel);
        // What is being sent is not lost yet.
        if (runs.Exists(r => r.State == RunState.Working))
            return null;
        long[] ids = [.. runs.Select(r => r.Id)];
        var lost = await db
            .Writes.AsNoTracking()
            .Where(w => ids.Contains(w.RunId) && Lost.Contains(w.State) && w.TakenBackIn == null)
            .OrderByDescending(w => w.RunId)
            .ToListAsync(cancel);
        var at = runs.Max(r => r.EndedAt ?? r.PlannedAt) ?? DateTimeOffset.UnixEpoch;
        return new Look(at, [.. lost.Select(w => Of(lane, w))]);
    }

    private static FoundMismatch Of(Lane lane, PlannedWrite write) =>
        new()
        {
            Cause = $"failed.{write.Fate?.Code ?? (write.State == WriteState.Overtaken ? "movedOn" : "refused")}",
            SystemId = lane.SourceId,
            Kind = write.Record,
            Key = write.SourceKey.Length > 0 ? write.SourceKey : write.TargetKey,
            Scope = lane.Id,
            OtherSystemId = lane.TargetId,
            OtherKey = write.TargetKey,
            LaneId = lane.Id,
            RunId = write.RunId,
            Reference = write.Reference,
            Caption = write.Caption,
            Words = write.Fate?.Words ?? "It was changed there before it arrived",
            Subject = write.Fate is { } fate ? LaneMismatches.Subject(fate.Reason) : null,
            Since = write.SentAt,
        };
}
