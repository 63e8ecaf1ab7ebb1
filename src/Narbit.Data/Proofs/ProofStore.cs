using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Proofs;

/// <summary>Keeps what full compares found.</summary>
/// <param name="database">Where.</param>
public sealed class ProofStore(Database database)
{
    // What a day found is kept for good; what it was in single records, for as long as somebody may ask about it.
    private static readonly TimeSpan LinesKept = TimeSpan.FromDays(90);

    private const string Columns = "ProofId Finding SourceKey TargetKey Reference Caption Field There Should Before Words";

    /// <summary>Keeps a lane's proof with its lines, all or nothing.</summary>
    public async Task KeepAsync(LaneProof proof, IReadOnlyList<ProofLine> lines, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        db.Proofs.Add(proof);
        await db.SaveChangesAsync(cancel);
        Insert(db, proof.Id, lines, cancel);
        await transaction.CommitAsync(cancel);
    }

    private static void Insert(NarbitContext db, long proof, IReadOnlyList<ProofLine> lines, CancellationToken cancel)
    {
        var connection = (SqliteConnection)db.Database.GetDbConnection();
        var transaction = (SqliteTransaction)db.Database.CurrentTransaction!.GetDbTransaction();
        using var insert = Statement.Insert(connection, transaction, "ProofLines", Columns);
        foreach (var line in lines)
        {
            cancel.ThrowIfCancellationRequested();
            insert.Execute(
                proof,
                line.Finding.ToString(),
                line.SourceKey,
                line.TargetKey,
                line.Reference,
                line.Caption,
                line.Field,
                line.There,
                line.Should,
                line.Before,
                line.Words
            );
        }
    }

    /// <summary>Forgets the lines of proofs that are old; their counts stay.</summary>
    public async Task ForgetOldAsync(DateTimeOffset now, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var old = now - LinesKept;
        await db.ProofLines.Where(l => db.Proofs.Any(p => p.Id == l.ProofId && p.At < old)).ExecuteDeleteAsync(cancel);
    }
}
