using System.Collections.Concurrent;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Runs;

/// <summary>
/// Works runs off: read, pair, compute, send, confirm. Preview and send are the same code; a preview stops once its change set is
/// stored. A run lives in the database and is picked up again after a restart, wherever it was. What a person decides about runs is
/// <see cref="RunDesk"/>'s.
/// </summary>
/// <param name="database">Where everything is kept.</param>
/// <param name="reader">How mirrors are read.</param>
/// <param name="pairs">What pairs anew.</param>
/// <param name="live">Who is told.</param>
/// <param name="clock">The time.</param>
/// <param name="log">Where defects are written.</param>
[System.Diagnostics.CodeAnalysis.SuppressMessage(
    "Reliability",
    "CA2213",
    Justification = "The stop signal outlives the runs that hold its token."
)]
public sealed class RunEngine(
    Database database,
    MirrorReader reader,
    PairDesk pairs,
    LiveFeed live,
    TimeProvider clock,
    ILogger<RunEngine> log
) : IAsyncDisposable
{
    private static readonly TimeSpan BetweenTries = TimeSpan.FromSeconds(1);

    private readonly ConcurrentDictionary<long, Work> _atWork = new();
    private readonly Lock _beginning = new();
    private readonly SemaphoreSlim _places = new(2, 2);
    private readonly SemaphoreSlim _smallPlaces = new(6, 6);
    private readonly CancellationTokenSource _stopping = new();

    /// <summary>Picks up every run that was at work when the process ended.</summary>
    public async Task ResumeAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        foreach (var id in await db.Runs.Where(r => r.State == RunState.Working).Select(r => r.Id).ToListAsync(cancel))
            Begin(id);
    }

    /// <summary>Puts a run to work that the database says is working. It is not begun a second time.</summary>
    public void Begin(long runId)
    {
        lock (_beginning)
        {
            // It may be about to end; whoever begins it now means it to be looked at once more.
            if (_atWork.TryGetValue(runId, out var before))
            {
                before.Again = true;
                return;
            }

            var work = _atWork[runId] = new Work(_stopping.Token);
            work.Task = Task.Run(() => WorkAsync(runId, work));
        }
    }

    /// <summary>Stops a run between two batches; it can be tried again and goes on where it was.</summary>
    /// <returns>Whether it was at work here.</returns>
    public bool Stop(long runId, string by)
    {
        if (!_atWork.TryGetValue(runId, out var work))
            return false;
        work.StoppedBy = by;
        work.Signal.Cancel();
        return true;
    }

    /// <summary>Waits until no run is at work.</summary>
    public async Task WhenIdleAsync()
    {
        while (_atWork.Values.FirstOrDefault(w => !w.Task.IsCompleted) is { } work)
            await work.Task;
    }

    /// <summary>Stops between two batches; the runs go on at the next start.</summary>
    public async Task StopAsync()
    {
        await _stopping.CancelAsync();
        await WhenIdleAsync();
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        if (_stopping.IsCancellationRequested)
            return;
        await StopAsync();
        _places.Dispose();
        _smallPlaces.Dispose();
    }

    /// <summary>Tells whoever listens where a run is.</summary>
    internal void Tell(Run run) => Tell(run.Id, run.State == RunState.Working ? run.Phase.ToString() : run.State.ToString());

    /// <summary>Notes the comparison that a lane's standing is read from, and tells that it has changed.</summary>
    internal async Task NoteAsync(Run run, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        // A run that takes another back compared nothing, and a part or a few records say nothing of the lane.
        if (run is { RollsBack: null, Fields: null, Only: null, PlannedAt: { } planned })
        {
            await db
                .Lanes.Where(l => l.Id == run.LaneId)
                .ExecuteUpdateAsync(s => s.SetProperty(l => l.ComparedRunId, run.Id).SetProperty(l => l.ComparedAt, planned), cancel);
        }

        Tell(run);
        live.Tell(new LiveEvent("lane", run.LaneId));
    }

    private async Task WorkAsync(long runId, Work work)
    {
        try
        {
            if (await TryAsync(runId, work) is { } fault)
                await FailAsync(runId, fault);
        }
        finally
        {
            End(runId, work);
        }
    }

    private void End(long runId, Work work)
    {
        lock (_beginning)
            _atWork.TryRemove(runId, out _);
        if (work.Again)
            Begin(runId);
    }

    private async Task<Reason?> TryAsync(long runId, Work work)
    {
        SemaphoreSlim? placed = null;
        try
        {
            // Few records do not wait for runs over all of them.
            var places = await IsSmallAsync(runId) ? _smallPlaces : _places;
            await places.WaitAsync(work.Signal.Token);
            placed = places;
            return await WatchedAsync(runId, work.Signal.Token);
        }
        catch (OperationCanceledException) when (_stopping.IsCancellationRequested)
        {
            return null;
        }
        catch (OperationCanceledException) when (work.StoppedBy is { } by)
        {
            return new Reason(
                "run.stopped",
                $"{by} stopped this run. What was sent is recorded; try it again and it goes on where it was."
            );
        }
        catch (Exception error) when (Database.IsFull(error))
        {
            return new Reason(
                "disk.full",
                "The disk is full, so the run stopped. What was stored before is complete, and nothing was sent that is not recorded. "
                    + "Make room, then try the run again."
            );
        }
        catch (Exception error)
        {
            log.LogError(error, "Run {Run} stopped on a defect", runId);
            return new Reason(
                "defect",
                $"Narbit made a mistake ({error.GetType().Name}). Nothing is lost; try the run again, and report it if it comes back."
            );
        }
        finally
        {
            placed?.Release();
        }
    }

    private async Task<bool> IsSmallAsync(long runId)
    {
        await using var db = database.CreateDbContext();
        return await db.Runs.AnyAsync(r => r.Id == runId && r.Only != null);
    }

    // Whatever becomes of the run, it is kept how long it was at work and what its requests went through.
    private async Task<Reason?> WatchedAsync(long runId, CancellationToken cancel)
    {
        var traffic = new Traffic();
        var begun = clock.GetTimestamp();
        try
        {
            using (traffic.Watch())
                return await PhasesAsync(runId, cancel);
        }
        finally
        {
            await new TrafficLog(database, log).KeepAsync(runId, traffic, clock.GetElapsedTime(begun));
            Tell(runId, "traffic");
        }
    }

    private async Task<Reason?> PhasesAsync(long runId, CancellationToken cancel)
    {
        Run? run;
        await using (var db = database.CreateDbContext())
            run = await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == runId && r.State == RunState.Working, cancel);
        if (run is null)
            return null;
        Tell(run);
        var lane = await OpenLane.ForAsync(database, reader.Adapters, run.LaneId, cancel);
        if (lane.Fault is { } fault)
            return fault;
        while (run is { State: RunState.Working, Phase: not RunPhase.Finished })
            if (await PhaseAsync(run, lane.Value, cancel) is { } failed)
                return failed;
        await AfterwardsAsync(run, lane.Value);
        return null;
    }

    private SendStep Sending => new(database, reader, live, clock);

    private Task<Reason?> PhaseAsync(Run run, OpenLane lane, CancellationToken cancel) =>
        run.Phase switch
        {
            RunPhase.Read => ReadAsync(run, lane, cancel),
            RunPhase.Pair => PairAsync(run, lane, cancel),
            RunPhase.Compute => ComputeAsync(run, lane, cancel),
            RunPhase.Send => SendAsync(run, lane, cancel),
            _ => ConfirmAsync(run, lane, cancel),
        };

    private async Task<Reason?> ReadAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        if (await Sending.SettleEarlierAsync(run, lane, mayWrite: !run.Preview, cancel) is { } unsettled)
            return unsettled;
        if (JsonText.ReadNames(run.Only) is { } only)
        {
            if (await ReadAsync(lane, only.ToHashSet(StringComparer.Ordinal), cancel) is { } few)
                return few;
            // Who is paired with whom stays as it is.
            await MoveOnAsync(run, RunPhase.Compute, cancel);
            return null;
        }

        foreach (var (system, kind) in lane.Work.Reading.Reads(lane))
            if ((await reader.ReadAsync(system, kind, full: false, cancel)).Fault is { } unread)
                return unread;
        await MoveOnAsync(run, RunPhase.Pair, cancel);
        return null;
    }

    private async Task<Reason?> ReadAsync(OpenLane lane, IReadOnlySet<string> only, CancellationToken cancel)
    {
        IReadOnlyList<RecordsTouched> wanted;
        await using (var db = database.CreateDbContext())
            wanted = await lane.Work.Reading.ReadsOfAsync(db, lane, only, cancel);
        foreach (var some in wanted)
        {
            var connection = some.SystemId == lane.Source.System.Id ? lane.Source : lane.Target;
            if (await ReadAsync(connection, some, cancel) is { } unread)
                return unread;
        }

        return null;
    }

    // What cannot be looked up is in the list of what has changed.
    private async Task<Reason?> ReadAsync(Connection connection, RecordsTouched some, CancellationToken cancel) =>
        connection.Adapter.Kinds.FirstOrDefault(k => k.Kind == some.Kind) is { LooksUp: false }
            ? (await reader.ReadAsync(some.SystemId, some.Kind, full: false, cancel)).Fault
            : await RecordLookUp.ReadAsync(database, connection, some, clock.GetUtcNow(), cancel);

    private async Task<Reason?> PairAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        if (lane.Work.Pairs && run.RollsBack is null)
        {
            if (await pairs.PairBetweenAsync(lane.Work.PairedKind, lane.Source.System.Id, lane.Target.System.Id, cancel) is { } unpaired)
                return unpaired;
        }

        await MoveOnAsync(run, RunPhase.Compute, cancel);
        return null;
    }

    private async Task<Reason?> ComputeAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        if (run.RollsBack is not null)
            await new RollBackStep(database, clock).PlanAsync(run, lane, cancel);
        else if (await new PlanStep(database, clock).PlanAsync(run, lane, cancel) is { } unplanned)
            return unplanned;
        Tell(run);
        return null;
    }

    private async Task<Reason?> SendAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        if (await Sending.SettleEarlierAsync(run, lane, mayWrite: true, cancel) is { } unsettled)
            return unsettled;
        if (await Sending.SendAsync(run, lane, cancel) is { } unsent)
            return unsent;
        await MoveOnAsync(run, RunPhase.Confirm, cancel);
        return null;
    }

    private async Task<Reason?> ConfirmAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        if (await Sending.ConfirmAsync(run, lane, cancel) is { } unconfirmed)
            return unconfirmed;
        if (await new PlanStep(database, clock).FollowAsync(run, lane, cancel) > 0)
        {
            await MoveOnAsync(run, RunPhase.Send, cancel);
            return null;
        }

        if (await Sending.OpenAsync(run, lane, cancel) is { } open)
        {
            await MoveOnAsync(run, RunPhase.Send, cancel);
            return open;
        }

        var now = clock.GetUtcNow();
        await using var db = database.CreateDbContext();
        await db
            .Runs.Where(r => r.Id == run.Id)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(r => r.Phase, RunPhase.Finished)
                        .SetProperty(r => r.State, RunState.Done)
                        .SetProperty(r => r.EndedAt, now),
                cancel
            );
        (run.Phase, run.State) = (RunPhase.Finished, RunState.Done);
        return null;
    }

    // The run is over, and nothing that fails from here on makes it fail.
    private async Task AfterwardsAsync(Run run, OpenLane lane)
    {
        try
        {
            // What was put right may have a partner now.
            if (!lane.Work.Pairs && run is { State: RunState.Done, Only: null })
                await pairs.PairAllOfAsync(lane.Target.System.Id, _stopping.Token);
            await NoteAsync(run, _stopping.Token);
        }
        catch (Exception error)
        {
            log.LogError(error, "Run {Run} is over, but what follows it failed", run.Id);
            Tell(run);
        }
    }

    private async Task MoveOnAsync(Run run, RunPhase next, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await db.Runs.Where(r => r.Id == run.Id).ExecuteUpdateAsync(s => s.SetProperty(r => r.Phase, next), cancel);
        run.Phase = next;
        Tell(run);
    }

    // A run must not look as if it were at work when it is not; where not even that can be stored, it is tried until it can.
    private async Task FailAsync(long runId, Reason fault)
    {
        while (true)
        {
            try
            {
                await using var db = database.CreateDbContext();
                var run = await db.Runs.FirstAsync(r => r.Id == runId);
                run.State = RunState.Failed;
                run.Why = KeptReason.Of(fault);
                run.EndedAt = clock.GetUtcNow();
                await db.SaveChangesAsync();
                break;
            }
            catch (Exception error)
            {
                log.LogError(error, "Run {Run} could not be marked as failed: {Fault}", runId, fault.Words);
                if (!await WaitAsync())
                    return;
            }
        }

        Tell(runId, "failed");
    }

    // Whether there is time for another try; a process that ends leaves the run to the next.
    private async Task<bool> WaitAsync()
    {
        try
        {
            await Task.Delay(BetweenTries, clock, _stopping.Token);
            return true;
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    private void Tell(long runId, string phase) =>
        live.Tell(new LiveEvent("run", runId.ToString(CultureInfo.InvariantCulture), phase.ToLowerInvariant()));

    // A run at work, and who told it to stop.
    private sealed class Work(CancellationToken stopping) : IDisposable
    {
        public CancellationTokenSource Signal { get; } = CancellationTokenSource.CreateLinkedTokenSource(stopping);

        public Task Task { get; set; } = Task.CompletedTask;

        public string? StoppedBy { get; set; }

        public bool Again { get; set; }

        public void Dispose() => Signal.Dispose();
    }
}
