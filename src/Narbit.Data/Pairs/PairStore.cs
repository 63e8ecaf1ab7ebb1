using System.Globalization;
using Microsoft.Data.Sqlite;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Pairs;

/// <summary>Keeps what pairing proposes; what did not change is not written again.</summary>
public sealed class PairStore(Database database)
{
    private const string Columns = "HubKey OtherKey Verdict Confidence Evidence Candidates Reference Caption Causes";

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
        var stored = Stored(coupleId, connection, transaction);
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
        using (var delete = new Statement(connection, transaction, "DELETE FROM Proposals WHERE Id = $id", "$id"))
            foreach (var (old, _) in stored.Values)
                delete.Execute(old);
        Insert(coupleId, changed, connection, transaction);
        using (var stamp = new Statement(connection, transaction, "UPDATE Couples SET PairedAt = $at WHERE Id = $id", "$at", "$id"))
            stamp.Execute(now.UtcTicks, coupleId);
        await transaction.CommitAsync(cancel);
        return stored.Count + changed.Count;
    }

    private static Dictionary<(string?, string?), (long Id, PairProposal Row)> Stored(
        long coupleId,
        SqliteConnection connection,
        SqliteTransaction transaction
    )
    {
        var stored = new Dictionary<(string?, string?), (long Id, PairProposal Row)>();
        using var select = new Statement(
            connection,
            transaction,
            $"SELECT Id, {Columns.Replace(" ", ", ", StringComparison.Ordinal)} FROM Proposals WHERE CoupleId = $couple",
            "$couple"
        );
        using var rows = select.Rows(coupleId);
        while (rows.Read())
        {
            var row = Read(rows);
            stored[(row.HubKey, row.OtherKey)] = (rows.GetInt64(0), row);
        }

        return stored;
    }

    private static void Insert(long coupleId, List<PairProposal> proposals, SqliteConnection connection, SqliteTransaction transaction)
    {
        using var insert = Statement.Insert(connection, transaction, "Proposals", $"CoupleId {Columns}");
        foreach (var p in proposals)
            insert.Execute(
                coupleId,
                p.HubKey,
                p.OtherKey,
                p.Verdict.ToString(),
                p.Confidence,
                p.Evidence,
                p.Candidates,
                p.Reference,
                p.Caption,
                p.Causes
            );
    }

    private static PairProposal Read(SqliteDataReader row) =>
        new()
        {
            HubKey = row.Text(1),
            OtherKey = row.Text(2),
            Verdict = Enum.Parse<Core.Pairing.Verdict>(row.GetString(3)),
            Confidence = row.GetDouble(4),
            Evidence = row.GetString(5),
            Candidates = row.GetString(6),
            Reference = row.Text(7),
            Caption = row.Text(8),
            Causes = row.GetString(9),
        };

    private static bool Same(PairProposal a, PairProposal b) =>
        a.Verdict == b.Verdict
        && a.Confidence.ToString(CultureInfo.InvariantCulture) == b.Confidence.ToString(CultureInfo.InvariantCulture)
        && a.Evidence == b.Evidence
        && a.Candidates == b.Candidates
        && a.Reference == b.Reference
        && a.Caption == b.Caption
        && a.Causes == b.Causes;
}
