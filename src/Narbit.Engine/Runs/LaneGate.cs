using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Runs;

/// <summary>Says whether a lane may write right now. It is asked when a run is started, and again before every batch.</summary>
/// <param name="database">Where lanes and systems are.</param>
internal sealed class LaneGate(Database database)
{
    /// <summary>Why a lane may not send, or null.</summary>
    public static Reason? Closed(Lane lane) =>
        lane.ClosedAt is not null
            ? new Reason(
                "lane.closed",
                $"{lane.ClosedBy} closed this lane at {lane.ClosedAt:yyyy-MM-dd HH:mm} UTC while records are paired; nothing is sent. "
                    + "Open it at the pair desk."
            )
        : lane.Off
            ? new Reason("lane.off", "This lane is switched off: nothing of this kind is to flow. Switch it on under its scope, then send.")
        : null;

    /// <summary>Why one of a lane's systems is left alone, or null.</summary>
    public static async Task<Reason?> PausedAsync(NarbitContext db, Lane lane, CancellationToken cancel)
    {
        var paused = await db
            .Systems.AsNoTracking()
            .FirstOrDefaultAsync(s => (s.Id == lane.SourceId || s.Id == lane.TargetId) && s.PausedAt != null, cancel);
        return paused is null ? null : Pause.Of(paused);
    }

    /// <summary>
    /// Why the next batch of a run may not leave, or null; what was sent before is confirmed when the run is tried again.
    /// </summary>
    public async Task<Reason?> ClosedAsync(WrittenSide side, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == side.Lane.Lane.Id, cancel);
        if (lane is null)
            return new Reason("lane.unknown", "This lane is no longer there, so nothing more is sent.");
        if (Closed(lane) is { } closed)
            return closed;
        if (await PausedAsync(db, lane, cancel) is { } paused)
            return paused;
        return await db.Systems.AnyAsync(s => s.Id == side.System.Id && s.MayWrite, cancel)
            ? null
            : new Reason("system.mayNotWrite", $"{side.System.Name} may not be written; allow it under Systems, then try the run again.");
    }
}
