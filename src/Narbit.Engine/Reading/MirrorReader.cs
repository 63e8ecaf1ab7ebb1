using System.Collections.Concurrent;
using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Reading;

/// <summary>Reads systems into the mirror, page by page. A reading that was cut off goes on where it stopped.</summary>
/// <param name="database">Where the mirror is.</param>
/// <param name="adapters">How systems are reached.</param>
/// <param name="live">Who is told.</param>
/// <param name="clock">The time.</param>
public sealed class MirrorReader(Database database, AdapterSource adapters, LiveFeed live, TimeProvider clock)
{
    // Clocks of two systems differ, and a change may be stamped before it becomes visible; reading a little again costs no write.
    private static readonly TimeSpan Overlap = TimeSpan.FromMinutes(3);
    private static readonly TimeSpan GoesOnWithin = TimeSpan.FromMinutes(30);
    private const int PagesAhead = 6;
    private const int MostInTransaction = 5000;
    private readonly ConcurrentDictionary<(string, RecordKind), SemaphoreSlim> _gates = new();

    /// <summary>Reads every kind that a system offers.</summary>
    /// <returns>The readings, or the first fault.</returns>
    public async Task<Outcome<IReadOnlyList<MirrorRead>>> ReadSystemAsync(string systemId, bool full, CancellationToken cancel)
    {
        var connection = await adapters.ForAsync(systemId, cancel);
        if (connection.Fault is { } fault)
            return fault;
        var reads = new List<MirrorRead>();
        foreach (var kind in connection.Value.Adapter.Kinds)
        {
            var read = await ReadAsync(systemId, kind.Kind, full, cancel);
            if (read.Fault is { } broken)
                return broken;
            reads.Add(read.Value);
        }

        return reads;
    }

    /// <summary>Reads one kind of record. Two callers at the same time take turns; the second finds little left to read.</summary>
    /// <param name="systemId">The system.</param>
    /// <param name="kind">The kind.</param>
    /// <param name="full">Everything, which also notices records that are gone; otherwise what changed since the last reading, where the
    /// system can tell.</param>
    /// <param name="cancel">Stops between two pages.</param>
    public async Task<Outcome<MirrorRead>> ReadAsync(string systemId, RecordKind kind, bool full, CancellationToken cancel)
    {
        var gate = _gates.GetOrAdd((systemId, kind), _ => new SemaphoreSlim(1, 1));
        await gate.WaitAsync(cancel);
        try
        {
            var connection = await adapters.ForAsync(systemId, cancel);
            if (connection.Fault is { } fault)
                return fault;
            if (!connection.Value.System.MayRead)
                return new Fault("system.mayNotRead", $"{connection.Value.System.Name} may not be read; allow it under Systems.");
            return await ReadOpenAsync(connection.Value, kind, full, cancel);
        }
        finally
        {
            gate.Release();
        }
    }

    private async Task<Outcome<MirrorRead>> ReadOpenAsync(Connection connection, RecordKind kind, bool full, CancellationToken cancel)
    {
        var (system, adapter) = connection;
        var fields = adapter.Kinds.First(k => k.Kind == kind).Fields;
        var read = await BeginAsync(system.Id, kind, full || !adapter.ReadsChanges(kind), cancel);
        await using var store = await database.OpenAsync(bulk: true, cancel);
        bool empty;
        await using (var db = database.CreateDbContext())
            empty = !await db.Records.AnyAsync(r => r.SystemId == system.Id && r.Kind == kind, cancel);

        Tell(read);
        // Pages travel while others are stored; what has piled up is stored in one transaction, which spares SQLite from writing index
        // pages again and again.
        var pages = Channel.CreateBounded<Outcome<FetchedPage>>(PagesAhead);
        using var giveUp = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var fetching = FetchAsync(adapter, kind, fields, read.Cursor, read.Since, pages.Writer, giveUp.Token);
        try
        {
            while (await pages.Reader.WaitToReadAsync(cancel))
            {
                var entries = new List<MirrorEntry>();
                Fault? fault = null;
                while (fault is null && entries.Count < MostInTransaction && pages.Reader.TryRead(out var fetched))
                {
                    if (fetched.Fault is not null)
                        fault = fetched.Fault;
                    else
                        Count(read, fetched.Value, entries);
                }

                if (entries.Count > 0)
                    await MirrorStore.StorePageAsync(store, read, entries, empty, clock.GetUtcNow(), cancel);
                Tell(read);
                if (fault is not null)
                    return await FailAsync(read, fault, cancel);
            }
        }
        finally
        {
            await giveUp.CancelAsync();
            await fetching;
        }

        // A reading that was told to stop has not met the rest, which is therefore not gone.
        cancel.ThrowIfCancellationRequested();
        if (read.Total is { } total && read.Listed < total)
        {
            return await FailAsync(
                read,
                new Fault(
                    "read.short",
                    $"{system.Name} says it has {total:N0} entries but sent {read.Listed:N0}. Nothing was taken as gone; read it again."
                ),
                cancel
            );
        }

        if (read.Since is null)
            read.Gone = await MirrorStore.MarkGoneAsync(store, read, StoredRecord.KeyHash, clock.GetUtcNow(), cancel);
        return await EndAsync(read, ReadState.Done, null, cancel);
    }

