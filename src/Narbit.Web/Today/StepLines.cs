using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Web.Api;

namespace Narbit.Web.Today;

/// <summary>How far lanes were in step, day by day.</summary>
internal static class StepLines
{
    private const int Days = 14;

    /// <summary>
    /// By lane, the share of records in step at the last comparison of each day, with what that run then confirmed; null where there was
    /// none on a day. Today's is last.
    /// </summary>
    public static async Task<IReadOnlyDictionary<string, IReadOnlyList<double?>>> AllAsync(
        NarbitContext db,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        var zone = await Zones.OfWorkspaceAsync(db, cancel);
        DateOnly Day(DateTimeOffset at) => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, zone).Date);
        var first = Day(now).AddDays(1 - Days);
        var from = Zones.Midnight(first, zone);
        var runs = await db
            .Runs.Where(r => r.PlannedAt >= from && r.RollsBack == null && r.Fields == null && r.Only == null && r.Paired > 0)
            .Select(r => new Compared(r.Id, r.LaneId, r.PlannedAt!.Value, r.Paired, r.InStep))
            .ToListAsync(cancel);
        var last = runs.GroupBy(r => (r.LaneId, Day: Day(r.At))).ToDictionary(g => g.Key, g => g.MaxBy(r => r.Id)!);
        var ids = last.Values.Select(r => r.Id).ToList();
        var confirmed = await db
            .Writes.Where(w => ids.Contains(w.RunId) && w.State == WriteState.Confirmed && w.TakenBackIn == null)
            .GroupBy(w => w.RunId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(c => c.Key, c => c.Count, cancel);
        return last.GroupBy(d => d.Key.LaneId, StringComparer.Ordinal)
            .ToDictionary(
                lane => lane.Key,
                lane =>
                    (IReadOnlyList<double?>)
                        [.. Enumerable.Range(0, Days).Select(i => Share(last.GetValueOrDefault((lane.Key, first.AddDays(i))), confirmed))],
                StringComparer.Ordinal
            );
    }

    private sealed record Compared(long Id, string LaneId, DateTimeOffset At, int Paired, int InStep);

    // A record that was told back as well is confirmed twice, and in step once.
    private static double? Share(Compared? run, Dictionary<long, int> confirmed) =>
        run is null ? null : Math.Min(1, (double)(run.InStep + confirmed.GetValueOrDefault(run.Id)) / run.Paired);
}
