using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;

namespace Narbit.Engine.Runs;

/// <summary>Remembers since when a lane's comparisons have found the same cause, so that a person sees how old it is.</summary>
internal static class CausesSince
{
    /// <summary>Notes the causes that a run found: those that were there keep their age, those that are gone are forgotten.</summary>
    public static async Task NoteAsync(NarbitContext db, Run run, DateTimeOffset at, CancellationToken cancel)
    {
        var remarks = await db.Remarks.Where(r => r.RunId == run.Id).Select(r => r.Why.Code).Distinct().ToListAsync(cancel);
        var holds = await db
            .Writes.Where(w => w.RunId == run.Id && w.State == WriteState.Held && w.Hold != null)
            .Select(w => w.Hold!.Code)
            .Distinct()
            .ToListAsync(cancel);
        var found = remarks.Concat(holds).ToHashSet(StringComparer.Ordinal);
        var known = await db.Causes.Where(c => c.LaneId == run.LaneId).ToListAsync(cancel);
        db.Causes.RemoveRange(known.Where(c => !found.Contains(c.Code)));
        db.Causes.AddRange(
            found
                .Where(code => known.TrueForAll(c => c.Code != code))
                .Select(code => new LaneCause
                {
                    LaneId = run.LaneId,
                    Code = code,
                    Since = at,
                })
        );
        await db.SaveChangesAsync(cancel);
    }
}
