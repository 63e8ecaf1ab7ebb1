using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Lanes;

namespace Narbit.Engine.Lanes;

/// <summary>Keeps single items off lanes, or lets them flow again.</summary>
/// <param name="database">Where lanes are.</param>
/// <param name="live">Who hears of it.</param>
public sealed class ItemExceptions(Database database, LiveFeed live)
{
    /// <summary>How many items would be kept off, or let flow, that are not yet.</summary>
    public async Task<int> CountAsync(IReadOnlyCollection<string> lanes, IReadOnlySet<string> items, bool keepOff, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var had = await HadAsync(db, lanes, items, cancel);
        return keepOff ? items.Count * lanes.Count - had.Count : had.Count;
    }

    /// <summary>Keeps items off lanes, or lets them flow again.</summary>
    /// <param name="lanes">The lanes, each once.</param>
    /// <param name="items">The source's keys.</param>
    /// <param name="keepOff">Whether they are kept off.</param>
    /// <param name="cancel">Gives up; nothing is changed.</param>
    public async Task KeepOffAsync(IReadOnlyCollection<string> lanes, IReadOnlySet<string> items, bool keepOff, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var had = await HadAsync(db, lanes, items, cancel);
        if (keepOff)
        {
            var there = had.Select(k => (k.LaneId, k.SourceKey)).ToHashSet();
            db.KeptOff.AddRange(
                lanes
                    .SelectMany(lane => items.Select(key => (lane, key)))
                    .Where(x => !there.Contains(x))
                    .Select(x => new KeptOff { LaneId = x.lane, SourceKey = x.key })
            );
        }
        else
        {
            db.KeptOff.RemoveRange(had);
        }

        await db.SaveChangesAsync(cancel);
        foreach (var lane in lanes)
            live.Tell(new LiveEvent("lane", lane));
    }

    private static async Task<List<KeptOff>> HadAsync(
        NarbitContext db,
        IReadOnlyCollection<string> lanes,
        IReadOnlySet<string> items,
        CancellationToken cancel
    )
    {
        var kept = await db.KeptOff.Where(k => lanes.Contains(k.LaneId)).ToListAsync(cancel);
        return kept.FindAll(k => items.Contains(k.SourceKey));
    }
}