    private static async Task FetchAsync(
        IAdapter adapter,
        RecordKind kind,
        FieldSet fields,
        string? cursor,
        DateTimeOffset? since,
        ChannelWriter<Outcome<FetchedPage>> pages,
        CancellationToken cancel
    )
    {
        try
        {
            do
            {
                var page = await adapter.ReadPageAsync(kind, cursor, since, cancel);
                if (page.Fault is { } fault)
                {
                    await pages.WriteAsync(fault, cancel);
                    break;
                }

                await pages.WriteAsync(new FetchedPage(page.Value, StoredRecord.Entries(page.Value.Records, fields)), cancel);
                cursor = page.Value.Next;
            } while (cursor is not null);
            pages.Complete();
        }
        catch (OperationCanceledException)
        {
            pages.Complete();
        }
        catch (Exception error)
        {
            pages.Complete(error);
        }
    }

    private static void Count(MirrorRead read, FetchedPage fetched, List<MirrorEntry> entries)
    {
        var page = fetched.Page;
        entries.AddRange(fetched.Entries);
        read.Cursor = page.Next;
        read.Pages++;
        read.Records += page.Records.Count;
        read.Listed += page.Listed;
        read.Total = page.Total ?? read.Total;
        read.Troubled += page.Records.Count(r => r.Problems.Count > 0);
    }

    private sealed record FetchedPage(RecordPage Page, IReadOnlyList<MirrorEntry> Entries);

    private async Task<MirrorRead> BeginAsync(string systemId, RecordKind kind, bool full, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var now = clock.GetUtcNow();
        var latest = await db
            .Reads.Where(r => r.SystemId == systemId && r.Kind == kind)
            .OrderByDescending(r => r.Id)
            .FirstOrDefaultAsync(cancel);
        var goesOn = latest is { State: ReadState.Reading } or { State: ReadState.Failed, Cursor: not null };
        if (goesOn && latest!.Cursor is not null && now - latest.StartedAt < GoesOnWithin && (latest.Since is null || !full))
        {
            (latest.State, latest.EndedAt, latest.Message) = (ReadState.Reading, null, null);
            await db.SaveChangesAsync(cancel);
            return latest;
        }

        if (latest is { State: ReadState.Reading })
            (latest.State, latest.EndedAt, latest.Message) = (ReadState.Failed, now, "cut off, and too long ago to go on");
        var lastDone = await db
            .Reads.Where(r => r.SystemId == systemId && r.Kind == kind && r.State == ReadState.Done)
            .OrderByDescending(r => r.Id)
            .FirstOrDefaultAsync(cancel);
        var read = new MirrorRead
        {
            SystemId = systemId,
            Kind = kind,
            Since = full || lastDone is null ? null : lastDone.StartedAt - Overlap,
            State = ReadState.Reading,
            StartedAt = now,
        };
        await db.SaveChangesAsync(cancel);
        db.Reads.Add(read);
        await db.SaveChangesAsync(cancel);
        return read;
    }

    private async Task<Outcome<MirrorRead>> FailAsync(MirrorRead read, Fault fault, CancellationToken cancel)
    {
        await EndAsync(read, ReadState.Failed, fault.Message, cancel);
        return fault;
    }

    private async Task<MirrorRead> EndAsync(MirrorRead read, ReadState state, string? message, CancellationToken cancel)
    {
        (read.State, read.EndedAt, read.Message) = (state, clock.GetUtcNow(), message);
        await using var db = database.CreateDbContext();
        db.Reads.Update(read);
        await db.SaveChangesAsync(cancel);
        Tell(read);
        return read;
    }

    private void Tell(MirrorRead read) =>
        live.Tell(new LiveEvent("read", read.SystemId, $"{read.Kind}:{read.State}".ToLowerInvariant(), read.Records, read.Total));
}
