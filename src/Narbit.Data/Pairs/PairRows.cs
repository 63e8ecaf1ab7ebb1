using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Pairs;

/// <summary>
/// Writes decisions and what follows from them by the tens of thousands, within the context's own transaction. The statements are
/// SQLite's own, for speed.
/// </summary>
public static class PairRows
{
    private const string DecisionColumns =
        "CoupleId BatchId Act State HubKey OtherKey Parts Reason Evidence Verdict Reference Caption HubClaim OtherClaim Before By At "
        + "DeskActId";

    /// <summary>Adds decisions and gives them their numbers.</summary>
    /// <exception cref="SqliteException">A record is decided already, see <see cref="Database.IsDuplicate"/>.</exception>
    public static void Insert(NarbitContext db, IReadOnlyList<PairDecision> decisions)
    {
        using var insert = Insert(db, "Decisions", DecisionColumns);
        foreach (var d in decisions)
            d.Id = insert.Number(
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
                d.Reference,
                d.Caption,
                d.HubClaim,
                d.OtherClaim,
                d.Before,
                d.By,
                d.At.UtcTicks,
                d.DeskActId
            );
    }

    /// <summary>Adds links.</summary>
    public static void Insert(NarbitContext db, IEnumerable<PairLink> links)
    {
        using var insert = Insert(db, "Links", "CoupleId HubKey OtherKey Quantity IsKit DecisionId");
        foreach (var l in links)
            l.Id = insert.Number(l.CoupleId, l.HubKey, l.OtherKey, l.Quantity, l.IsKit ? 1 : 0, l.DecisionId);
    }

    /// <summary>Adds set-asides.</summary>
    public static void Insert(NarbitContext db, IEnumerable<SetAside> asides)
    {
        using var insert = Insert(db, "SetAsides", "CoupleId HubKey OtherKey Reason ToCreate DecisionId");
        foreach (var a in asides)
            a.Id = insert.Number(a.CoupleId, a.HubKey, a.OtherKey, a.Reason, a.ToCreate ? 1 : 0, a.DecisionId);
    }

    /// <summary>Removes links.</summary>
    public static void Delete(NarbitContext db, IEnumerable<PairLink> links) => Delete(db, "Links", links.Select(l => l.Id));

    /// <summary>Removes set-asides.</summary>
    public static void Delete(NarbitContext db, IEnumerable<SetAside> asides) => Delete(db, "SetAsides", asides.Select(a => a.Id));

    /// <summary>Says what became of decisions, from what is in them now.</summary>
    public static void Settle(NarbitContext db, IEnumerable<PairDecision> decisions)
    {
        using var update = new Statement(
            Connection(db),
            Transaction(db),
            "UPDATE Decisions SET State = $state, BatchId = $batch, Before = $before WHERE Id = $id",
            "$state",
            "$batch",
            "$before",
            "$id"
        );
        foreach (var d in decisions)
            update.Execute(d.State.ToString(), d.BatchId, d.Before, d.Id);
    }

    private static void Delete(NarbitContext db, string table, IEnumerable<long> ids)
    {
        using var delete = new Statement(Connection(db), Transaction(db), $"DELETE FROM {table} WHERE Id = $id", "$id");
        foreach (var id in ids)
            delete.Execute(id);
    }

    private static Statement Insert(NarbitContext db, string table, string columns) =>
        Statement.Insert(Connection(db), Transaction(db), table, columns, "RETURNING Id");

    private static SqliteConnection Connection(NarbitContext db) => (SqliteConnection)db.Database.GetDbConnection();

    private static SqliteTransaction? Transaction(NarbitContext db) =>
        (SqliteTransaction?)db.Database.CurrentTransaction?.GetDbTransaction();
}
