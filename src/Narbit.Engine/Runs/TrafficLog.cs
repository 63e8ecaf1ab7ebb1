using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Adapters;
using Narbit.Data;
using Narbit.Data.Runs;

namespace Narbit.Engine.Runs;

/// <summary>Keeps with a run how long it was at work and what its requests went through, added to what it was before.</summary>
internal sealed class TrafficLog(Database database, ILogger log)
{
    /// <summary>Adds a stretch of work.</summary>
    public async Task KeepAsync(long runId, Traffic traffic, TimeSpan worked)
    {
        try
        {
            await using var db = database.CreateDbContext();
            await db
                .Runs.Where(r => r.Id == runId)
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(r => r.WorkedMs, r => r.WorkedMs + (long)worked.TotalMilliseconds)
                        .SetProperty(r => r.Requests, r => r.Requests + traffic.Requests)
                        .SetProperty(r => r.Repeats, r => r.Repeats + traffic.Repeats)
                        .SetProperty(r => r.Lost, r => r.Lost + traffic.Lost)
                        .SetProperty(r => r.LostWaitedMs, r => r.LostWaitedMs + (long)traffic.LostWaited.TotalMilliseconds)
                        .SetProperty(r => r.LimitWaitedMs, r => r.LimitWaitedMs + (long)traffic.LimitWaited.TotalMilliseconds)
                        .SetProperty(r => r.RepeatWaitedMs, r => r.RepeatWaitedMs + (long)traffic.RepeatWaited.TotalMilliseconds)
                );
            await AddBySystemAsync(db, runId, traffic.BySystem);
            db.Troubles.AddRange(traffic.Troubles.Select(t => Trouble(runId, t)));
            await db.SaveChangesAsync();
        }
        catch (Exception error)
        {
            // The run itself is what counts.
            log.LogError(error, "What the requests of run {Run} went through could not be kept", runId);
        }
    }

    private static async Task AddBySystemAsync(NarbitContext db, long runId, IReadOnlyDictionary<string, int> counted)
    {
        if (counted.Count == 0)
            return;
        var before = await db.Runs.Where(r => r.Id == runId).Select(r => r.RequestsBySystem).FirstOrDefaultAsync();
        var all = before is null ? [] : JsonSerializer.Deserialize<SortedDictionary<string, int>>(before)!;
        foreach (var (mark, count) in counted)
            all[mark] = all.GetValueOrDefault(mark) + count;
        var kept = JsonSerializer.Serialize(all);
        await db.Runs.Where(r => r.Id == runId).ExecuteUpdateAsync(s => s.SetProperty(r => r.RequestsBySystem, kept));
    }

    private static RunTrouble Trouble(long runId, TroubledRequest request) =>
        new()
        {
            RunId = runId,
            At = request.At,
            System = request.System,
            Request = request.Request,
            Attempts = request.Attempts,
            Lost = request.Lost,
            Answered = request.Answered,
            Why = KeptReason.Of(request.Why)!,
        };
}
