using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;

namespace Narbit.Engine.Mismatches;

/// <summary>Which lane something happened to.</summary>
internal static class LaneOf
{
    private static readonly HashSet<string> Ends = new(StringComparer.Ordinal) { "done", "ready", "failed", "superseded" };

    /// <summary>The lanes that an event is about, by their short names.</summary>
    public static async Task<IReadOnlyList<string>> EventAsync(NarbitContext db, LiveEvent what, CancellationToken cancel) =>
        what switch
        {
            { Topic: "lane" } => [what.Id],
            { Topic: "run", Phase: { } phase } when Ends.Contains(phase) => await db
                .Runs.Where(r => r.Id == long.Parse(what.Id, CultureInfo.InvariantCulture))
                .Select(r => r.LaneId)
                .ToListAsync(cancel),
            _ => [],
        };
}
