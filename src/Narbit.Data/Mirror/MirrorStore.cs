using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Threading.Channels;
using Microsoft.Data.Sqlite;
using Narbit.Core.Records;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Mirror;

/// <summary>
/// Reads and writes the mirror in bulk. The statements are SQLite's own, for speed; everything else goes through EF Core.
/// </summary>
public sealed class MirrorStore(Database database)
{
    private const int RowsAhead = 512;
    private const string RowColumns = "Key, Parent, \"Group\", Reference, Caption, \"Values\", Problems, Children, ChangedAt";
    private const string OfKind = "SystemId = $system AND Kind = $kind AND GoneAt IS NULL";

    /// <summary>
    /// Stores one or several pages and how far the read has come, in one transaction. Records that are as they were cost no write.
    /// </summary>
    /// <param name="connection">Where.</param>
    /// <param name="read">The reading; it is moved on once everything is stored, and not before.</param>
    /// <param name="progress">How far it has come with these pages.</param>
    /// <param name="page">The records of its own kind.</param>
    /// <param name="beside">Records of other kinds that the same list held.</param>
    /// <param name="mirrorWasEmpty">Whether there is nothing to compare with.</param>
    /// <param name="now">The time.</param>
    /// <param name="cancel">Gives up; nothing is stored.</param>
    /// <returns>How many records were new or different.</returns>
    public static async Task<int> StorePageAsync(
        SqliteConnection connection,
        MirrorRead read,
        ReadProgress progress,
        IReadOnlyList<MirrorEntry> page,
        IReadOnlyDictionary<RecordKind, List<MirrorEntry>> beside,
        bool mirrorWasEmpty,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        var changed = Upsert(connection, transaction, (read.SystemId, read.Kind), page, mirrorWasEmpty, now);
        foreach (var (kind, entries) in beside)
            Upsert(connection, transaction, (read.SystemId, kind), entries, mirrorWasEmpty: false, now);
        if (read.Since is null)
            NoteSeen(connection, transaction, read.Id, progress.Pages, page);
        NoteProgress(connection, transaction, read, progress, read.Changed + changed);
        await transaction.CommitAsync(cancel);
        progress.PutInto(read);
        read.Changed += changed;
        return changed;
    }

    /// <summary>Stores single records that were looked up.</summary>
    public async Task StoreAsync(
        string systemId,
        RecordKind kind,
        IReadOnlyList<MirrorEntry> entries,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        await StoreAsync(connection, systemId, kind, entries, now, cancel);
    }

