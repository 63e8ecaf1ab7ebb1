using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Runs;

namespace Narbit.Web.Runs;

/// <summary>How a run went.</summary>
/// <param name="Word">working, failed (as a whole or in writes), waits (for a person), done.</param>
/// <param name="Written">How many of its writes were confirmed.</param>
internal sealed record RunOutcome(string Word, int Written);

/// <summary>Says how runs went, as ribbons and lists of turns show it.</summary>
internal static class RunOutcomes
{
    /// <summary>The outcome of each of some runs.</summary>
    public static async Task<IReadOnlyDictionary<long, RunOutcome>> OfAsync(
        NarbitContext db,
        IReadOnlyCollection<long> ids,
        CancellationToken cancel
    )
    {
        var runs = await db.Runs.AsNoTracking().Where(r => ids.Contains(r.Id)).Select(r => new { r.Id, r.State }).ToListAsync(cancel);
        var writes = await db
            .Writes.Where(w =>
                ids.Contains(w.RunId) && (w.State == WriteState.Held || w.State == WriteState.Failed || w.State == WriteState.Confirmed)
            )
            .GroupBy(w => new { w.RunId, w.State })
            .Select(g => new
            {
                g.Key.RunId,
                g.Key.State,
                Count = g.Count(),
            })
            .ToListAsync(cancel);
        var byRun = writes.ToLookup(w => w.RunId);
        return runs.ToDictionary(
            r => r.Id,
            r => new RunOutcome(
                Word(r.State, [.. byRun[r.Id].Select(w => w.State)]),
                byRun[r.Id].Where(w => w.State == WriteState.Confirmed).Sum(w => w.Count)
            )
        );
    }

    private static string Word(RunState state, IReadOnlyCollection<WriteState> writes) =>
        state switch
        {
            RunState.Working => "working",
            RunState.Failed => "failed",
            RunState.Ready => "waits",
            _ => writes.Contains(WriteState.Failed) ? "failed"
            : writes.Contains(WriteState.Held) ? "waits"
            : "done",
        };
}
