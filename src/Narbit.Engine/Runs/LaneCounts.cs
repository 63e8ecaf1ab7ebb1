using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Runs;

namespace Narbit.Engine.Runs;

/// <summary>What a lane's newest comparison says of it: how many records are in step, wait, or are out of step.</summary>
/// <param name="database">Where lanes and runs are.</param>
internal sealed class LaneCounts(Database database)
{
    private static readonly WriteState[] Waiting = [WriteState.Planned, WriteState.Held];

    private static readonly WriteState[] Out =
    [
        WriteState.Failed,
        WriteState.Overtaken,
        WriteState.Skipped,
        WriteState.Unknown,
        WriteState.Sent,
    ];

    /// <summary>Keeps what a run found out.</summary>
    public async Task KeepAsync(Run run, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var counts = await db
            .Writes.Where(w => w.RunId == run.Id)
            .GroupBy(w => w.State)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
        int Of(IEnumerable<WriteState> states) => states.Sum(s => counts.GetValueOrDefault(s));
        var inStep = run.InStep + Of([WriteState.Confirmed]);
        var (waiting, outOfStep) = (Of(Waiting), run.Remarked + Of(Out));
        await db
            .Lanes.Where(l => l.Id == run.LaneId)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(l => l.ComparedRunId, run.Id)
                        .SetProperty(l => l.ComparedAt, run.PlannedAt)
                        .SetProperty(l => l.Paired, run.Paired)
                        .SetProperty(l => l.InStep, inStep)
                        .SetProperty(l => l.Waiting, waiting)
                        .SetProperty(l => l.OutOfStep, outOfStep),
                cancel
            );
    }
}