    /// <summary>Stores single records that were looked up.</summary>
    public static async Task StoreAsync(
        SqliteConnection connection,
        string systemId,
        RecordKind kind,
        IReadOnlyList<MirrorEntry> entries,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        Upsert(connection, transaction, (systemId, kind), entries, mirrorWasEmpty: false, now);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>The records that are held for there and that a whole reading did not meet.</summary>
    public static async Task<IReadOnlyList<MissingRecord>> MissingAsync(
        SqliteConnection connection,
        MirrorRead read,
        Func<string, ulong> hash,
        CancellationToken cancel
    )
    {
        var seen = await SeenAsync(connection, read, cancel);
        var missing = new List<MissingRecord>();
        using var keys = new Statement(connection, null, $"SELECT Id, Key, MissedAt FROM Records WHERE {OfKind}", "$system", "$kind");
        await using var rows = await keys.Set(read.SystemId, read.Kind.ToString()).RowsAsync(cancel);
        while (await rows.ReadAsync(cancel))
            if (!seen.Contains(hash(rows.GetString(1))))
                missing.Add(new MissingRecord(rows.GetInt64(0), rows.GetString(1), !rows.IsDBNull(2)));
        return missing;
    }

    /// <summary>Keeps what a whole reading has found out about what it did not meet; what it met is missing no more.</summary>
    /// <param name="connection">Where.</param>
    /// <param name="read">The reading.</param>
    /// <param name="gone">What is gone.</param>
    /// <param name="missed">What may be; the next whole reading decides.</param>
    /// <param name="now">The time.</param>
    /// <param name="cancel">Gives up; nothing is kept.</param>
    public static async Task NoteMissingAsync(
        SqliteConnection connection,
        MirrorRead read,
        IReadOnlyList<MissingRecord> gone,
        IReadOnlyList<MissingRecord> missed,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        using (
            var met = new Statement(
                connection,
                transaction,
                $"UPDATE Records SET MissedAt = NULL WHERE {OfKind} AND MissedAt IS NOT NULL",
                "$system",
                "$kind"
            )
        )
            met.Execute(read.SystemId, read.Kind.ToString());
        using (var mark = new Statement(connection, transaction, "UPDATE Records SET GoneAt = $at WHERE Id = $id", "$at", "$id"))
            foreach (var record in gone)
                mark.Execute(now.UtcTicks, record.Id);
        using (var mark = new Statement(connection, transaction, "UPDATE Records SET MissedAt = $at WHERE Id = $id", "$at", "$id"))
            foreach (var record in missed)
                mark.Execute(now.UtcTicks, record.Id);
        using (var forget = new Statement(connection, transaction, "DELETE FROM ReadPages WHERE ReadId = $read", "$read"))
            forget.Execute(read.Id);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>
    /// Says of records that are there that they cannot be told apart any more; the next reading that can reads them anew.
    /// </summary>
    public static async Task MarkTroubledAsync(
        SqliteConnection connection,
        MirrorRead read,
        IReadOnlyList<(string Key, string Problems)> troubled,
        CancellationToken cancel
    )
    {
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        using var mark = new Statement(
            connection,
            transaction,
            $"UPDATE Records SET Problems = $problems, Hash = x'' WHERE {OfKind} AND Key = $key",
            "$system",
            "$kind",
            "$key",
            "$problems"
        );
        foreach (var (key, problems) in troubled)
            mark.Execute(read.SystemId, read.Kind.ToString(), key, problems);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Streams the records of a kind that are still there, in the order of their keys' arrival.</summary>
    public async IAsyncEnumerable<MirrorRow> RowsAsync(string systemId, RecordKind kind, [EnumeratorCancellation] CancellationToken cancel)
    {
        // The next rows are fetched while these are worked on.
        var ahead = Channel.CreateBounded<List<MirrorRow>>(new BoundedChannelOptions(4) { SingleReader = true, SingleWriter = true });
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var fetch = Task.Run(() => FetchAsync(systemId, kind, ahead.Writer, stop.Token), CancellationToken.None);
        try
        {
            await foreach (var rows in ahead.Reader.ReadAllAsync(cancel))
            foreach (var row in rows)
                yield return row;
        }
        finally
        {
            await stop.CancelAsync();
            await fetch;
        }
    }

    /// <summary>Streams the records of a kind that are still there, in the order of their keys' arrival.</summary>
    /// <param name="systemId">The system.</param>
    /// <param name="kind">The kind.</param>
    /// <param name="only">The keys that are wanted; null: all.</param>
    /// <param name="cancel">Gives up.</param>
    public async IAsyncEnumerable<MirrorRow> RowsAsync(
        string systemId,
        RecordKind kind,
        IReadOnlyCollection<string>? only,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        if (only is not null)
        {
            foreach (var row in await SomeAsync(systemId, kind, only, [], cancel))
                yield return row;
            yield break;
        }

        await foreach (var row in RowsAsync(systemId, kind, cancel))
            yield return row;
    }

    /// <summary>
    /// Some records of a kind that are still there, and those that belong to some families, in the order of their keys' arrival.
    /// </summary>
    /// <param name="systemId">The system.</param>
    /// <param name="kind">The kind.</param>
    /// <param name="keys">Keys of records.</param>
    /// <param name="families">What sisters share, see <see cref="MirrorRow.Family"/>.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<MirrorRow>> SomeAsync(
        string systemId,
        RecordKind kind,
        IEnumerable<string> keys,
        IEnumerable<string> families,
        CancellationToken cancel
    )
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        var found = new SortedDictionary<long, MirrorRow>();
        string[] of = [.. families];
        foreach (
            var (condition, values) in new[]
            {
                ("Key = $value", keys),
                ("\"Group\" = $value", of),
                ("Parent = $value AND \"Group\" IS NULL", of),
            }
        )
        {
            using var select = new Statement(
                connection,
                null,
                $"SELECT {RowColumns}, Id FROM Records WHERE {OfKind} AND {condition}",
                "$system",
                "$kind",
                "$value"
            );
            foreach (var value in values)
            {
                cancel.ThrowIfCancellationRequested();
                using var rows = select.Rows(systemId, kind.ToString(), value);
                while (rows.Read())
                    found[rows.GetInt64(9)] = Row(rows);
            }
        }

        return [.. found.Values];
    }

    private static MirrorRow Row(SqliteDataReader row) =>
        new(row.GetString(0), row.Text(1), row.Text(2), row.Text(3), row.Text(4))
        {
            Values = row.GetFieldValue<byte[]>(5),
            Problems = row.Text(6),
            Children = row.Text(7),
            ChangedAt = new DateTimeOffset(row.GetInt64(8), TimeSpan.Zero),
        };

    private async Task FetchAsync(string systemId, RecordKind kind, ChannelWriter<List<MirrorRow>> ahead, CancellationToken cancel)
    {
        Exception? error = null;
        try
        {
            await using var connection = await database.OpenAsync(bulk: true, cancel);
            using var select = new Statement(
                connection,
                null,
                $"SELECT {RowColumns} FROM Records WHERE {OfKind} ORDER BY Id",
                "$system",
                "$kind"
            );
            await using var rows = await select.Set(systemId, kind.ToString()).RowsAsync(cancel);
            var batch = new List<MirrorRow>(RowsAhead);
            while (rows.Read())
            {
                batch.Add(Row(rows));
                if (batch.Count < RowsAhead)
                    continue;
                await ahead.WriteAsync(batch, cancel);
                batch = new List<MirrorRow>(RowsAhead);
            }

            if (batch.Count > 0)
                await ahead.WriteAsync(batch, cancel);
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // Nobody wants any more.
        }
#pragma warning disable CA1031 // Whatever it is, it is thrown where the rows are read.
        catch (Exception thrown)
#pragma warning restore CA1031
        {
            error = thrown;
        }

        ahead.Complete(error);
    }

    private static int Upsert(
        SqliteConnection connection,
        SqliteTransaction transaction,
        (string System, RecordKind Kind) of,
        IReadOnlyList<MirrorEntry> entries,
        bool mirrorWasEmpty,
        DateTimeOffset now
    )
    {
        var (system, kind) = (of.System, of.Kind.ToString());
        UpsertParents(connection, transaction, system, kind, entries);
        using var find = new Statement(
            connection,
            transaction,
            "SELECT Hash, GoneAt FROM Records WHERE SystemId = $system AND Kind = $kind AND Key = $key",
            "$system",
            "$kind",
            "$key"
        );
        using var upsert = new Statement(
            connection,
            transaction,
            """
            INSERT INTO Records (SystemId, Kind, Key, Parent, "Group", Reference, Caption, Hash, Raw, "Values", Children, Problems,
                ChangedAt, FirstReadAt, GoneAt)
            VALUES ($system, $kind, $key, $parent, $group, $reference, $caption, $hash, CAST($raw AS TEXT), CAST($values AS TEXT),
                CAST($children AS TEXT), $problems, $at, $at, NULL)
            ON CONFLICT (SystemId, Kind, Key) DO UPDATE SET Parent = excluded.Parent, "Group" = excluded."Group",
                Reference = excluded.Reference, Caption = excluded.Caption, Hash = excluded.Hash, Raw = excluded.Raw,
                "Values" = excluded."Values", Children = excluded.Children, Problems = excluded.Problems,
                ChangedAt = excluded.ChangedAt, GoneAt = NULL, MissedAt = NULL
            """,
            "$system",
            "$kind",
            "$key",
            "$parent",
            "$group",
            "$reference",
            "$caption",
            "$hash",
            "$raw",
            "$values",
            "$children",
            "$problems",
            "$at"
        );
        find.Set(system, kind);
        var changed = 0;
        foreach (var entry in entries)
        {
            if (!mirrorWasEmpty && Unchanged(find, system, kind, entry))
                continue;
            upsert.Execute(
                system,
                kind,
                entry.Key,
                entry.Parent,
                entry.Group,
                entry.Reference,
                entry.Caption,
                entry.Hash,
                Bytes(entry.Raw),
                Bytes(entry.Values),
                entry.Children,
                entry.Problems,
                now.UtcTicks
            );
            changed++;
        }

        return changed;
    }

    // What stands around several records is the same for all of them.
    private static void UpsertParents(
        SqliteConnection connection,
        SqliteTransaction transaction,
        string system,
        string kind,
        IReadOnlyList<MirrorEntry> entries
    )
    {
        Statement? upsert = null;
        string? last = null;
        foreach (var entry in entries)
        {
            if (entry.RawParent.IsEmpty || entry.Parent is not { } parent || parent == last)
                continue;
            upsert ??= new Statement(
                connection,
                transaction,
                """
                INSERT INTO Parents (SystemId, Kind, Key, Raw) VALUES ($system, $kind, $key, CAST($raw AS TEXT))
                ON CONFLICT (SystemId, Kind, Key) DO UPDATE SET Raw = excluded.Raw WHERE Raw <> excluded.Raw
                """,
                "$system",
                "$kind",
                "$key",
                "$raw"
            );
            upsert.Execute(system, kind, parent, Bytes(entry.RawParent));
            last = parent;
        }

        upsert?.Dispose();
    }

    private static bool Unchanged(Statement find, string system, string kind, MirrorEntry entry)
    {
        using var row = find.Rows(system, kind, entry.Key);
        return row.Read() && row.IsDBNull(1) && row.GetFieldValue<byte[]>(0).AsSpan().SequenceEqual(entry.Hash);
    }

    private static void NoteSeen(
        SqliteConnection connection,
        SqliteTransaction transaction,
        long read,
        int number,
        IReadOnlyList<MirrorEntry> page
    )
    {
        using var seen = new Statement(
            connection,
            transaction,
            "INSERT OR REPLACE INTO ReadPages (ReadId, Number, Keys) VALUES ($read, $number, $keys)",
            "$read",
            "$number",
            "$keys"
        );
        seen.Execute(read, number, MemoryMarshal.AsBytes(page.Select(e => e.KeyHash).ToArray().AsSpan()).ToArray());
    }

    private static void NoteProgress(
        SqliteConnection connection,
        SqliteTransaction transaction,
        MirrorRead read,
        ReadProgress progress,
        int changed
    )
    {
        using var note = new Statement(
            connection,
            transaction,
            """
            UPDATE Reads SET Cursor = $cursor, Pages = $pages, Records = $records, Listed = $listed, Total = $total,
                Changed = $changed, Troubled = $troubled, Moved = $moved, AsOf = $asOf, NewestChange = $newest, Unkept = $unkept,
                UnkeptFirst = $first WHERE Id = $id
            """,
            "$cursor",
            "$pages",
            "$records",
            "$listed",
            "$total",
            "$changed",
            "$troubled",
            "$moved",
            "$asOf",
            "$newest",
            "$unkept",
            "$first",
            "$id"
        );
        note.Execute(
            progress.Cursor,
            progress.Pages,
            progress.Records,
            progress.Listed,
            progress.Total,
            changed,
            progress.Troubled,
            progress.Moved,
            progress.AsOf?.UtcTicks,
            progress.NewestChange?.UtcTicks,
            progress.Unkept,
            progress.UnkeptFirst,
            read.Id
        );
    }

    private static async Task<HashSet<ulong>> SeenAsync(SqliteConnection connection, MirrorRead read, CancellationToken cancel)
    {
        var seen = new HashSet<ulong>(read.Records);
        using var pages = new Statement(connection, null, "SELECT Keys FROM ReadPages WHERE ReadId = $read", "$read");
        await using var rows = await pages.Set(read.Id).RowsAsync(cancel);
        while (await rows.ReadAsync(cancel))
            foreach (var key in MemoryMarshal.Cast<byte, ulong>(rows.GetFieldValue<byte[]>(0)))
                seen.Add(key);
        return seen;
    }

    private static byte[] Bytes(ReadOnlyMemory<byte> memory) =>
        MemoryMarshal.TryGetArray(memory, out var segment) && segment.Offset == 0 && segment.Count == segment.Array!.Length
            ? segment.Array
            : memory.ToArray();
}
