using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

/// <summary>Counts and lists the values of a field over a system's records.</summary>
public static class ValueCounts
{
    /// <summary>The most different values that are counted; a field with more is no field of codes.</summary>
    public const int Most = 2000;

    /// <summary>Where a field is found in stored values; it is a path of SQLite's json_extract.</summary>
    public static string PathOf(string field) => $"$.\"{field.Replace("\"", "", StringComparison.Ordinal)}\"";

    /// <summary>The values of a field, the most used first.</summary>
    public static async Task<IReadOnlyList<ValueCount>> OfAsync(
        NarbitContext db,
        string systemId,
        RecordKind kind,
        string field,
        CancellationToken cancel
    )
    {
        var path = PathOf(field);
        return await Present(db, systemId, kind)
            .Select(r => NarbitContext.Json(r.Values, path))
            .Where(value => value != null)
            .GroupBy(value => value!)
            .Select(g => new { g.Key, Count = g.Count() })
            .OrderByDescending(g => g.Count)
            .ThenBy(g => g.Key)
            .Take(Most)
            .Select(g => new ValueCount(g.Key, g.Count))
            .ToListAsync(cancel);
    }

    /// <summary>The different values of a field, in their order.</summary>
    public static async Task<IReadOnlyList<string>> DistinctAsync(
        NarbitContext db,
        string systemId,
        RecordKind kind,
        string field,
        CancellationToken cancel
    )
    {
        var path = PathOf(field);
        return await Present(db, systemId, kind)
            .Select(r => NarbitContext.Json(r.Values, path)!)
            .Where(value => value != null)
            .Distinct()
            .OrderBy(value => value)
            .Take(Most)
            .ToListAsync(cancel);
    }

    private static IQueryable<MirrorRecord> Present(NarbitContext db, string systemId, RecordKind kind) =>
        db.Records.AsNoTracking().Where(r => r.SystemId == systemId && r.Kind == kind && r.GoneAt == null);
}
