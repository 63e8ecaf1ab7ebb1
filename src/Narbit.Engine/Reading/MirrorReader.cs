using System.Collections.Concurrent;
using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Systems;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Reading;

/// <summary>Reads systems into the mirror, page by page. A reading that was cut off goes on where it stopped.</summary>
/// <param name="database">Where the mirror is.</param>
/// <param name="adapters">How systems are reached.</param>
/// <param name="live">Who is told.</param>
/// <param name="clock">The time.</param>
/// <param name="log">Where defects are written; null: nowhere.</param>
public sealed class MirrorReader(
    Database database,
    AdapterSource adapters,
    LiveFeed live,
    TimeProvider clock,
    ILogger<MirrorReader>? log = null
)
{
    /// <summary>How systems are reached.</summary>
    public AdapterSource Adapters => adapters;

    // The code of a reading during which its list changed so that it has to be read again.
    private const string MovedOn = "read.moved";

    // A change may be stamped before it becomes visible; reading a little again costs no write.
    private static readonly TimeSpan Overlap = TimeSpan.FromMinutes(3);

    // Of a system that says nothing of its own time it is only known that its clock is off by less than this.
    private static readonly TimeSpan Blind = TimeSpan.FromDays(1);
    private static readonly TimeSpan WholeAgain = TimeSpan.FromDays(1);
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

    // What a cursor pointed into may be gone by the time it is used, and a list may change while it is read; then the reading begins
    // again. What a whole reading did not meet is gone when another did not meet it either.
    private async Task<Outcome<MirrorRead>> AfreshAsync(Connection connection, RecordKind kind, bool full, CancellationToken cancel)
    {
        var met = new MetRecords(connection.Adapter.Kinds.First(k => k.Kind == kind));
        for (var attempt = 1; ; attempt++)
        {
            met.Begin(isLast: attempt == MostAfresh);
            var read = await ReadOpenAsync(connection, kind, full || attempt > 1, met, cancel);
            var again = read.Fault?.Code is FaultCodes.CursorStale or MovedOn || (read.Fault is null && met.MissesSome);
            if (!again || attempt == MostAfresh)
                return read;
        }
    }

    private async Task<Outcome<MirrorRead>> ReadOpenAsync(
        Connection connection,
        RecordKind kind,
        bool full,
        MetRecords met,
        CancellationToken cancel
    )
    {
        var (system, adapter) = connection;
        var read = await BeginAsync(system, kind, full || !adapter.ReadsChanges(kind), cancel);
        using var stopping = new Stopping(cancel);
        _atWork[(system.Id, kind)] = stopping;
        try
        {
            if (await StorePagesAsync(read, adapter, met, stopping.Signal.Token) is { } fault)
                return await FailAsync(read, fault);
            return await FinishAsync(read, connection, met, stopping.Signal.Token);
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            await FailAsync(read, new Reason("read.brokenOff", "It was broken off; the next reading goes on from there."));
            throw;
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
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log?.LogError(error, "Reading {Kind} of {System} stopped on a defect", kind, system.Id);
            return await FailAsync(
                read,
                new Reason(
                    "defect",
                    $"Narbit made a mistake while reading ({error.GetType().Name}: {error.Message.TrimEnd('.')}). What was stored "
                        + "before is complete; read again, and report it if it comes back."
                )
            );
        }
        finally
        {
            _atWork.TryRemove((system.Id, kind), out _);
        }
    }

    private async Task<Reason?> StorePagesAsync(MirrorRead read, IAdapter adapter, MetRecords met, CancellationToken cancel)
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
                var piled = new PiledPages(read, met);
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

    private async Task<Outcome<MirrorRead>> FinishAsync(MirrorRead read, Connection connection, MetRecords met, CancellationToken cancel)
    {
        // A reading that was told to stop has not met the rest, which is therefore not gone.
        cancel.ThrowIfCancellationRequested();
        await using var store = await database.OpenAsync(bulk: true, cancel);
        if (met.LastPages(read) is { } late)
            await late.StoreAsync(store, empty: false, clock.GetUtcNow(), cancel);
        if (met.IsMoved(read))
            return await FailAsync(read, new Reason(MovedOn, "Its list changed while it was read, so it is read again."));
        if (read.Total is { } total && read.Listed < total)
            return await FailAsync(
                read,
                new Reason(
                    "read.short",
                    $"{connection.System.Name} says it has {total:N0} entries but sent {read.Listed:N0}. "
                        + "Nothing was taken as gone; read it again."
                )
            );

        await MirrorStore.MarkTroubledAsync(store, read, met.Troubled, cancel);
        if (met.Useless(read) is { } useless)
            return await FailAsync(read, useless);
        if (read.Since is null && met.Offered.Whole)
        {
            var missing = new MissingRecords(connection, met, store, clock);
            if (await missing.SettleAsync(read, cancel) is { } unknown)
                return await FailAsync(read, unknown);
        }

        await connection.Adapter.StoredAsync(read.Kind, cancel);
        return await EndAsync(read, ReadState.Done, read.Unkept == 0 ? null : met.Words(read));
    }

    private async Task<MirrorRead> BeginAsync(ConnectedSystem system, RecordKind kind, bool full, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var now = clock.GetUtcNow();
        var reads = db.Reads.Where(r => r.SystemId == system.Id && r.Kind == kind).OrderByDescending(r => r.Id);
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
        full = full || (system.ReadsWholeDaily && !await reads.AnyAsync(WholeSince(now - WholeAgain), cancel));
        var read = new MirrorRead
        {
            SystemId = system.Id,
            Kind = kind,
            Since = full || lastDone is null ? null : ChangesSince(lastDone),
            State = ReadState.Reading,
            StartedAt = now,
            NewestChange = lastDone?.NewestChange,
        };
        db.Reads.Add(read);
        await db.SaveChangesAsync(cancel);
        return read;
    }

    private static System.Linq.Expressions.Expression<Func<MirrorRead, bool>> WholeSince(DateTimeOffset since) =>
        r => r.State == ReadState.Done && r.Since == null && r.StartedAt > since;

    // By the system's own stamps, or else by its replies' dates: its clock is another than ours, and the later of two sayings may be
    // wrong.
    private static DateTimeOffset ChangesSince(MirrorRead last) =>
        (last.NewestChange, last.AsOf) switch
        {
            ({ } stamp, { } date) => (stamp < date ? stamp : date) - Overlap,
            ({ } stamp, null) => stamp - Overlap,
            (null, { } date) => date - Overlap,
            _ => last.StartedAt - Blind,
        };

    private static bool GoesOn(MirrorRead latest, bool full, DateTimeOffset now) =>
        // What could not be kept is known to the process that met it.
        latest is { State: ReadState.Reading or ReadState.Failed, Cursor: not null, Unkept: 0 }
        && now - latest.StartedAt < GoesOnWithin
        && (latest.Since is null || !full);

    private async Task<Outcome<MirrorRead>> FailAsync(MirrorRead read, Reason fault)
    {
        if (fault.Code is FaultCodes.CursorStale or PageFetch.Endless or MovedOn)
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
}
