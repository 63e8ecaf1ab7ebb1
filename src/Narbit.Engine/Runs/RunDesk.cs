using System.Globalization;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Runs;

/// <summary>
/// What is decided about runs: to start, send, stop, take back, try again or send nothing. A decision changes the run's state in one
/// statement, so that of two at once one counts; once it counts, the run goes to work even if whoever decided has gone.
/// </summary>
/// <param name="database">Where runs are kept.</param>
/// <param name="engine">Who works them off.</param>
/// <param name="live">Who is told.</param>
/// <param name="clock">The time.</param>
public sealed class RunDesk(Database database, RunEngine engine, LiveFeed live, TimeProvider clock)
{
    private const int Chunk = 500;

    /// <summary>The code of what stands in the way where something of a change set was sent.</summary>
    public const string WasSent = "run.wasSent";

    /// <summary>The code of what stands in the way where a lane runs already.</summary>
    public const string Busy = "lane.busy";

    /// <summary>Starts a run of a lane, unless one is at work.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="preview">Whether to stop once the change set is stored.</param>
    /// <param name="trigger">What started it.</param>
    /// <param name="by">Who started it.</param>
    /// <param name="cancel">Gives up before the run exists.</param>
    /// <returns>The run's number, or why it cannot be started.</returns>
    public Task<Outcome<long>> StartAsync(string laneId, bool preview, RunTrigger trigger, string by, CancellationToken cancel) =>
        StartAsync(new RunRequest(laneId, preview, trigger, by), cancel);

