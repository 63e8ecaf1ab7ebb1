using Microsoft.Data.Sqlite;
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
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        // The write lock is taken before what is stored is read: two lanes may pair the same systems at the same time.
        await using var transaction = connection.BeginTransaction(deferred: false);
        var stored = new Dictionary<(string?, string?), (long Id, string Verdict, string Evidence, string? Sku, string? Title)>();
        await using (var select = connection.CreateCommand())
        {
            select.Transaction = transaction;
            select.CommandText = "SELECT Id, HubKey, OtherKey, Verdict, Evidence, Sku, Title FROM Pairs WHERE HubId = $hub AND OtherId = $other";
            select.Parameters.AddWithValue("$hub", hubId);
            select.Parameters.AddWithValue("$other", otherId);
            await using var rows = await select.ExecuteReaderAsync(cancel);
            string? Text(int column) => rows.IsDBNull(column) ? null : rows.GetString(column);
            while (rows.Read()) stored[(Text(1), Text(2))] = (rows.GetInt64(0), rows.GetString(3), rows.GetString(4), Text(5), Text(6));
        }

        await using var insert = connection.CreateCommand();
        insert.Transaction = transaction;
        insert.CommandText = "INSERT INTO Pairs (HubId, OtherId, HubKey, OtherKey, Verdict, Evidence, Sku, Title) VALUES ($hub, $other, $hubKey, $otherKey, $verdict, $evidence, $sku, $title)";
        foreach (var name in new[] { "$hub", "$other", "$hubKey", "$otherKey", "$verdict", "$evidence", "$sku", "$title" }) insert.Parameters.Add(new SqliteParameter(name, null));
        (insert.Parameters[0].Value, insert.Parameters[1].Value) = (hubId, otherId);

        var changed = new List<(SkuPair Pair, string? Sku, string? Title)>();
        foreach (var (pair, sku, title) in pairs)
        {
            var key = (pair.LeftKey, pair.RightKey);
            var same = stored.TryGetValue(key, out var row) && row.Verdict == pair.Verdict.ToString() && row.Evidence == pair.Evidence && row.Sku == sku && row.Title == title;
            if (same) stored.Remove(key);
            else changed.Add((pair, sku, title));
        }

        // What is left of the stored rows goes first, so that a listing never hangs on two items in between.
        await using (var delete = connection.CreateCommand())
        {
            delete.Transaction = transaction;
            delete.CommandText = "DELETE FROM Pairs WHERE Id = $id";
            var id = delete.Parameters.Add(new SqliteParameter("$id", 0L));
            foreach (var row in stored.Values)
            {
                id.Value = row.Id;
                delete.ExecuteNonQuery();
            }
        }

        foreach (var (pair, sku, title) in changed)
        {
            object?[] values = [pair.LeftKey, pair.RightKey, pair.Verdict.ToString(), pair.Evidence, sku, title];
            for (var i = 0; i < values.Length; i++) insert.Parameters[i + 2].Value = values[i] ?? DBNull.Value;
            insert.ExecuteNonQuery();
        }

        await transaction.CommitAsync(cancel);
        return stored.Count + changed.Count;
    }
}
