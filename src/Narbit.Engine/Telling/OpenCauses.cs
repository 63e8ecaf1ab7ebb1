using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mismatches;
using Narbit.Core.Telling;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Telling;

/// <summary>What is open, by cause, as it may be told outside: what and how many, and never which record or who.</summary>
internal static class OpenCauses
{
    /// <summary>The causes of which something is open.</summary>
    /// <param name="db">Where mismatches are.</param>
    /// <param name="linksTo">The address at which people reach Narbit.</param>
    /// <param name="wanted">Which causes are told.</param>
    /// <param name="after">Only what opened after this; null: all that is open.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<IReadOnlyList<NewsLine>> Async(
        NarbitContext db,
        string linksTo,
        Func<MismatchCause, bool> wanted,
        DateTimeOffset? after,
        CancellationToken cancel
    )
    {
        var open = db.Mismatches.Where(m => m.State == MismatchState.Open);
        if (after is { } since)
            open = open.Where(m => m.OpenedAt > since);
        var counts = await open.GroupBy(m => new { m.Cause, m.SystemId })
            .Select(g => new
            {
                g.Key.Cause,
                g.Key.SystemId,
                Count = g.Count(),
            })
            .ToListAsync(cancel);
        var names = await db.Systems.ToDictionaryAsync(s => s.Id, s => s.Name, StringComparer.Ordinal, cancel);
        return
        [
            .. counts
                .GroupBy(c => c.Cause, StringComparer.Ordinal)
                // Without its words, which may name a record.
                .Select(g => (Cause: MismatchCauses.Of(g.Key), Some: g))
                .Where(c => wanted(c.Cause))
                .Select(c => new NewsLine(
                    c.Cause,
                    c.Some.Sum(s => s.Count),
                    [.. c.Some.Select(s => names.GetValueOrDefault(s.SystemId, s.SystemId)).Order(StringComparer.Ordinal)],
                    new Uri($"{linksTo.TrimEnd('/')}/mismatches?cause={Uri.EscapeDataString(c.Cause.Code)}")
                )),
        ];
    }
}
