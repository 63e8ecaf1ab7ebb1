using System.Runtime.InteropServices;
using System.Threading.Channels;
using Microsoft.Data.Sqlite;
using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

/// <summary>A record made ready for the mirror.</summary>
public sealed record MirrorEntry(
    string Key,
    ulong KeyHash,
    string? Parent,
    string? Sku,
    string? Title,
    byte[] Hash,
    ReadOnlyMemory<byte> Raw,
    ReadOnlyMemory<byte> Values,
    string? Problems
);

/// <summary>
/// A record's place in the mirror, as pairing and computing need it; its values as JSON in UTF-8, which they are read from.
/// </summary>
public readonly record struct MirrorRow(
    string Key,
    string? Parent,
    string? Sku,
    string? Title,
    byte[] Values,
    string? Problems,
    DateTimeOffset ChangedAt
);

/// <summary>
/// Reads and writes the mirror in bulk. The statements are SQLite's own, for speed; everything else goes through EF Core.
/// </summary>
public sealed class MirrorStore(Database database)
{
    private const int RowsAhead = 512;

    /// <summary>
    /// Stores one or several pages and how far the read has come, in one transaction. Records that are as they were cost no write.
    /// </summary>
    /// <returns>How many records were new or different.</returns>
    public static async Task<int> StorePageAsync(
        SqliteConnection connection,
        MirrorRead read,
        IReadOnlyList<MirrorEntry> page,
        bool mirrorWasEmpty,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        var changed = Upsert(connection, transaction, read.SystemId, read.Kind, page, mirrorWasEmpty, now);

        if (read.Since is null)
        {
            await using var seen = Prepare(
                connection,
                transaction,
                "INSERT OR REPLACE INTO ReadPages (ReadId, Number, Keys) VALUES ($read, $number, $keys)",
                "$read",
                "$number",
                "$keys"
            );
            seen.Parameters[0].Value = read.Id;
            seen.Parameters[1].Value = read.Pages;
            seen.Parameters[2].Value = MemoryMarshal.AsBytes(page.Select(e => e.KeyHash).ToArray().AsSpan()).ToArray();
            seen.ExecuteNonQuery();
        }

        read.Changed += changed;
        await using (
            var progress = Prepare(
                connection,
                transaction,
                "UPDATE Reads SET Cursor = $cursor, Pages = $pages, Records = $records, Listed = $listed, Total = $total, "
                    + "Changed = $changed, Troubled = $troubled WHERE Id = $id",
                "$cursor",
                "$pages",
                "$records",
                "$listed",
                "$total",
                "$changed",
                "$troubled",
                "$id"
            )
        )
        {
            object?[] values = [read.Cursor, read.Pages, read.Records, read.Listed, read.Total, read.Changed, read.Troubled, read.Id];
            for (var i = 0; i < values.Length; i++)
                progress.Parameters[i].Value = values[i] ?? DBNull.Value;
            progress.ExecuteNonQuery();
        }

        await transaction.CommitAsync(cancel);
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
        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        Upsert(connection, transaction, systemId, kind, entries, mirrorWasEmpty: false, now);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Marks records that a full read did not meet as gone.</summary>
    /// <returns>How many were marked.</returns>
    public static async Task<int> MarkGoneAsync(
        SqliteConnection connection,
        MirrorRead read,
        Func<string, ulong> hash,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        var seen = new HashSet<ulong>(read.Records);
        await using (var pages = Prepare(connection, null, "SELECT Keys FROM ReadPages WHERE ReadId = $read", "$read"))
        {
            pages.Parameters[0].Value = read.Id;
            await using var rows = await pages.ExecuteReaderAsync(cancel);
            while (await rows.ReadAsync(cancel))
                foreach (var key in MemoryMarshal.Cast<byte, ulong>(rows.GetFieldValue<byte[]>(0)))
                    seen.Add(key);
        }

        var gone = new List<long>();
        await using (
            var keys = Prepare(
                connection,
                null,
                "SELECT Id, Key FROM Records WHERE SystemId = $system AND Kind = $kind AND GoneAt IS NULL",
                "$system",
                "$kind"
            )
        )
        {
            Fill(keys, read.SystemId, read.Kind.ToString());
            await using var rows = await keys.ExecuteReaderAsync(cancel);
            while (await rows.ReadAsync(cancel))
                if (!seen.Contains(hash(rows.GetString(1))))
                    gone.Add(rows.GetInt64(0));
        }

        await using var transaction = (SqliteTransaction)await connection.BeginTransactionAsync(cancel);
        await using (var mark = Prepare(connection, transaction, "UPDATE Records SET GoneAt = $at WHERE Id = $id", "$at", "$id"))
        {
            mark.Parameters[0].Value = now.UtcTicks;
            foreach (var id in gone)
            {
                mark.Parameters[1].Value = id;
                mark.ExecuteNonQuery();
            }
        }

        await using (var forget = Prepare(connection, transaction, "DELETE FROM ReadPages WHERE ReadId = $read", "$read"))
        {
            forget.Parameters[0].Value = read.Id;
            forget.ExecuteNonQuery();
        }

        await transaction.CommitAsync(cancel);
        return gone.Count;
    }

    /// <summary>Streams the records of a kind that are still there, in the order of their keys' arrival.</summary>
    public async IAsyncEnumerable<MirrorRow> RowsAsync(
        string systemId,
        RecordKind kind,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel
    )
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

    /// <summary>
    /// Some records of a kind that are still there, and those that belong to some groups, in the order of their keys' arrival.
    /// </summary>
    /// <param name="systemId">The system.</param>
    /// <param name="kind">The kind.</param>
    /// <param name="keys">Keys of records.</param>
    /// <param name="parents">Groups.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<MirrorRow>> SomeAsync(
        string systemId,
        RecordKind kind,
        IEnumerable<string> keys,
        IEnumerable<string> parents,
        CancellationToken cancel
    )
    {
        await using var connection = await database.OpenAsync(bulk: true, cancel);
        var found = new SortedDictionary<long, MirrorRow>();
        foreach (var (column, values) in new[] { ("Key", keys), ("Parent", parents) })
        {
            await using var select = Prepare(
                connection,
                null,
                $"SELECT {Columns}, Id FROM Records WHERE SystemId = $system AND Kind = $kind AND {column} = $value AND GoneAt IS NULL",
                "$system",
                "$kind",
                "$value"
            );
            Fill(select, systemId, kind.ToString());
            foreach (var value in values)
            {
                select.Parameters[2].Value = value;
                await using var rows = await select.ExecuteReaderAsync(cancel);
                while (rows.Read())
                    found[rows.GetInt64(7)] = Row(rows);
            }
        }

        return [.. found.Values];
    }

