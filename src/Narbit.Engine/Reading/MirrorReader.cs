using System.Collections.Concurrent;
using System.Threading.Channels;
using Microsoft.Data.Sqlite;
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
    private const int MostAfresh = 3;
    private readonly ConcurrentDictionary<(string, RecordKind), SemaphoreSlim> _gates = new();
    private readonly ConcurrentDictionary<(string, RecordKind), Stopping> _atWork = new();

    /// <summary>Reads every kind that a system offers.</summary>
    /// <returns>The readings, or the first fault.</returns>
    public async Task<Outcome<IReadOnlyList<MirrorRead>>> ReadSystemAsync(string systemId, bool full, CancellationToken cancel)
    {
        var connection = await adapters.ForAsync(systemId, cancel);
        if (connection.Fault is { } fault)
            return fault;
        var reads = new List<MirrorRead>();
        // What is read with another list needs no reading of its own.
        foreach (var kind in connection.Value.Adapter.Kinds.Where(k => k.ReadWith is null))
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
    /// <param name="full">
    /// Everything, which also notices records that are gone; otherwise what changed since the last reading, where the system can tell.
    /// </param>
    /// <param name="cancel">Stops between two pages.</param>
    public async Task<Outcome<MirrorRead>> ReadAsync(string systemId, RecordKind kind, bool full, CancellationToken cancel)
    {
        var opened = await adapters.ForAsync(systemId, cancel);
        if (opened.Fault is { } unknown)
            return unknown;
        if (opened.Value.Adapter.Kinds.FirstOrDefault(k => k.Kind == kind) is not { } offered)
            return new Reason("system.noKind", $"{opened.Value.System.Name} describes no records of this kind ({kind}).");
        kind = offered.ReadWith ?? kind;
        var gate = _gates.GetOrAdd((systemId, kind), _ => new SemaphoreSlim(1, 1));
        await gate.WaitAsync(cancel);
        try
        {
            var connection = await adapters.ForAsync(systemId, cancel);
            if (connection.Fault is { } fault)
                return fault;
            if (Pause.Of(connection.Value.System) is { } paused)
                return paused;
            if (!connection.Value.System.MayRead)
                return new Reason("system.mayNotRead", $"{connection.Value.System.Name} may not be read; allow it under Systems.");
            return await AfreshAsync(connection.Value, kind, full, cancel);
        }
        finally
        {
            gate.Release();
        }
    }

    /// <summary>Stops the readings of a system that are at work, between two pages; the next reading goes on from there.</summary>
    /// <returns>How many were told to stop.</returns>
    public int Stop(string systemId, string by)
    {
        var stopped = 0;
        foreach (var (of, stopping) in _atWork)
        {
            if (of.Item1 != systemId)
                continue;
            stopping.By = by;
            stopping.Signal.Cancel();
            stopped++;
        }

        return stopped;
    }

    // What a cursor pointed into may be gone by the time it is used; then the reading begins again.
    private async Task<Outcome<MirrorRead>> AfreshAsync(Connection connection, RecordKind kind, bool full, CancellationToken cancel)
    {
        for (var attempt = 1; ; attempt++)
        {
            var read = await ReadOpenAsync(connection, kind, full, cancel);
            if (read.Fault?.Code != FaultCodes.CursorStale || attempt == MostAfresh)
                return read;
        }
    }

    private async Task<Outcome<MirrorRead>> ReadOpenAsync(Connection connection, RecordKind kind, bool full, CancellationToken cancel)
    {
        var (system, adapter) = connection;
        var read = await BeginAsync(system.Id, kind, full || !adapter.ReadsChanges(kind), cancel);
        using var stopping = new Stopping(cancel);
        _atWork[(system.Id, kind)] = stopping;
        try
        {
            if (await StorePagesAsync(read, adapter, stopping.Signal.Token) is { } fault)
                return await FailAsync(read, fault);
            return await FinishAsync(read, connection, stopping.Signal.Token);
        }
        catch (OperationCanceledException) when (stopping.By is { } by && !cancel.IsCancellationRequested)
        {
            return await FailAsync(read, new Reason("read.stopped", $"{by} stopped the reading; the next one goes on from there."));
        }
        catch (Exception error) when (Database.IsFull(error))
        {
            return await FailAsync(
                read,
                new Reason(
                    "disk.full",
                    "The disk is full, so the reading stopped. What was stored before is complete. Make room, then read again."
                )
            );
        }
        finally
        {
            _atWork.TryRemove((system.Id, kind), out _);
        }
    }

    private async Task<Reason?> StorePagesAsync(MirrorRead read, IAdapter adapter, CancellationToken cancel)
    {
        await using var store = await database.OpenAsync(bulk: true, cancel);
        bool empty;
        await using (var db = database.CreateDbContext())
            empty = !await db.Records.AnyAsync(r => r.SystemId == read.SystemId && r.Kind == read.Kind, cancel);

        Tell(read);
        // Pages travel while others are stored; what has piled up is stored in one transaction, which spares SQLite from writing index
        // pages again and again.
        var pages = Channel.CreateBounded<Outcome<FetchedPage>>(PagesAhead);
        using var giveUp = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var fetching = new PageFetch(adapter, read).AllAsync(pages.Writer, giveUp.Token);
        try
        {
            while (await pages.Reader.WaitToReadAsync(cancel))
            {
                var piled = new PiledPages(read);
                Reason? fault = null;
                while (fault is null && piled.Own.Count < MostInTransaction && pages.Reader.TryRead(out var fetched))
                {
                    if (fetched.Fault is not null)
                        fault = fetched.Fault;
                    else
                        piled.Add(fetched.Value);
                }

                await piled.StoreAsync(store, empty, clock.GetUtcNow(), cancel);
                Tell(read);
                if (fault is not null)
                    return fault;
            }
        }
        finally
        {
            await giveUp.CancelAsync();
            await fetching;
        }

        return null;
    }

    private async Task<Outcome<MirrorRead>> FinishAsync(MirrorRead read, Connection connection, CancellationToken cancel)
    {
        // A reading that was told to stop has not met the rest, which is therefore not gone.
        cancel.ThrowIfCancellationRequested();
        if (read.Total is { } total && read.Listed < total)
            return await FailAsync(
                read,
                new Reason(
                    "read.short",
                    $"{connection.System.Name} says it has {total:N0} entries but sent {read.Listed:N0}. "
                        + "Nothing was taken as gone; read it again."
                )
            );

        if (read.Since is null && connection.Adapter.Kinds.First(k => k.Kind == read.Kind).Whole)
        {
            await using var store = await database.OpenAsync(bulk: true, cancel);
            read.Gone = await MirrorStore.MarkGoneAsync(store, read, StoredRecord.KeyHash, clock.GetUtcNow(), cancel);
        }

        return await EndAsync(read, ReadState.Done, null);
    }

    private async Task<MirrorRead> BeginAsync(string systemId, RecordKind kind, bool full, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var now = clock.GetUtcNow();
        var reads = db.Reads.Where(r => r.SystemId == systemId && r.Kind == kind).OrderByDescending(r => r.Id);
        var latest = await reads.FirstOrDefaultAsync(cancel);
        if (latest is not null && GoesOn(latest, full, now))
        {
            latest.State = ReadState.Reading;
            latest.EndedAt = null;
            latest.Message = null;
            await db.SaveChangesAsync(cancel);
            return latest;
        }

        if (latest is { State: ReadState.Reading })
        {
            (latest.State, latest.EndedAt) = (ReadState.Failed, now);
            latest.Message = "cut off, and too long ago to go on";
            await db.SaveChangesAsync(cancel);
        }

        var lastDone = await reads.FirstOrDefaultAsync(r => r.State == ReadState.Done, cancel);
        var read = new MirrorRead
        {
            SystemId = systemId,
            Kind = kind,
            Since = full || lastDone is null ? null : lastDone.StartedAt - Overlap,
            State = ReadState.Reading,
            StartedAt = now,
        };
        db.Reads.Add(read);
        await db.SaveChangesAsync(cancel);
        return read;
    }

    private static bool GoesOn(MirrorRead latest, bool full, DateTimeOffset now) =>
        latest is { State: ReadState.Reading or ReadState.Failed, Cursor: not null }
        && now - latest.StartedAt < GoesOnWithin
        && (latest.Since is null || !full);

    private async Task<Outcome<MirrorRead>> FailAsync(MirrorRead read, Reason fault)
    {
        if (fault.Code is FaultCodes.CursorStale or PageFetch.Endless)
            read.Cursor = null;
        await EndAsync(read, ReadState.Failed, fault.Words);
        return fault;
    }

    // How a reading ended is said even where whoever asked for it has gone.
    private async Task<MirrorRead> EndAsync(MirrorRead read, ReadState state, string? message)
    {
        read.State = state;
        read.EndedAt = clock.GetUtcNow();
        read.Message = message;
        await using var db = database.CreateDbContext();
        db.Reads.Update(read);
        await db.SaveChangesAsync(CancellationToken.None);
        Tell(read);
        return read;
    }

    private void Tell(MirrorRead read) =>
        live.Tell(new LiveEvent("read", read.SystemId, $"{read.Kind}:{read.State}".ToLowerInvariant(), read.Records, read.Total));

    // A reading at work, and who told it to stop.
    private sealed class Stopping(CancellationToken cancel) : IDisposable
    {
        public CancellationTokenSource Signal { get; } = CancellationTokenSource.CreateLinkedTokenSource(cancel);

        public string? By { get; set; }

        public void Dispose() => Signal.Dispose();
    }

    // Pages that are stored in one transaction.
    private sealed class PiledPages(MirrorRead read)
    {
        private readonly Dictionary<RecordKind, List<MirrorEntry>> _beside = [];

        public List<MirrorEntry> Own { get; } = [];

        public void Add(FetchedPage fetched)
        {
            Own.AddRange(fetched.Entries);
            foreach (var (kind, entries) in fetched.Beside)
            {
                if (!_beside.TryGetValue(kind, out var had))
                    _beside[kind] = had = [];
                had.AddRange(entries);
            }

            read.Cursor = fetched.Next;
            read.Pages++;
            read.Records += fetched.Entries.Count;
            read.Listed += fetched.Listed;
            read.Total = fetched.Total ?? read.Total;
            read.Troubled += fetched.Entries.Count(e => e.Problems is not null);
        }

        public async Task StoreAsync(SqliteConnection store, bool empty, DateTimeOffset now, CancellationToken cancel)
        {
            if (Own.Count > 0 || _beside.Count > 0)
                await MirrorStore.StorePageAsync(store, read, Own, _beside, empty, now, cancel);
        }
    }
}
