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
    private static readonly string[] Families = ["failed", "order", "held", "value"];

    /// <summary>All lanes' troubles, by the lane, each record once in its family.</summary>
    public static async Task<ILookup<string, LaneTrouble>> AllAsync(NarbitContext db, CancellationToken cancel)
    {
        var found = new List<(string Lane, LaneTrouble Trouble)>();
        foreach (var family in Families)
        {
            var start = $"{family}.";
            // Counted from an index alone.
            var counts = await db
                .Mismatches.Where(m => m.LaneId != null && m.State == MismatchState.Open && m.Cause.StartsWith(start))
                .GroupBy(m => m.LaneId!)
                .Select(g => new { g.Key, Count = g.Select(m => m.Key).Distinct().Count() })
                .ToListAsync(cancel);
            found.AddRange(counts.Select(c => (c.Key, new LaneTrouble(family, c.Count))));
        }

        return found.ToLookup(f => f.Lane, f => f.Trouble, StringComparer.Ordinal);
    }
}
