using System.Collections.Concurrent;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Runs;

/// <summary>Which writes of a change set to send.</summary>
/// <param name="All">Everything that is not held, less <paramref name="Except"/>; otherwise only <paramref name="Only"/>.</param>
/// <param name="Except">Writes to leave out of all.</param>
/// <param name="Only">Writes to send; held ones are sent only when they are named here.</param>
/// <param name="WithoutGuarded">Whether what a tripped guard names is left out of all.</param>
public sealed record Choice(bool All, IReadOnlyList<long>? Except = null, IReadOnlyList<long>? Only = null, bool WithoutGuarded = false);

/// <summary>
/// Runs lanes: read → pair → compute → send → confirm. Preview and send are the same code; a preview stops once its change set is stored.
/// A run lives in the database and is picked up again after a restart, wherever it was.
/// </summary>
/// <param name="database">Where everything is kept.</param>
/// <param name="adapters">How systems are reached.</param>
/// <param name="reader">How mirrors are read.</param>
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
    AdapterSource adapters,
    MirrorReader reader,
    LiveFeed live,
    TimeProvider clock,
    ILogger<RunEngine> log
) : IAsyncDisposable
{
    private readonly ConcurrentDictionary<long, Task> _atWork = new();
    private readonly SemaphoreSlim _places = new(2, 2);
    private readonly CancellationTokenSource _stopping = new();

    /// <summary>Starts a run of a lane, unless one is at work.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="preview">Whether to stop once the change set is stored.</param>
    /// <param name="trigger">What started it.</param>
    /// <param name="by">Who started it.</param>
    /// <param name="cancel">Gives up before the run exists.</param>
    /// <returns>The run's number, or why it cannot be started.</returns>
    public async Task<Outcome<long>> StartAsync(string laneId, bool preview, RunTrigger trigger, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == laneId, cancel);
        if (lane is null)
            return new Fault("lane.unknown", $"There is no lane “{laneId}”.");
        if (!preview && lane.HeldAt is not null)
            return Held(lane);
        if (!preview && lane.Off)
            return Off;
        var run = new Run
        {
            LaneId = laneId,
            Preview = preview,
            Trigger = trigger,
            StartedBy = by,
            State = RunState.Working,
            Phase = RunPhase.Read,
            RuleNumber = lane.RuleNumber,
            StartedAt = clock.GetUtcNow(),
        };
        db.Runs.Add(run);
        if (await SaveUnlessBusyAsync(db, laneId, cancel) is { } busy)
            return busy;
        await db
            .Runs.Where(r => r.LaneId == laneId && r.State == RunState.Ready)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.State, RunState.Superseded), cancel);
        Begin(run.Id);
        return run.Id;
    }

    /// <summary>Sends a change set, or the chosen part of it.</summary>
    /// <param name="runId">A run whose change set is ready, or one that is done and still holds writes back.</param>
    /// <param name="choice">What to send.</param>
    /// <param name="by">Who decided.</param>
    /// <param name="cancel">Gives up before anything is decided.</param>
    /// <returns>How many writes will be sent.</returns>
    public async Task<Outcome<int>> SendAsync(long runId, Choice choice, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var run = await db.Runs.FirstOrDefaultAsync(r => r.Id == runId, cancel);
        if (run is null)
            return new Fault("run.unknown", $"There is no run {runId}.");
        if (run.State == RunState.Superseded)
            return new Fault("run.superseded", "A later run of this lane has taken its place. Look at the newest preview.");
        if (run.State is not (RunState.Ready or RunState.Done))
            return new Fault(
                "run.notReady",
                $"Run {runId} is {run.State.ToString().ToLowerInvariant()}; only a ready preview can be sent."
            );

        var lane = await db.Lanes.AsNoTracking().FirstAsync(l => l.Id == run.LaneId, cancel);
        if (lane.HeldAt is not null)
            return Held(lane);
        if (lane.Off)
            return Off;
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (choice.WithoutGuarded)
            await db
                .Writes.Where(w => w.RunId == runId && w.State == WriteState.Planned && w.Guards != "")
                .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Skipped), cancel);
        // What was taken back stays so: the next run of the timetable would send it again.
        if (run.RollsBack is not null)
            await db
                .Lanes.Where(l => l.Id == run.LaneId && l.EveryMinutes != null)
                .ExecuteUpdateAsync(s => s.SetProperty(l => l.Paused, true), cancel);
        if (choice.All)
        {
            foreach (var some in (choice.Except ?? []).Chunk(500))
                await db
                    .Writes.Where(w => w.RunId == runId && w.State == WriteState.Planned && some.Contains(w.Id))
                    .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Skipped), cancel);
        }
        else
        {
            var only = (choice.Only ?? []).ToHashSet();
            var left = (
                await db.Writes.Where(w => w.RunId == runId && w.State == WriteState.Planned).Select(w => w.Id).ToListAsync(cancel)
            ).Where(id => !only.Contains(id));
            foreach (var some in left.Chunk(500))
                await db
                    .Writes.Where(w => some.Contains(w.Id))
                    .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Skipped), cancel);
        }

        foreach (var some in (choice.Only ?? []).Chunk(500))
            await db
                .Writes.Where(w => w.RunId == runId && w.State == WriteState.Held && some.Contains(w.Id))
                .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Planned), cancel);
        var count = await db.Writes.CountAsync(w => w.RunId == runId && w.State == WriteState.Planned, cancel);
        if (count == 0)
            return new Fault("send.nothing", "Nothing is chosen, so nothing was sent.");
        (run.Preview, run.State, run.Phase, run.EndedAt, run.StartedBy) = (false, RunState.Working, RunPhase.Send, null, by);
        if (await SaveUnlessBusyAsync(db, run.LaneId, cancel) is { } busy)
            return busy;
        await transaction.CommitAsync(cancel);
        Begin(runId);
        return count;
    }

    /// <summary>
    /// Decides, for records that were changed on both sides, that what is there counts. The source's present value is kept as what both
    /// last agreed on,
    /// so that for the next run only the target has changed: it takes that value over where it may flow back, and leaves it alone where it
    /// may not.
    /// </summary>
    /// <param name="runId">The run that holds them.</param>
    /// <param name="only">The writes that are decided; null: every one that asks.</param>
    /// <param name="by">Who decides.</param>
    /// <param name="cancel">Gives up; nothing is decided then.</param>
    /// <returns>How many records were decided, or why none could be.</returns>
    public async Task<Outcome<int>> LetThereCountAsync(long runId, IReadOnlyList<long>? only, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var run = await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == runId, cancel);
        if (run is null)
            return new Fault("run.unknown", $"There is no run {runId}.");
        if (run.State is not (RunState.Ready or RunState.Done))
            return new Fault("run.notReady", $"Run {runId} is {run.State.ToString().ToLowerInvariant()}; look at the newest preview.");
        var asking = (
            await db
                .Writes.Where(w => w.RunId == runId && w.State == WriteState.Held && !w.ToSource && w.Fields.Any(f => f.Asks))
                .Select(w => w.Id)
                .ToListAsync(cancel)
        )
            .Where(id => only?.Contains(id) != false)
            .ToList();
        if (asking.Count == 0)
            return new Fault(
                "decide.nothing",
                $"Run {runId} holds nothing {(only is null ? "" : "among these ")}that was changed on both sides."
            );
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        foreach (var some in asking.Chunk(500))
        {
            var writes = await db.Writes.Include(w => w.Fields).Where(w => some.Contains(w.Id)).ToListAsync(cancel);
            var keys = writes.Select(w => w.TargetKey).ToList();
            var known = await db
                .Agreed.Where(a => a.LaneId == run.LaneId && keys.Contains(a.TargetKey))
                .ToDictionaryAsync(a => (a.TargetKey, a.Field), cancel);
            foreach (var write in writes)
            {
                (write.State, write.Message) = (WriteState.Skipped, $"{by} decided that what is there counts; the next run goes by it");
                foreach (var field in write.Fields.Where(f => f.Asks))
                {
                    if (!known.TryGetValue((write.TargetKey, field.Field), out var agreed))
                        db.Agreed.Add(
                            agreed = new Agreed
                            {
                                LaneId = run.LaneId,
                                TargetKey = write.TargetKey,
                                Field = field.Field,
                                At = clock.GetUtcNow(),
                            }
                        );
                    (agreed.Value, agreed.At) = (field.New, clock.GetUtcNow());
                }
            }

            await db.SaveChangesAsync(cancel);
        }

        await transaction.CommitAsync(cancel);
        if (await db.Lanes.AnyAsync(l => l.Id == run.LaneId && l.ComparedRunId == runId, cancel))
            await CountAsync(run, cancel);
        else
            Tell(run);
        return asking.Count;
    }

    /// <summary>Sends nothing of a change set, and says who decided so.</summary>
    /// <returns>The run's number, or why there is nothing to decide.</returns>
    public async Task<Outcome<long>> DismissAsync(long runId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var dismissed = await db
            .Runs.Where(r => r.Id == runId && r.State == RunState.Ready)
            .ExecuteUpdateAsync(
                s => s.SetProperty(r => r.State, RunState.Done).SetProperty(r => r.Message, $"Nothing was sent: {by} decided so."),
                cancel
            );
        if (dismissed == 0)
            return new Fault("run.notReady", $"Run {runId} has no change set that waits for a decision.");
        await db
            .Writes.Where(w => w.RunId == runId && (w.State == WriteState.Planned || w.State == WriteState.Held))
            .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Skipped), cancel);
        await transaction.CommitAsync(cancel);
        live.Tell(new LiveEvent("run", runId.ToString(CultureInfo.InvariantCulture), "done"));
        return runId;
    }

    /// <summary>Starts a run that takes another back: it shows what would be taken back, and waits for a person.</summary>
    /// <param name="runId">The run to take back.</param>
    /// <param name="only">The writes of it to take back; null: all that were confirmed.</param>
    /// <param name="by">Who asks.</param>
    /// <param name="cancel">Gives up before the new run exists.</param>
    /// <returns>The new run's number, or why nothing can be taken back.</returns>
    public async Task<Outcome<long>> RollBackAsync(long runId, IReadOnlyList<long>? only, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var undone = await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == runId, cancel);
        if (undone is null)
            return new Fault("run.unknown", $"There is no run {runId}.");
        if (undone.State is not (RunState.Done or RunState.Failed))
            return new Fault(
                "run.notDone",
                $"Run {runId} is {undone.State.ToString().ToLowerInvariant()}; only what was sent can be taken back."
            );
        var confirmed = await db
            .Writes.Where(w => w.RunId == runId && w.State == WriteState.Confirmed && w.TakenBackIn == null)
            .Select(w => w.Id)
            .ToListAsync(cancel);
        if (!confirmed.Exists(id => only?.Contains(id) != false))
            return new Fault(
                "rollback.nothing",
                $"Run {runId} has nothing {(only is null ? "" : "among these ")}that was confirmed and not taken back yet."
            );
        var run = new Run
        {
            LaneId = undone.LaneId,
            Preview = true,
            Trigger = RunTrigger.Person,
            StartedBy = by,
            State = RunState.Working,
            Phase = RunPhase.Read,
            RuleNumber = undone.RuleNumber,
            StartedAt = clock.GetUtcNow(),
            RollsBack = runId,
            Chosen = only is null ? null : System.Text.Json.JsonSerializer.Serialize(only),
        };
        db.Runs.Add(run);
        if (await SaveUnlessBusyAsync(db, run.LaneId, cancel) is { } busy)
            return busy;
        await db
            .Runs.Where(r => r.LaneId == run.LaneId && r.State == RunState.Ready)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.State, RunState.Superseded), cancel);
        Begin(run.Id);
        return run.Id;
    }

    /// <summary>Tries a failed run, or the failed writes of a run that is done, again.</summary>
    /// <returns>The run's number, or why there is nothing to try.</returns>
    public async Task<Outcome<long>> TryAgainAsync(long runId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var run = await db.Runs.FirstOrDefaultAsync(r => r.Id == runId, cancel);
        if (run is null)
            return new Fault("run.unknown", $"There is no run {runId}.");
        if (run.State is not (RunState.Failed or RunState.Done))
            return new Fault("run.notFailed", $"Run {runId} is {run.State.ToString().ToLowerInvariant()}; there is nothing to try again.");
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var failed = await db
            .Writes.Where(w => w.RunId == runId && w.State == WriteState.Failed)
            .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Planned), cancel);
        if (run.State == RunState.Done && failed == 0)
            return new Fault("run.notFailed", $"No write of run {runId} has failed.");
        if (run.Phase is RunPhase.Finished or RunPhase.Confirm)
            run.Phase = RunPhase.Send;
        (run.State, run.EndedAt, run.Message) = (RunState.Working, null, null);
        if (await SaveUnlessBusyAsync(db, run.LaneId, cancel) is { } busy)
            return busy;
        await transaction.CommitAsync(cancel);
        Begin(runId);
        return runId;
    }

    /// <summary>Picks up every run that was at work when the process ended.</summary>
    public async Task ResumeAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        foreach (var id in await db.Runs.Where(r => r.State == RunState.Working).Select(r => r.Id).ToListAsync(cancel))
            Begin(id);
    }

    /// <summary>Waits until no run is at work.</summary>
    public async Task WhenIdleAsync()
    {
        while (_atWork.Values.FirstOrDefault(t => !t.IsCompleted) is { } task)
            await task;
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
    }

    private static Fault Off =>
        new("lane.off", "This lane is switched off: nothing of this kind is to flow. Switch it on under its scope, then send.");

    private static Fault Held(Lane lane) =>
        new(
            "lane.held",
            $"{lane.HeldBy} holds this lane since {lane.HeldAt:yyyy-MM-dd HH:mm} UTC while records are paired; nothing is sent. "
                + $"Release it at the pair desk."
        );

    private void Begin(long runId) => _atWork[runId] = Task.Run(() => WorkAsync(runId));

    private async Task WorkAsync(long runId)
    {
        try
        {
            await _places.WaitAsync(_stopping.Token);
        }
        catch (OperationCanceledException)
        {
            return;
        }

        Fault? fault;
        try
        {
            fault = await PhasesAsync(runId, _stopping.Token);
        }
        catch (OperationCanceledException) when (_stopping.IsCancellationRequested)
        {
            return;
        }
        catch (Exception error) when (Database.IsFull(error))
        {
            fault = new Fault(
                "disk.full",
                "The disk is full, so the run stopped. What was stored before is complete, and nothing was sent that is not "
                    + "recorded. Make room, then try the run again."
            );
        }
        catch (Exception error)
        {
            log.LogError(error, "Run {Run} stopped on a defect", runId);
            fault = new Fault(
                "defect",
                $"Narbit made a mistake ({error.GetType().Name}). Nothing is lost; try the run again, and report it if it comes back."
            );
        }
        finally
        {
            _places.Release();
        }

        if (fault is not null)
            await FailAsync(runId, fault);
    }

    private async Task<Fault?> PhasesAsync(long runId, CancellationToken cancel)
    {
        Run run;
        await using (var db = database.CreateDbContext())
            run = await db.Runs.AsNoTracking().FirstAsync(r => r.Id == runId, cancel);
        Tell(run);
        var opened = await OpenLane.ForAsync(database, adapters, run.LaneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;

        while (true)
        {
            switch (run.Phase)
            {
                case RunPhase.Read:
                    foreach (var (system, kind) in lane.Reads)
                        if ((await reader.ReadAsync(system, kind, full: false, cancel)).Fault is { } unread)
                            return unread;
                    await MoveOnAsync(run, RunPhase.Pair, cancel);
                    break;
                case RunPhase.Pair:
                    if (lane.Lane.Kind != LaneKind.Correction && run.RollsBack is null)
                        await new PairingStep(database, clock).PairAsync(lane.Source, lane.Target, RecordKind.Item, cancel);
                    await MoveOnAsync(run, RunPhase.Compute, cancel);
                    break;
                case RunPhase.Compute when run.RollsBack is not null:
                    await new RollBackStep(database, clock).PlanAsync(run, lane, cancel);
                    Tell(run);
                    return null;
                case RunPhase.Compute:
                    if (await new PlanStep(database, clock).PlanAsync(run, lane, cancel) is { } unplanned)
                        return unplanned;
                    Tell(run);
                    if (run.State == RunState.Ready)
                    {
                        await CountAsync(run, cancel);
                        return null;
                    }

                    break;
                case RunPhase.Send:
                    if (await new SendStep(database, live, clock).SendAsync(run, lane, cancel) is { } unsent)
                        return unsent;
                    await MoveOnAsync(run, RunPhase.Confirm, cancel);
                    break;
                case RunPhase.Confirm:
                    if (await new SendStep(database, live, clock).ConfirmAsync(run, lane, cancel) is { } unconfirmed)
                        return unconfirmed;
                    await using (var db = database.CreateDbContext())
                    {
                        await db
                            .Runs.Where(r => r.Id == runId)
                            .ExecuteUpdateAsync(
                                s =>
                                    s.SetProperty(r => r.Phase, RunPhase.Finished)
                                        .SetProperty(r => r.State, RunState.Done)
                                        .SetProperty(r => r.EndedAt, clock.GetUtcNow()),
                                cancel
                            );
                    }

                    // What was put right may have a partner now.
                    if (lane.Lane.Kind == LaneKind.Correction)
                        await new PairDesk(database, adapters, reader, clock).PairAllOfAsync(lane.Target.System.Id, cancel);
                    (run.Phase, run.State) = (RunPhase.Finished, RunState.Done);
                    await CountAsync(run, cancel);
                    return null;
                default:
                    return null;
            }
        }
    }

    private async Task MoveOnAsync(Run run, RunPhase next, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await db.Runs.Where(r => r.Id == run.Id).ExecuteUpdateAsync(s => s.SetProperty(r => r.Phase, next), cancel);
        run.Phase = next;
        Tell(run);
    }

    // What Today shows of the lane.
    private async Task CountAsync(Run run, CancellationToken cancel)
    {
        // A run that takes another back compared nothing.
        if (run.RollsBack is not null)
        {
            Tell(run);
            live.Tell(new LiveEvent("lane", run.LaneId));
            return;
        }

        await using var db = database.CreateDbContext();
        var counts = await db
            .Writes.Where(w => w.RunId == run.Id)
            .GroupBy(w => w.State)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
        int Count(params WriteState[] states) => states.Sum(s => counts.GetValueOrDefault(s));
        await db
            .Lanes.Where(l => l.Id == run.LaneId)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(l => l.ComparedRunId, run.Id)
                        .SetProperty(l => l.ComparedAt, run.PlannedAt)
                        .SetProperty(l => l.Paired, run.Paired)
                        .SetProperty(l => l.InStep, run.InStep + Count(WriteState.Confirmed))
                        .SetProperty(l => l.Waiting, Count(WriteState.Planned, WriteState.Held))
                        .SetProperty(
                            l => l.OutOfStep,
                            run.Remarked
                                + Count(WriteState.Failed, WriteState.Overtaken, WriteState.Skipped, WriteState.Unknown, WriteState.Sent)
                        ),
                cancel
            );
        Tell(run);
        live.Tell(new LiveEvent("lane", run.LaneId));
    }

    private async Task FailAsync(long runId, Fault fault)
    {
        try
        {
            await using var db = database.CreateDbContext();
            await db
                .Runs.Where(r => r.Id == runId)
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(r => r.State, RunState.Failed)
                        .SetProperty(r => r.Message, fault.Message)
                        .SetProperty(r => r.EndedAt, clock.GetUtcNow())
                );
        }
        catch (Exception error)
        {
            // Not even this could be stored. The run stays at work in the database and is picked up at the next start.
            log.LogError(error, "Run {Run} could not be marked as failed: {Fault}", runId, fault.Message);
        }

        live.Tell(new LiveEvent("run", runId.ToString(CultureInfo.InvariantCulture), "failed"));
    }

    private async Task<Fault?> SaveUnlessBusyAsync(NarbitContext db, string laneId, CancellationToken cancel)
    {
        try
        {
            await db.SaveChangesAsync(cancel);
            return null;
        }
        catch (DbUpdateException error) when (Database.IsDuplicate(error))
        {
            await using var other = database.CreateDbContext();
            var busy = await other.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.LaneId == laneId && r.State == RunState.Working, cancel);
            return new Fault(
                "lane.busy",
                $"This lane is running already{(busy is null ? "" : $" (run {busy.Id})")}. Wait until it is done; it never runs "
                    + $"twice at once."
            );
        }
    }

    private void Tell(Run run) =>
        live.Tell(
            new LiveEvent(
                "run",
                run.Id.ToString(CultureInfo.InvariantCulture),
                run.State == RunState.Working ? run.Phase.ToString().ToLowerInvariant() : run.State.ToString().ToLowerInvariant()
            )
        );
}
