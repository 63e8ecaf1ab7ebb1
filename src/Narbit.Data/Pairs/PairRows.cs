using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace Narbit.Data.Pairs;

/// <summary>
/// Writes decisions and what follows from them by the tens of thousands, within the context's own transaction. The statements are SQLite's
/// own, for speed.
/// </summary>
public static class PairRows
{
    /// <summary>Adds decisions and gives them their numbers.</summary>
    /// <exception cref="SqliteException">A record is decided already, see <see cref="Database.IsDuplicate"/>.</exception>
    public static void Insert(NarbitContext db, IReadOnlyList<PairDecision> decisions)
    {
        using var insert = Command(
            db,
            "INSERT INTO Decisions (CoupleId, BatchId, Act, State, HubKey, OtherKey, Parts, Reason, Evidence, Verdict, Sku, "
                + "Title, HubClaim, OtherClaim, Before, \"By\", At) VALUES ($0, $1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, "
                + "$12, $13, $14, $15, $16) RETURNING Id",
            17
        );
        foreach (var d in decisions)
            d.Id = Scalar(
                insert,
                d.CoupleId,
                d.BatchId,
                d.Act.ToString(),
                d.State.ToString(),
                d.HubKey,
                d.OtherKey,
                d.Parts,
                d.Reason,
                d.Evidence,
                d.Verdict,
                d.Sku,
                d.Title,
                d.HubClaim,
                d.OtherClaim,
                d.Before,
                d.By,
                d.At.UtcTicks
            );
    }

    /// <summary>Adds links.</summary>
    public static void Insert(NarbitContext db, IEnumerable<PairLink> links)
    {
        using var insert = Command(
            db,
            "INSERT INTO Links (CoupleId, HubKey, OtherKey, Quantity, IsKit, DecisionId) VALUES ($0, $1, $2, $3, $4, $5) RETURNING Id",
            6
        );
        foreach (var l in links)
            l.Id = Scalar(insert, l.CoupleId, l.HubKey, l.OtherKey, l.Quantity, l.IsKit ? 1 : 0, l.DecisionId);
    }

    /// <summary>Adds set-asides.</summary>
    public static void Insert(NarbitContext db, IEnumerable<SetAside> asides)
    {
        using var insert = Command(
            db,
            "INSERT INTO SetAsides (CoupleId, HubKey, OtherKey, Reason, ToCreate, DecisionId) VALUES ($0, $1, $2, $3, $4, $5) RETURNING Id",
            6
        );
        foreach (var a in asides)
            a.Id = Scalar(insert, a.CoupleId, a.HubKey, a.OtherKey, a.Reason, a.ToCreate ? 1 : 0, a.DecisionId);
    }

    /// <summary>Removes links.</summary>
    public static void Delete(NarbitContext db, IEnumerable<PairLink> links) => Delete(db, "Links", links.Select(l => l.Id));

    /// <summary>Removes set-asides.</summary>
    public static void Delete(NarbitContext db, IEnumerable<SetAside> asides) => Delete(db, "SetAsides", asides.Select(a => a.Id));

    /// <summary>Says what became of decisions, from what is in them now.</summary>
    public static void Settle(NarbitContext db, IEnumerable<PairDecision> decisions)
    {
        using var update = Command(db, "UPDATE Decisions SET State = $0, BatchId = $1, Before = $2 WHERE Id = $3", 4);
        foreach (var d in decisions)
        {
            Fill(update, d.State.ToString(), d.BatchId, d.Before, d.Id);
            update.ExecuteNonQuery();
        }
    }

    private static void Delete(NarbitContext db, string table, IEnumerable<long> ids)
    {
        using var delete = Command(db, $"DELETE FROM {table} WHERE Id = $0", 1);
        foreach (var id in ids)
        {
            Fill(delete, id);
            delete.ExecuteNonQuery();
        }
    }

    private static SqliteCommand Command(NarbitContext db, string sql, int parameters)
    {
        var command = ((SqliteConnection)db.Database.GetDbConnection()).CreateCommand();
        command.Transaction = (SqliteTransaction?)db.Database.CurrentTransaction?.GetDbTransaction();
        command.CommandText = sql;
        for (var i = 0; i < parameters; i++)
            command.Parameters.Add(new SqliteParameter($"${i}", null));
        return command;
    }

    private static long Scalar(SqliteCommand command, params object?[] values)
    {
        Fill(command, values);
        return (long)command.ExecuteScalar()!;
    }

    private static void Fill(SqliteCommand command, params object?[] values)
    {
        for (var i = 0; i < values.Length; i++)
            command.Parameters[i].Value = values[i] ?? DBNull.Value;
    }
}
