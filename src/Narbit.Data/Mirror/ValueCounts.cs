using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

/// <summary>A value and how many records have it.</summary>
public sealed record ValueCount(string Value, int Records);

/// <summary>Counts the values of a field over a system's items.</summary>
public static class ValueCounts
{
    /// <summary>The most different values that are counted; a field with more is no field of codes.</summary>
    public const int Most = 2000;

    /// <summary>The values, the most used first.</summary>
    public static async Task<IReadOnlyList<ValueCount>> OfAsync(NarbitContext db, string systemId, string field, CancellationToken cancel)
    {
        var path = $"$.\"{field.Replace("\"", "", StringComparison.Ordinal)}\"";
        return await db
            .Database.SqlQuery<ValueCount>(
                $"""
                SELECT json_extract("Values", {path}) AS Value, COUNT(*) AS Records FROM Records
                WHERE SystemId = {systemId} AND Kind = {nameof(
                    RecordKind.Item
                )} AND GoneAt IS NULL AND json_extract("Values", {path}) IS NOT NULL
                GROUP BY 1 ORDER BY 2 DESC, 1 LIMIT {Most}
                """
            )
            .ToListAsync(cancel);
    }
}
