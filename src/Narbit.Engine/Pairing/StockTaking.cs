using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>The first stock-taking of a system: by hand, taking over what the store has, or publishing what the hub has.</summary>
/// <param name="database">Where the pairs are.</param>
/// <param name="desk">Puts decisions into force.</param>
/// <param name="pairing">What pairs.</param>
/// <param name="clock">The time.</param>
public sealed class StockTaking(Database database, DecisionDesk desk, PairingStep pairing, TimeProvider clock)
{
    /// <summary>The reason that decisions of a stock-taking carry.</summary>
    public const string Reason = "first stock-taking";

    /// <summary>What each way would do.</summary>
    public async Task<StockTakingForecast> ForecastAsync(long coupleId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var counts = await db
            .Proposals.Where(p => p.CoupleId == coupleId)
            .GroupBy(p => new { p.Verdict, Hub = p.HubKey != null })
            .Select(g => new
            {
                g.Key.Verdict,
                g.Key.Hub,
                Count = g.Count(),
            })
            .ToListAsync(cancel);
        int Of(Verdict verdict, bool? hub = null) =>
            counts.Where(c => c.Verdict == verdict && (hub is null || c.Hub == hub)).Sum(c => c.Count);
        return new StockTakingForecast(
            Of(Verdict.Certain),
            Of(Verdict.Likely),
            Of(Verdict.Ambiguous),
            Of(Verdict.None, true),
            Of(Verdict.None, false)
        );
    }

    /// <summary>Does it. A second call while one is at work is refused.</summary>
    /// <param name="hub">The hub.</param>
    /// <param name="other">The other system.</param>
    /// <param name="couple">The couple.</param>
    /// <param name="way">The way.</param>
    /// <param name="by">Who started it.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>How many decisions are in force, or why it did not start.</returns>
    public async Task<Outcome<int>> TakeAsync(
        Connection hub,
        Connection other,
        Couple couple,
        StockTakingWay way,
        string by,
        CancellationToken cancel
    )
    {
        var now = clock.GetUtcNow();
        await using var db = database.CreateDbContext();
        // One that a killed process left behind is over after ten minutes.
        var stale = now.AddMinutes(-10);
        var mine = await db
            .Couples.Where(c => c.Id == couple.Id && (c.TakingSince == null || c.TakingSince < stale))
            .ExecuteUpdateAsync(s => s.SetProperty(c => c.TakingSince, now), cancel);
        if (mine == 0)
            return new Reason(
                "taking.busy",
                $"The stock-taking of {other.System.Name} is at work already; it was not started a second time."
            );
        try
        {
            await db.Couples.Where(c => c.Id == couple.Id).ExecuteUpdateAsync(s => s.SetProperty(c => c.AcceptsCertain, false), cancel);
            await pairing.PairAsync(hub, other, couple.Kind, cancel);
            var taken = 0;
            if (way != StockTakingWay.ByHand)
            {
                var accepted = await desk.DecideAllAsync(
                    couple.Id,
                    DecisionAct.Accept,
                    Reason,
                    q => q.Where(p => p.Verdict == Verdict.Certain),
                    null,
                    by,
                    cancel
                );
                if (accepted.Fault is { } fault)
                    return fault;
                var (act, why) =
                    way == StockTakingWay.Publish
                        ? (DecisionAct.Create, Reason)
                        : (DecisionAct.SetAside, $"not in {other.System.Name} at the {Reason}");
                var alone = await desk.DecideAllAsync(
                    couple.Id,
                    act,
                    why,
                    q => q.Where(p => p.Verdict == Verdict.None && p.HubKey != null),
                    null,
                    by,
                    cancel
                );
                if (alone.Fault is { } none)
                    return none;
                if (accepted.Value.Count + alone.Value.Count > 0)
                {
                    var batch = new PairBatch
                    {
                        CoupleId = couple.Id,
                        Origin = BatchOrigin.StockTaking,
                        By = by,
                        At = now,
                        Note = $"{Reason}: {(way == StockTakingWay.Publish ? "publish what the hub has" : "take over what the store has")}",
                    };
                    var committed = await desk.CommitAsync(batch, [.. accepted.Value, .. alone.Value], cancel);
                    if (committed.Fault is { } refused)
                        return refused;
                    taken = committed.Value.Committed;
                }
            }

            await db
                .Couples.Where(c => c.Id == couple.Id)
                .ExecuteUpdateAsync(
                    s => s.SetProperty(c => c.Way, way).SetProperty(c => c.AcceptsCertain, way != StockTakingWay.ByHand),
                    cancel
                );
            await pairing.PairAsync(hub, other, couple.Kind, cancel);
            return taken;
        }
        finally
        {
            await db
                .Couples.Where(c => c.Id == couple.Id)
                .ExecuteUpdateAsync(s => s.SetProperty(c => c.TakingSince, (DateTimeOffset?)null), CancellationToken.None);
        }
    }
}
