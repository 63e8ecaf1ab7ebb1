using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Web.Lanes;

/// <summary>Records of a lane that are at the mismatch desk for causes of one family.</summary>
/// <param name="Family">The family, by which the desk is filtered: <c>held</c>, <c>value</c>, <c>failed</c>, <c>order</c>.</param>
/// <param name="Records">How many records.</param>
internal sealed record LaneTrouble(string Family, int Records);

/// <summary>Counts what of lanes is at the mismatch desk.</summary>
internal static class LaneTroubles
{
    private static readonly string[] Families = ["failed", Orders, "held", "value"];
    private const string Orders = "order";

    // An order often stands still for several causes; of so many it is not asked which are the same.
    private const int MostOrders = 20_000;

    /// <summary>A lane's troubles: orders each once, all else by record and cause.</summary>
    public static async Task<IReadOnlyList<LaneTrouble>> OfAsync(NarbitContext db, string lane, CancellationToken cancel)
    {
        // Lane by lane each is counted from an index alone, though there may be half a million.
        var counts = await db
            .Mismatches.Where(m => m.LaneId == lane && m.State == MismatchState.Open)
            .GroupBy(m => m.Cause)
            .Select(g => new { Cause = g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        var found = new List<LaneTrouble>();
        foreach (var family in Families)
            if (counts.Where(c => c.Cause.StartsWith($"{family}.", StringComparison.Ordinal)).Sum(c => c.Count) is > 0 and var count)
                found.Add(new LaneTrouble(family, await RecordsAsync(db, lane, family, count, cancel)));
        return found;
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
