using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Web.Lanes;

/// <summary>Records of a lane that are at the mismatch desk for causes of one family.</summary>
/// <param name="Family">The family, by which the desk is filtered: <c>held</c>, <c>value</c>, <c>failed</c>, <c>order</c>.</param>
/// <param name="Records">How many records.</param>
public sealed record LaneTrouble(string Family, int Records);

/// <summary>Counts what of lanes is at the mismatch desk.</summary>
internal static class LaneTroubles
{
    private static readonly string[] Families = ["failed", Orders, "held", "value"];
    private const string Orders = "order";

    // An order often stands still for several causes; of so many it is not asked which are the same.
    private const int MostOrders = 20_000;

    /// <summary>All lanes' troubles, by the lane: orders each once, all else by record and cause.</summary>
    public static async Task<ILookup<string, LaneTrouble>> AllAsync(NarbitContext db, CancellationToken cancel)
    {
        // Counted from an index alone: there may be half a million.
        var counts = await db
            .Mismatches.Where(m => m.LaneId != null && m.State == MismatchState.Open)
            .GroupBy(m => new { LaneId = m.LaneId!, m.Cause })
            .Select(g => new
            {
                g.Key.LaneId,
                g.Key.Cause,
                Count = g.Count(),
            })
            .ToListAsync(cancel);
        var found = new List<(string Lane, LaneTrouble Trouble)>();
        foreach (var lane in counts.GroupBy(c => c.LaneId, StringComparer.Ordinal))
        foreach (var family in Families)
            if (lane.Where(c => c.Cause.StartsWith($"{family}.", StringComparison.Ordinal)).Sum(c => c.Count) is > 0 and var count)
                found.Add((lane.Key, new LaneTrouble(family, await RecordsAsync(db, lane.Key, family, count, cancel))));
        return found.ToLookup(f => f.Lane, f => f.Trouble, StringComparer.Ordinal);
    }

    private static async Task<int> RecordsAsync(NarbitContext db, string lane, string family, int count, CancellationToken cancel) =>
        family == Orders && count <= MostOrders
            ? await db
                .Mismatches.Where(m => m.LaneId == lane && m.State == MismatchState.Open && m.Cause.StartsWith(Orders + "."))
                .Select(m => m.Key)
                .Distinct()
                .CountAsync(cancel)
            : count;
}
