using System.Globalization;
using Microsoft.Data.Sqlite;

namespace Narbit.Data.Pairs;

/// <summary>Keeps what pairing proposes; what did not change is not written again.</summary>
public sealed class PairStore(Database database)
{
    private const string Columns = "HubKey, OtherKey, Verdict, Confidence, Evidence, Candidates, Sku, Title, Causes";

    /// <summary>Brings the stored proposals in line with a new pairing, in one transaction.</summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="proposals">The new pairing.</param>
    /// <param name="now">When it was made.</param>
    /// <param name="cancel">Gives up; nothing is stored.</param>
    /// <returns>How many rows changed.</returns>
    public async Task<int> ReplaceAsync(long coupleId, IReadOnlyList<PairProposal> proposals, DateTimeOffset now, CancellationToken cancel)
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        // The write lock is taken before what is stored is read: two lanes may pair the same systems at the same time.
        await using var transaction = connection.BeginTransaction(deferred: false);
        var stored = new Dictionary<(string?, string?), (long Id, PairProposal Row)>();
        await using (var select = Command($"SELECT Id, {Columns} FROM Proposals WHERE CoupleId = $couple"))
        {
            select.Parameters.AddWithValue("$couple", coupleId);
            await using var rows = await select.ExecuteReaderAsync(cancel);
            while (rows.Read())
            {
                var row = Read(rows);
                stored[(row.HubKey, row.OtherKey)] = (rows.GetInt64(0), row);
            }
        }

        var changed = new List<PairProposal>();
        foreach (var proposal in proposals)
        {
            var key = (proposal.HubKey, proposal.OtherKey);
            if (stored.TryGetValue(key, out var old) && Same(old.Row, proposal))
                stored.Remove(key);
            else
                changed.Add(proposal);
        }

        // What is left of the stored rows goes first.
        await using (var delete = Command("DELETE FROM Proposals WHERE Id = $id"))
        {
            var id = delete.Parameters.Add(new SqliteParameter("$id", 0L));
            foreach (var (old, _) in stored.Values)
            {
                id.Value = old;
                delete.ExecuteNonQuery();
            }
        }

        await using (
            var insert = Command(
                $"INSERT INTO Proposals (CoupleId, {Columns}) VALUES ($couple, $hub, $other, $verdict, $confidence, $evidence, "
                    + $"$candidates, $sku, $title, $causes)"
            )
        )
        {
            insert.Parameters.AddWithValue("$couple", coupleId);
            foreach (
                var name in new[] { "$hub", "$other", "$verdict", "$confidence", "$evidence", "$candidates", "$sku", "$title", "$causes" }
            )
                insert.Parameters.Add(new SqliteParameter(name, null));
            foreach (var p in changed)
            {
                object?[] values =
                [
                    p.HubKey,
                    p.OtherKey,
                    p.Verdict.ToString(),
                    p.Confidence,
                    p.Evidence,
                    p.Candidates,
                    p.Sku,
                    p.Title,
                    p.Causes,
                ];
                for (var i = 0; i < values.Length; i++)
                    insert.Parameters[i + 1].Value = values[i] ?? DBNull.Value;
                insert.ExecuteNonQuery();
            }
        }

        await using (var stamp = Command("UPDATE Couples SET PairedAt = $at WHERE Id = $couple"))
        {
            stamp.Parameters.AddWithValue("$at", now.UtcTicks);
            stamp.Parameters.AddWithValue("$couple", coupleId);
            stamp.ExecuteNonQuery();
        }

        await transaction.CommitAsync(cancel);
        return stored.Count + changed.Count;

        SqliteCommand Command(string text)
        {
            var command = connection.CreateCommand();
            (command.Transaction, command.CommandText) = (transaction, text);
            return command;
        }
    }

    private static PairProposal Read(SqliteDataReader row)
    {
        string? Text(int column) => row.IsDBNull(column) ? null : row.GetString(column);
        return new PairProposal
        {
            HubKey = Text(1),
            OtherKey = Text(2),
            Verdict = Enum.Parse<Core.Pairing.Verdict>(row.GetString(3)),
            Confidence = row.GetDouble(4),
            Evidence = row.GetString(5),
            Candidates = row.GetString(6),
            Sku = Text(7),
            Title = Text(8),
            Causes = row.GetString(9),
        };
    }

    private static bool Same(PairProposal a, PairProposal b) =>
        a.Verdict == b.Verdict
        && a.Confidence.ToString(CultureInfo.InvariantCulture) == b.Confidence.ToString(CultureInfo.InvariantCulture)
        && a.Evidence == b.Evidence
        && a.Candidates == b.Candidates
        && a.Sku == b.Sku
        && a.Title == b.Title
        && a.Causes == b.Causes;
}
