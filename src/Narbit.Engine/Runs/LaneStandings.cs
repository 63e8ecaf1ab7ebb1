using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Runs;

/// <summary>Reads how lanes stand.</summary>
public static class LaneStandings
{
    /// <summary>How some lanes stand, by their short names.</summary>
    public static async Task<IReadOnlyDictionary<string, LaneStanding>> OfAsync(
        NarbitContext db,
        IReadOnlyList<Lane> lanes,
        CancellationToken cancel
    )
    {
        long[] ids = [.. lanes.Select(l => l.ComparedRunId).OfType<long>()];
        var runs = await db.Runs.AsNoTracking().Where(r => ids.Contains(r.Id)).ToDictionaryAsync(r => r.Id, cancel);
        var states = await StatesAsync(db, ids, cancel);
        var apart = await TakenApartAsync(db, cancel);
        return lanes.ToDictionary(
            l => l.Id,
            l =>
                l.ComparedRunId is { } id && runs.TryGetValue(id, out var run)
                    ? Of(run, [.. states[id]], IsStale(l, run, apart))
                    : new LaneStanding(),
            StringComparer.Ordinal
        );
    }

    // Writes of a run that stand alike.
    private sealed record Alike(WriteState State, bool Back, bool Decided, int Count);

    // Counted from indexes alone: a write of an order is large, and there may be hundreds of thousands.
    private static async Task<ILookup<long, Alike>> StatesAsync(NarbitContext db, long[] runs, CancellationToken cancel)
    {
        var writes = db.Writes.Where(w => runs.Contains(w.RunId));
        var all = await CountAsync(writes, cancel);
        var back = await CountAsync(writes.Where(w => w.TakenBackIn != null), cancel);
        var decided = await CountAsync(writes.Where(w => w.State == WriteState.Skipped && w.Fate != null && w.TakenBackIn == null), cancel);
        int In(Dictionary<(long, WriteState), int> counted, (long, WriteState) key) => counted.GetValueOrDefault(key);
        return all.SelectMany(s =>
                new[]
                {
                    (s.Key, Alike: new Alike(s.Key.Item2, true, false, In(back, s.Key))),
                    (s.Key, Alike: new Alike(s.Key.Item2, false, true, In(decided, s.Key))),
                    (s.Key, Alike: new Alike(s.Key.Item2, false, false, s.Value - In(back, s.Key) - In(decided, s.Key))),
                }
            )
            .ToLookup(s => s.Key.Item1, s => s.Alike);
    }

    private static async Task<Dictionary<(long, WriteState), int>> CountAsync(IQueryable<PlannedWrite> writes, CancellationToken cancel)
    {
        var counted = await writes.GroupBy(w => new { w.RunId, w.State }).Select(g => new { g.Key, Count = g.Count() }).ToListAsync(cancel);
        return counted.ToDictionary(c => (c.Key.RunId, c.Key.State), c => c.Count);
    }

    private static LaneStanding Of(Run run, IReadOnlyList<Alike> writes, bool isStale)
    {
        int In(WriteState state) => writes.Where(w => w.State == state && !w.Back && !w.Decided).Sum(w => w.Count);
        var waits = run.State is RunState.Ready or RunState.Superseded;
        return new LaneStanding
        {
            RunId = run.Id,
            ComparedAt = run.PlannedAt,
            IsStale = isStale,
            Compared = run.Paired,
            InStep = run.InStep + In(WriteState.Confirmed) + writes.Where(w => w.Decided).Sum(w => w.Count),
            Planned = waits ? In(WriteState.Planned) : 0,
            Held = In(WriteState.Held),
            NotChosen = In(WriteState.Skipped),
            Failed = In(WriteState.Failed) + In(WriteState.Overtaken),
            NotComputed = run.Remarked,
            TakenBack = writes.Where(w => w.Back).Sum(w => w.Count),
            Unsent = In(WriteState.Unknown) + In(WriteState.Sent) + (waits ? 0 : In(WriteState.Planned)),
        };
    }

    private static bool IsStale(Lane lane, Run run, IReadOnlyList<Apart> apart) =>
        run.State == RunState.Superseded
        || apart.Any(a =>
            a.At > run.PlannedAt
            && a.Couple.Kind == LaneWorks.Of(lane.Kind).Record
            && (a.Couple.OtherId == lane.SourceId || a.Couple.OtherId == lane.TargetId)
        );

    // When pairs of a couple were last taken apart.
    private sealed record Apart(Couple Couple, DateTimeOffset At);

    private static async Task<IReadOnlyList<Apart>> TakenApartAsync(NarbitContext db, CancellationToken cancel)
    {
        var couples = await db.Couples.AsNoTracking().ToDictionaryAsync(c => c.Id, cancel);
        var undone = await db
            .Batches.Where(b => b.UndoneAt != null)
            .GroupBy(b => b.CoupleId)
            .Select(g => new { g.Key, At = g.Max(b => b.UndoneAt!.Value) })
            .ToListAsync(cancel);
        var unpaired = await db
            .Batches.Where(b =>
                db.Decisions.Any(d => d.BatchId == b.Id && d.Act == DecisionAct.Unpair && d.State == DecisionState.Committed)
            )
            .GroupBy(b => b.CoupleId)
            .Select(g => new { g.Key, At = g.Max(b => b.At) })
            .ToListAsync(cancel);
        return [.. undone.Concat(unpaired).Select(a => new Apart(couples[a.Key], a.At))];
    }
}
