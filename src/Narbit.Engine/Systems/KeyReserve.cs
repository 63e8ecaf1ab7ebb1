using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>
/// Gives new records their keys where a system leaves that to Narbit. A key is reserved in the database before it leaves: two runs never
/// give the same, and a creation that is tried again has the key that it had.
/// </summary>
/// <param name="database">Where keys are reserved.</param>
public sealed class KeyReserve(Database database)
{
    /// <summary>The keys for some creations, reserved now or before.</summary>
    /// <param name="systemId">The system.</param>
    /// <param name="kind">The kind of record.</param>
    /// <param name="from">The lowest number that a new record may get.</param>
    /// <param name="creations">The creations' idempotency keys.</param>
    /// <param name="cancel">Gives up; nothing is reserved then.</param>
    /// <returns>The keys by idempotency key.</returns>
    public async Task<IReadOnlyDictionary<string, long>> GiveAsync(
        string systemId,
        RecordKind kind,
        long from,
        IReadOnlyCollection<string> creations,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        // The write lock is taken first, so that nobody else counts from the same number.
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var given = await db
            .ReservedKeys.Where(k => creations.Contains(k.IdempotencyKey))
            .ToDictionaryAsync(k => k.IdempotencyKey, k => k.Key, StringComparer.Ordinal, cancel);
        var next = Math.Max(from, await HighestAsync(db, systemId, kind, cancel) + 1);
        foreach (var creation in creations.Where(c => !given.ContainsKey(c)))
        {
            given[creation] = next++;
            db.ReservedKeys.Add(
                new ReservedKey
                {
                    SystemId = systemId,
                    Kind = kind,
                    Key = given[creation],
                    IdempotencyKey = creation,
                }
            );
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return given;
    }

    private static async Task<long> HighestAsync(NarbitContext db, string systemId, RecordKind kind, CancellationToken cancel)
    {
        var reserved = await db.ReservedKeys.Where(k => k.SystemId == systemId && k.Kind == kind).MaxAsync(k => (long?)k.Key, cancel);
        // Records that are gone keep their numbers: a till would take the next article for the old one.
        var highest = reserved ?? 0;
        await foreach (var key in db.Records.Where(r => r.SystemId == systemId && r.Kind == kind).Select(r => r.Key).AsAsyncEnumerable())
            if (long.TryParse(key, System.Globalization.CultureInfo.InvariantCulture, out var number) && number > highest)
                highest = number;
        return highest;
    }
}
