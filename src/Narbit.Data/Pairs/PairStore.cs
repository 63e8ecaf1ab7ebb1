using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pairing;

namespace Narbit.Data.Pairs;

/// <summary>Keeps the pairs of two systems; what did not change is not written again.</summary>
public sealed class PairStore(Database database)
{
    /// <summary>Brings the stored pairs in line with a new pairing, in one transaction.</summary>
    /// <param name="hubId">The hub.</param>
    /// <param name="otherId">The other system.</param>
    /// <param name="pairs">The new pairing with each row's SKU and title.</param>
    /// <param name="cancel">Gives up; nothing is stored.</param>
    /// <returns>How many rows changed.</returns>
    public async Task<int> ReplaceAsync(string hubId, string otherId, IReadOnlyList<(SkuPair Pair, string? Sku, string? Title)> pairs, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var stored = await db.Pairs.AsNoTracking().Where(p => p.HubId == hubId && p.OtherId == otherId).ToDictionaryAsync(p => (p.HubKey, p.OtherKey), cancel);

        await using var connection = await database.OpenAsync(bulk: true, cancel);
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        await using var insert = connection.CreateCommand();
        insert.Transaction = transaction;
        insert.CommandText = "INSERT INTO Pairs (HubId, OtherId, HubKey, OtherKey, Verdict, Evidence, Sku, Title) VALUES ($hub, $other, $hubKey, $otherKey, $verdict, $evidence, $sku, $title)";
        foreach (var name in new[] { "$hub", "$other", "$hubKey", "$otherKey", "$verdict", "$evidence", "$sku", "$title" }) insert.Parameters.Add(new SqliteParameter(name, null));
        (insert.Parameters[0].Value, insert.Parameters[1].Value) = (hubId, otherId);

        var changes = 0;
        foreach (var (pair, sku, title) in pairs)
        {
            if (stored.Remove((pair.LeftKey, pair.RightKey), out var row))
            {
                if (row.Verdict == pair.Verdict && row.Evidence == pair.Evidence && row.Sku == sku && row.Title == title) continue;
                await DeleteAsync(row.Id);
            }

            object?[] values = [pair.LeftKey, pair.RightKey, pair.Verdict.ToString(), pair.Evidence, sku, title];
            for (var i = 0; i < values.Length; i++) insert.Parameters[i + 2].Value = values[i] ?? DBNull.Value;
            insert.ExecuteNonQuery();
            changes++;
        }

        foreach (var row in stored.Values)
        {
            await DeleteAsync(row.Id);
            changes++;
        }

        await transaction.CommitAsync(cancel);
        return changes;

        async Task DeleteAsync(long id)
        {
            await using var delete = connection.CreateCommand();
            delete.Transaction = transaction;
            delete.CommandText = "DELETE FROM Pairs WHERE Id = $id";
            delete.Parameters.AddWithValue("$id", id);
            await delete.ExecuteNonQueryAsync(cancel);
        }
    }
}
