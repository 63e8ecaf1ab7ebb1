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
/// <param name="clock">The time.</param>
public sealed class KeyReserve(Database database, TimeProvider clock)
{
    private readonly Dictionary<(string, RecordKind), (long Highest, DateTimeOffset At)> _counted = [];

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
                    At = clock.GetUtcNow(),
                }
            );
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return given;
    }

    private async Task<long> HighestAsync(NarbitContext db, string systemId, RecordKind kind, CancellationToken cancel)
    {
        var reserved = await db.ReservedKeys.Where(k => k.SystemId == systemId && k.Kind == kind).MaxAsync(k => (long?)k.Key, cancel);
        var (counted, at) = _counted.GetValueOrDefault((systemId, kind));
        // Records that are gone keep their numbers: a till would take the next article for the old one. What was counted once is not
        // counted again; what changed since is.
        var highest = Math.Max(reserved ?? 0, counted);
        var records = db.Records.Where(r => r.SystemId == systemId && r.Kind == kind && r.ChangedAt >= at);
        var latest = at;
        await foreach (var record in records.Select(r => new { r.Key, r.ChangedAt }).AsAsyncEnumerable())
        {
            if (long.TryParse(record.Key, System.Globalization.CultureInfo.InvariantCulture, out var number) && number > highest)
                highest = number;
            latest = record.ChangedAt > latest ? record.ChangedAt : latest;
        }

        _counted[(systemId, kind)] = (highest, latest);
        return highest;
    }
}