    private const string Columns = "Key, Parent, Sku, Title, \"Values\", Problems, ChangedAt";

    private static MirrorRow Row(SqliteDataReader row) =>
        new(
            row.GetString(0),
            Text(row, 1),
            Text(row, 2),
            Text(row, 3),
            row.GetFieldValue<byte[]>(4),
            Text(row, 5),
            new DateTimeOffset(row.GetInt64(6), TimeSpan.Zero)
        );

    private async Task FetchAsync(string systemId, RecordKind kind, ChannelWriter<List<MirrorRow>> ahead, CancellationToken cancel)
    {
        Exception? error = null;
        try
        {
            await using var connection = await database.OpenAsync(bulk: true, cancel);
            await using var select = Prepare(
                connection,
                null,
                $"SELECT {Columns} FROM Records WHERE SystemId = $system AND Kind = $kind AND GoneAt IS NULL ORDER BY Id",
                "$system",
                "$kind"
            );
            Fill(select, systemId, kind.ToString());
            await using var rows = await select.ExecuteReaderAsync(cancel);
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
        string systemId,
        RecordKind kind,
        IReadOnlyList<MirrorEntry> entries,
        bool mirrorWasEmpty,
        DateTimeOffset now
    )
    {
        using var find = Prepare(
            connection,
            transaction,
            "SELECT Hash, GoneAt FROM Records WHERE SystemId = $system AND Kind = $kind AND Key = $key",
            "$system",
            "$kind",
            "$key"
        );
        using var upsert = Prepare(
            connection,
            transaction,
            """
            INSERT INTO Records (SystemId, Kind, Key, Parent, Sku, Title, Hash, Raw, "Values", Problems, ChangedAt, GoneAt)
            VALUES ($system, $kind, $key, $parent, $sku, $title, $hash, CAST($raw AS TEXT), CAST($values AS TEXT), $problems, $at, NULL)
            ON CONFLICT (SystemId, Kind, Key) DO UPDATE SET Parent = excluded.Parent, Sku = excluded.Sku, Title = excluded.Title, Hash = excluded.Hash,
                Raw = excluded.Raw, "Values" = excluded."Values", Problems = excluded.Problems, ChangedAt = excluded.ChangedAt, GoneAt = NULL
            """,
            "$system",
            "$kind",
            "$key",
            "$parent",
            "$sku",
            "$title",
            "$hash",
            "$raw",
            "$values",
            "$problems",
            "$at"
        );
        Fill(find, systemId, kind.ToString());
        Fill(upsert, systemId, kind.ToString());
        upsert.Parameters[10].Value = now.UtcTicks;
        var changed = 0;
        foreach (var entry in entries)
        {
            if (!mirrorWasEmpty && Unchanged(find, entry))
                continue;
            upsert.Parameters[2].Value = entry.Key;
            upsert.Parameters[3].Value = (object?)entry.Parent ?? DBNull.Value;
            upsert.Parameters[4].Value = (object?)entry.Sku ?? DBNull.Value;
            upsert.Parameters[5].Value = (object?)entry.Title ?? DBNull.Value;
            upsert.Parameters[6].Value = entry.Hash;
            upsert.Parameters[7].Value = Bytes(entry.Raw);
            upsert.Parameters[8].Value = Bytes(entry.Values);
            upsert.Parameters[9].Value = (object?)entry.Problems ?? DBNull.Value;
            upsert.ExecuteNonQuery();
            changed++;
        }

        return changed;
    }

    private static bool Unchanged(SqliteCommand find, MirrorEntry entry)
    {
        find.Parameters[2].Value = entry.Key;
        using var row = find.ExecuteReader();
        return row.Read() && row.IsDBNull(1) && row.GetFieldValue<byte[]>(0).AsSpan().SequenceEqual(entry.Hash);
    }

    private static SqliteCommand Prepare(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        string sql,
        params string[] parameters
    )
    {
        var command = connection.CreateCommand();
        command.Transaction = transaction;
        command.CommandText = sql;
        foreach (var name in parameters)
            command.Parameters.Add(new SqliteParameter(name, null));
        return command;
    }

    private static void Fill(SqliteCommand command, string system, string kind) =>
        (command.Parameters[0].Value, command.Parameters[1].Value) = (system, kind);

    private static string? Text(SqliteDataReader row, int column) => row.IsDBNull(column) ? null : row.GetString(column);

    private static byte[] Bytes(ReadOnlyMemory<byte> memory) =>
        MemoryMarshal.TryGetArray(memory, out var segment) && segment.Offset == 0 && segment.Count == segment.Array!.Length
            ? segment.Array
            : memory.ToArray();
}