    /// <summary>Starts a run of a lane, unless one is at work.</summary>
    /// <param name="request">Which run.</param>
    /// <param name="cancel">Gives up before the run exists.</param>
    /// <returns>The run's number, or why it cannot be started.</returns>
    public async Task<Outcome<long>> StartAsync(RunRequest request, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == request.LaneId, cancel);
        if (lane is null)
            return new Reason("lane.unknown", $"There is no lane “{request.LaneId}”.");
        if (!request.Preview && LaneGate.Closed(lane) is { } closed)
            return closed;
        if (await LaneGate.PausedAsync(db, lane, cancel) is { } paused)
            return paused;
        return await BeginAsync(
            db,
            new Run
            {
                LaneId = request.LaneId,
                Preview = request.Preview,
                Trigger = request.Trigger,
                StartedBy = request.By,
                State = RunState.Working,
                Phase = RunPhase.Read,
                RuleNumber = lane.RuleNumber,
                StartedAt = clock.GetUtcNow(),
                TurnId = request.TurnId,
                Fields = request.Fields,
                Only = request.Only,
            },
            cancel
        );
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
        var found = await FindAsync(db, runId, cancel);
        if (found.Fault is { } unknown)
            return unknown;
        var run = found.Value;
        var lane = await db.Lanes.AsNoTracking().FirstAsync(l => l.Id == run.LaneId, cancel);
        if ((LaneGate.Closed(lane) ?? await LaneGate.PausedAsync(db, lane, cancel)) is { } closed)
            return closed;
        if (await ChangeBasis.StaleAsync(db, run, lane, cancel) is { } stale)
            return stale;
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var sendable = db.Runs.Where(r => r.Id == runId && (r.State == RunState.Ready || r.State == RunState.Done));
        if (await MoveAsync(db, sendable, run, RunPhase.Send, by, cancel) is { } notSendable)
            return notSendable;
        await ChooseAsync(db, runId, choice, cancel);
        if (run.RollsBack is null && await UnpairedAsync(db, runId, lane, cancel) is > 0 and var unpaired)
            return new Reason(
                "run.stale",
                $"{unpaired:N0} {(unpaired == 1 ? "record is" : "records are")} no longer paired as when this was computed. Preview "
                    + "again, so that what is sent is what was seen."
            );
        // What was taken back stays so: the next turn of the lane's job would send it again.
        if (run.RollsBack is not null)
            await db
                .Lanes.Where(l => l.Id == run.LaneId && db.JobLanes.Any(j => j.LaneId == l.Id))
                .ExecuteUpdateAsync(s => s.SetProperty(l => l.Paused, true), cancel);
        var count = await db.Writes.CountAsync(w => w.RunId == runId && w.State == WriteState.Planned, cancel);
        if (count == 0)
            return new Reason("send.nothing", "Nothing is chosen, so nothing was sent.");
        await transaction.CommitAsync(CancellationToken.None);
        engine.Begin(runId);
        return count;
    }

    /// <summary>
    /// Decides, for records that were changed on both sides, that what is there counts. The source's present value is kept as what both
    /// last agreed on, so that for the next run only the target has changed: it takes that value over where it may flow back, and leaves
    /// it alone where it may not.
    /// </summary>
    /// <param name="runId">The run that holds them.</param>
    /// <param name="only">The writes that are decided; null: every one that asks.</param>
    /// <param name="by">Who decides.</param>
    /// <param name="cancel">Gives up; nothing is decided then.</param>
    /// <returns>How many records were decided, or why none could be.</returns>
    public async Task<Outcome<int>> LetThereCountAsync(long runId, IReadOnlyList<long>? only, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var found = await FindAsync(db, runId, cancel);
        if (found.Fault is { } unknown)
            return unknown;
        var run = found.Value;
        if (run.State is not (RunState.Ready or RunState.Done))
            return NotReady(run, "look at the newest preview");
        var asking = await AskingAsync(db, runId, only, cancel);
        if (asking.Count == 0)
            return new Reason(
                "decide.nothing",
                $"Run {runId} holds nothing {(only is null ? "" : "among these ")}that was changed on both sides."
            );
        var lane = await db.Lanes.AsNoTracking().FirstAsync(l => l.Id == run.LaneId, cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        foreach (var some in asking.Chunk(Chunk))
            await LetThereCountAsync(db, lane, some, by, cancel);
        await transaction.CommitAsync(cancel);
        if (await db.Lanes.AnyAsync(l => l.Id == run.LaneId && l.ComparedRunId == runId, cancel))
            await engine.NoteAsync(run, cancel);
        else
            engine.Tell(run);
        return asking.Count;
    }

    /// <summary>Gives a preview up, wherever it is: nothing of it is sent. One that was given up already is none the worse.</summary>
    /// <returns>The run's number; or why it cannot be given up: <see cref="WasSent"/>.</returns>
    public async Task<Outcome<long>> GiveUpAsync(long runId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var found = await FindAsync(db, runId, cancel);
        if (found.Fault is { } unknown)
            return unknown;
        var sent = await db.Writes.AnyAsync(w => w.RunId == runId && w.SentAt != null, cancel);
        if (sent || found.Value is { State: RunState.Working, Phase: RunPhase.Send or RunPhase.Confirm })
            return new Reason(WasSent, $"Run {runId} has sent something already.");
        if (found.Value.State == RunState.Working)
            return await StopAsync(runId, by, cancel);
        return found.Value.State == RunState.Ready ? await DismissAsync(runId, by, cancel) : runId;
    }

    /// <summary>Sends nothing of a change set, and says who decided so.</summary>
    /// <returns>The run's number, or why there is nothing to decide.</returns>
    public async Task<Outcome<long>> DismissAsync(long runId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var dismissed = await db
            .Runs.Where(r => r.Id == runId && r.State == RunState.Ready)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.State, RunState.Done), cancel);
        if (dismissed == 0)
            return new Reason("run.notReady", $"Run {runId} has no change set that waits for a decision.");
        await db
            .Writes.Where(w => w.RunId == runId && (w.State == WriteState.Planned || w.State == WriteState.Held))
            .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Skipped), cancel);
        var run = await db.Runs.FirstAsync(r => r.Id == runId, cancel);
        run.Why = KeptReason.Of(new Reason("run.dismissed", $"Nothing was sent: {by} decided so."));
        await db.SaveChangesAsync(cancel);
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
        var found = await FindAsync(db, runId, cancel);
        if (found.Fault is { } unknown)
            return unknown;
        var undone = found.Value;
        if (undone.State is not (RunState.Done or RunState.Failed))
            return new Reason("run.notDone", $"Run {runId} is {Word(undone)}; only what was sent can be taken back.");
        var confirmed = await db
            .Writes.Where(w => w.RunId == runId && w.State == WriteState.Confirmed && w.TakenBackIn == null)
            .Select(w => w.Id)
            .ToListAsync(cancel);
        if (!confirmed.Exists(id => only?.Contains(id) != false))
            return new Reason(
                "rollback.nothing",
                $"Run {runId} has nothing {(only is null ? "" : "among these ")}that was confirmed and not taken back yet."
            );
        return await BeginAsync(
            db,
            new Run
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
                Chosen = only is null ? null : JsonSerializer.Serialize(only),
            },
            cancel
        );
    }

    /// <summary>Tries a failed run, or the failed writes of a run that is done, again.</summary>
    /// <returns>The run's number, or why there is nothing to try.</returns>
    public async Task<Outcome<long>> TryAgainAsync(long runId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        // What is looked at here must still be so when it is decided, so nobody else decides meanwhile.
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var found = await FindAsync(db, runId, cancel);
        if (found.Fault is { } unknown)
            return unknown;
        var run = found.Value;
        var writes = run is not { Preview: true, Phase: RunPhase.Read or RunPhase.Pair or RunPhase.Compute };
        var lane = await db.Lanes.AsNoTracking().FirstAsync(l => l.Id == run.LaneId, cancel);
        if (writes && LaneGate.Closed(lane) is { } closed)
            return closed;
        if (run.Phase is RunPhase.Send or RunPhase.Confirm or RunPhase.Finished)
            if (await ChangeBasis.StaleAsync(db, run, lane, cancel) is { } stale)
                return stale;
        var failing = db.Writes.Where(w => w.RunId == runId && w.State == WriteState.Failed);
        var some = await failing.AnyAsync(cancel);
        if (run.State == RunState.Done && !some)
            return new Reason("run.notFailed", $"No write of run {runId} has failed.");
        var phase = run.Phase is RunPhase.Finished or RunPhase.Confirm ? RunPhase.Send : run.Phase;
        var again = db.Runs.Where(r => r.Id == runId && (r.State == RunState.Failed || r.State == RunState.Done));
        if (await MoveAsync(db, again, run, phase, null, cancel) is { } notAgain)
            return notAgain with { Code = notAgain.Code == "run.notReady" ? "run.notFailed" : notAgain.Code };
        await failing.ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Planned), cancel);
        await transaction.CommitAsync(CancellationToken.None);
        engine.Begin(runId);
        return runId;
    }

    /// <summary>Stops a run that is at work, between two batches.</summary>
    /// <returns>The run's number, or why there is nothing to stop.</returns>
    public async Task<Outcome<long>> StopAsync(long runId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var found = await FindAsync(db, runId, cancel);
        if (found.Fault is { } unknown)
            return unknown;
        if (found.Value.State == RunState.Working && engine.Stop(runId, by))
            return runId;
        return new Reason("run.notWorking", $"Run {runId} is {Word(found.Value)}; there is nothing to stop.");
    }

    private static async Task<Outcome<Run>> FindAsync(NarbitContext db, long runId, CancellationToken cancel)
    {
        if (await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == runId, cancel) is not { } run)
            return new Reason("run.unknown", $"There is no run {runId}.");
        return await db.Lanes.AnyAsync(l => l.Id == run.LaneId, cancel)
            ? run
            : new Reason(
                "run.laneRemoved",
                $"The lane of run {runId} was removed. Bring it back under Lanes first; its run can be looked at."
            );
    }

    // The new run and the end of those that wait are one decision; after it the run goes to work, whoever asked for it.
    private async Task<Outcome<long>> BeginAsync(NarbitContext db, Run run, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        db.Runs.Add(run);
        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException error) when (Database.IsDuplicate(error))
        {
            return await BusyAsync(run.LaneId, cancel);
        }

        // A few records or fields say nothing of what waits for a person; each write is asked about again before it is sent.
        if (run is { Only: null, Fields: null })
            await db
                .Runs.Where(r => r.LaneId == run.LaneId && r.State == RunState.Ready)
                .ExecuteUpdateAsync(s => s.SetProperty(r => r.State, RunState.Superseded), cancel);
        await transaction.CommitAsync(CancellationToken.None);
        engine.Begin(run.Id);
        return run.Id;
    }

    // Moves a run to work in one statement; one row counts, or somebody else was first.
    private async Task<Reason?> MoveAsync(
        NarbitContext db,
        IQueryable<Run> movable,
        Run run,
        RunPhase phase,
        string? by,
        CancellationToken cancel
    )
    {
        try
        {
            var starter = by ?? run.StartedBy;
            var moved = await movable.ExecuteUpdateAsync(
                s =>
                    s.SetProperty(r => r.State, RunState.Working)
                        .SetProperty(r => r.Phase, phase)
                        .SetProperty(r => r.Preview, r => by == null && r.Preview)
                        .SetProperty(r => r.EndedAt, (DateTimeOffset?)null)
                        .SetProperty(r => r.StartedBy, starter),
                cancel
            );
            if (moved == 0)
                return NotReady(await db.Runs.AsNoTracking().FirstAsync(r => r.Id == run.Id, cancel), "look at the newest preview");
            var tracked = await db.Runs.FirstAsync(r => r.Id == run.Id, cancel);
            tracked.Why = null;
            await db.SaveChangesAsync(cancel);
            return null;
        }
        catch (Exception error) when (Database.IsDuplicate(error))
        {
            return await BusyAsync(run.LaneId, cancel);
        }
    }

    private static Reason NotReady(Run run, string advice) =>
        run.State == RunState.Superseded
            ? run.Why?.Reason ?? new Reason("run.superseded", "A later run of this lane has taken its place. Look at the newest preview.")
            : new Reason("run.notReady", $"Run {run.Id} is {Word(run)}; {advice}.");

    private async Task<Reason> BusyAsync(string laneId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var busy = await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.LaneId == laneId && r.State == RunState.Working, cancel);
        return new Reason(
            Busy,
            $"This lane is running already{(busy is null ? "" : $" (run {busy.Id})")}. Wait until it is done; it never runs twice at once."
        );
    }

    private static async Task ChooseAsync(NarbitContext db, long runId, Choice choice, CancellationToken cancel)
    {
        var planned = db.Writes.Where(w => w.RunId == runId && w.State == WriteState.Planned);
        if (choice.WithoutGuarded)
            await SkipAsync(planned.Where(w => w.Guards != ""));
        if (choice.All)
        {
            foreach (var some in (choice.Except ?? []).Chunk(Chunk))
                await SkipAsync(planned.Where(w => some.Contains(w.Id)));
        }
        else
        {
            var only = (choice.Only ?? []).ToHashSet();
            var left = (await planned.Select(w => w.Id).ToListAsync(cancel)).Where(id => !only.Contains(id));
            foreach (var some in left.Chunk(Chunk))
                await SkipAsync(planned.Where(w => some.Contains(w.Id)));
        }

        // What is held, or was not chosen the last time, goes when it is named.
        foreach (var some in (choice.Only ?? []).Chunk(Chunk))
            await db
                .Writes.Where(w => w.RunId == runId && some.Contains(w.Id))
                .Where(w => w.State == WriteState.Held || (w.State == WriteState.Skipped && w.Fate == null))
                .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Planned), cancel);
        await BringAlongAsync(db, runId, cancel);

        Task<int> SkipAsync(IQueryable<PlannedWrite> writes) =>
            writes.ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Skipped), cancel);
    }

    // What a chosen record refers to goes with it: an order's customer.
    private static async Task BringAlongAsync(NarbitContext db, long runId, CancellationToken cancel)
    {
        var writes = db.Writes.Where(w => w.RunId == runId);
        var chosen = writes.Where(w => w.State == WriteState.Planned && w.Act == WriteAct.Create);
        var kind = await db.Runs.Where(r => r.Id == runId).Join(db.Lanes, r => r.LaneId, l => l.Id, (_, l) => l.Kind).FirstAsync(cancel);
        var along = LaneWorks.Of(kind).Writing.GoAlong;
        await writes
            .Where(w => w.State == WriteState.Skipped && along.Contains(w.Record))
            .Where(w => db.WriteFields.Any(f => f.ToCome && f.New == w.SourceKey && chosen.Any(c => c.Id == f.WriteId)))
            .ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Planned), cancel);
    }

    // Pairs may have been taken apart since the change set was computed by them.
    private static async Task<int> UnpairedAsync(NarbitContext db, long runId, Lane lane, CancellationToken cancel)
    {
        var work = LaneWorks.Of(lane.Kind);
        if (!work.Writing.GoesByPairs)
            return 0;
        var links = (await PairBook.OpenAsync(db, work.Record, lane.SourceId, lane.TargetId, cancel)).Links(db);
        return await db
            .Writes.Where(w => w.RunId == runId && w.State == WriteState.Planned && w.Act == WriteAct.Update)
            .CountAsync(w => !links.Any(l => l.TargetKey == w.TargetKey && (l.IsKit || l.SourceKey == w.SourceKey)), cancel);
    }

    /// <summary>Why a change set may not be sent as it is: it was computed by what no longer holds; null: it may.</summary>
    public async Task<Reason?> StaleAsync(long runId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == runId, cancel) is not { State: RunState.Ready } run)
            return null;
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == run.LaneId, cancel);
        return lane is null ? null : await ChangeBasis.StaleAsync(db, run, lane, cancel);
    }

    private static async Task<List<long>> AskingAsync(NarbitContext db, long runId, IReadOnlyList<long>? only, CancellationToken cancel)
    {
        var asking = await db
            .Writes.Where(w => w.RunId == runId && w.State == WriteState.Held && w.Way == Way.There && w.Fields.Any(f => f.Asks))
            .Select(w => w.Id)
            .ToListAsync(cancel);
        return [.. asking.Where(id => only?.Contains(id) != false)];
    }

    private async Task LetThereCountAsync(NarbitContext db, Lane lane, long[] ids, string by, CancellationToken cancel)
    {
        var writes = await db.Writes.Include(w => w.Fields).Where(w => ids.Contains(w.Id)).ToListAsync(cancel);
        var keys = writes.Select(w => w.TargetKey).ToList();
        var kind = LaneWorks.Of(lane.Kind).Record;
        var known = await db
            .Agreed.Where(a => a.SystemId == lane.TargetId && a.Kind == kind && a.WithId == lane.SourceId && keys.Contains(a.Key))
            .ToDictionaryAsync(a => (a.Key, a.WithKey, a.Field), cancel);
        foreach (var write in writes)
        {
            write.State = WriteState.Skipped;
            write.Fate = KeptReason.Of(new Reason("decided.there", $"{by} decided that what is there counts; the next run goes by it"));
            foreach (var field in write.Fields.Where(f => f.Asks))
            {
                if (!known.TryGetValue((write.TargetKey, write.SourceKey, field.Field), out var agreed))
                    db.Agreed.Add(agreed = NotKnownYet(lane, write, field));
                (agreed.Value, agreed.At) = (field.New, clock.GetUtcNow());
            }
        }

        await db.SaveChangesAsync(cancel);
    }

    private Agreed NotKnownYet(Lane lane, PlannedWrite write, PlannedField field) =>
        new()
        {
            SystemId = lane.TargetId,
            Kind = LaneWorks.Of(lane.Kind).Record,
            Key = write.TargetKey,
            WithId = lane.SourceId,
            WithKey = write.SourceKey,
            Field = field.Field,
            At = clock.GetUtcNow(),
        };

    private static string Word(Run run) => run.State.ToString().ToLowerInvariant();
}
