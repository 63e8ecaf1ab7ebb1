using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Runs;

/// <summary>
/// Sends a stored change set and confirms it. Before each batch the target is asked what it holds: a value that is there already is not
/// sent,
/// a value that has changed since is not overwritten, and a write that was cut off is found out about. A batch is marked unknown before it
/// leaves,
/// so that a process that dies at any point knows afterwards what to ask for.
/// </summary>
/// <param name="database">Where the runs are.</param>
/// <param name="live">Who is told.</param>
/// <param name="clock">The time.</param>
internal sealed class SendStep(Database database, LiveFeed live, TimeProvider clock)
{
    private const int MostRounds = 4;

    // What is new is there before anything refers to it.
    private static readonly (bool ToSource, WriteAct Act)[] Order =
    [
        (false, WriteAct.Create),
        (false, WriteAct.Update),
        (false, WriteAct.End),
        (true, WriteAct.Create),
        (true, WriteAct.Update),
    ];

    /// <summary>Sends everything planned, and settles everything unknown.</summary>
    public async Task<Fault?> SendAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        foreach (var (toSource, act) in Order)
        {
            var side = new WrittenSide(lane, toSource);
            for (var round = 1; ; round++)
            {
                var ids = await IdsAsync(run.Id, toSource, act, cancel, WriteState.Planned, WriteState.Unknown);
                if (ids.Count == 0)
                    break;
                if (!side.System.MayWrite)
                    return new Fault(
                        "system.mayNotWrite",
                        $"{side.System.Name} may not be written; allow it under Systems, then try the run again."
                    );
                if (side.Kind.BatchSize == 0)
                    return new Fault(
                        "system.readOnly",
                        $"The description of {side.System.Name} says nothing of how its items are written."
                    );
                if (round > MostRounds)
                    return new Fault(
                        "send.noAnswer",
                        $"{side.System.Name} gave no clear answer for {ids.Count} {(ids.Count == 1 ? "record" : "records")}. "
                            + $"Nothing is lost: try the run again once it answers."
                    );
                foreach (var batch in ids.Chunk(side.Kind.BatchSize))
                {
                    if (await HeldAsync(lane, cancel) is { } held)
                        return held;
                    if (
                        await (act == WriteAct.Create ? CreateAsync(run, side, batch, cancel) : BatchAsync(run, side, batch, cancel)) is
                        { } fault
                    )
                        return fault;
                    await TellAsync(run, RunPhase.Send, cancel);
                }
            }
        }

        return null;
    }

    /// <summary>Reads back what was sent.</summary>
    public async Task<Fault?> ConfirmAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        foreach (var (toSource, act) in Order)
        {
            var side = new WrittenSide(lane, toSource);
            foreach (var batch in (await IdsAsync(run.Id, toSource, act, cancel, WriteState.Sent)).Chunk(50))
            {
                await using var db = database.CreateDbContext();
                var writes = await WritesAsync(db, batch, cancel);
                var found = await LookUpAsync(side, writes, cancel);
                if (found.Fault is { } fault)
                    return fault;
                foreach (var write in writes)
                {
                    var record = found.Value.GetValueOrDefault(side.Key(write));
                    if (side.Done(write, record))
                        await ConfirmedAsync(db, run, side, write, null, cancel);
                    else if (record is null)
                        Settle(write, WriteState.Failed, side.Gone);
                    else
                        Settle(write, WriteState.Failed, $"{side.System.Name} accepted it, but holds {side.Differing(write, record)}");
                }

                await db.SaveChangesAsync(cancel);
                await TellAsync(run, RunPhase.Confirm, cancel);
            }
        }

        return null;
    }

    // Somebody may have begun to pair since the run was started.
    private async Task<Fault?> HeldAsync(OpenLane lane, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var by = await db.Lanes.Where(l => l.Id == lane.Lane.Id && l.HeldAt != null).Select(l => l.HeldBy).FirstOrDefaultAsync(cancel);
        return by is null
            ? null
            : new Fault(
                "lane.held",
                $"{by} began to hold this lane while the run was sending; what was sent is confirmed when the run is tried "
                    + $"again. Release the lane at the pair desk, then try the run again."
            );
    }

    // A creation is sent again with its key until there is an answer; the target makes nothing of it twice.
    private async Task<Fault?> CreateAsync(Run run, WrittenSide side, long[] ids, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var writes = await WritesAsync(db, ids, cancel);
        foreach (var write in writes)
            Leaves(write);
        await db.SaveChangesAsync(cancel);
        var answers = await side.Adapter.WriteAsync(
            RecordKind.Item,
            [
                .. writes.Select(w => new RecordWrite(
                    side.Key(w),
                    w.IdempotencyKey,
                    w.Fields.ToDictionary(f => f.Field, f => f.New),
                    WriteAct.Create,
                    w.ParentKey,
                    w.Group
                )),
            ],
            cancel
        );
        foreach (var (write, answer) in writes.Zip(answers))
        {
            (write.State, write.Message) = Fate(answer);
            if (answer is { Fate: WriteFate.Accepted, NewKey: { } key })
                await CreatedAsync(db, run, side.Lane, write, key, cancel);
        }

        await db.SaveChangesAsync(cancel);
        return null;
    }

    // What was created is paired at once, with the run as its evidence.
    private async Task CreatedAsync(NarbitContext db, Run run, OpenLane lane, PlannedWrite write, string key, CancellationToken cancel)
    {
        if (write.ToSource)
            write.HubKey = key;
        else
            write.TargetKey = key;
        var couple = await db.Couples.FirstOrDefaultAsync(
            c => c.HubId == lane.Source.System.Id && c.OtherId == lane.Target.System.Id && c.Kind == RecordKind.Item,
            cancel
        );
        if (couple is null || await db.Links.AnyAsync(l => l.CoupleId == couple.Id && l.OtherKey == write.TargetKey, cancel))
            return;
        var decision = new PairDecision
        {
            CoupleId = couple.Id,
            Act = DecisionAct.Accept,
            State = DecisionState.Committed,
            HubKey = write.HubKey,
            OtherKey = write.TargetKey,
            Evidence = $"created by run {run.Id}",
            Sku = write.Sku,
            Title = write.Title,
            By = run.StartedBy,
            At = clock.GetUtcNow(),
        };
        db.Decisions.Add(decision);
        await db.SaveChangesAsync(cancel);
        db.Links.Add(
            new PairLink
            {
                CoupleId = couple.Id,
                HubKey = write.HubKey,
                OtherKey = write.TargetKey,
                DecisionId = decision.Id,
            }
        );
        await db.SetAsides.Where(a => a.CoupleId == couple.Id && a.HubKey == write.HubKey).ExecuteDeleteAsync(cancel);
        await db
            .Proposals.Where(p => p.CoupleId == couple.Id && (p.HubKey == write.HubKey || p.OtherKey == write.TargetKey))
            .ExecuteDeleteAsync(cancel);
    }

    private void Leaves(PlannedWrite write)
    {
        (write.State, write.SentAt, write.Message) = (WriteState.Unknown, clock.GetUtcNow(), null);
        write.Attempts++;
    }

    private static (WriteState, string?) Fate(WriteAnswer answer) =>
        answer.Fate switch
        {
            WriteFate.Accepted => (WriteState.Sent, null),
            WriteFate.Refused => (WriteState.Failed, answer.Message),
            _ => (WriteState.Unknown, answer.Message),
        };

    private async Task<Fault?> BatchAsync(Run run, WrittenSide side, long[] ids, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var writes = await WritesAsync(db, ids, cancel);
        var found = await LookUpAsync(side, writes, cancel);
        if (found.Fault is { } fault)
            return fault;

        var toSend = new List<PlannedWrite>();
        foreach (var write in writes)
        {
            var record = found.Value.GetValueOrDefault(side.Key(write));
            if (side.Done(write, record))
                await ConfirmedAsync(db, run, side, write, write.Attempts == 0 ? "was there already" : null, cancel);
            else if (record is null)
                Settle(write, WriteState.Failed, side.Gone);
            else if (side.IsAsRead(write, record))
                toSend.Add(write);
            else
                Settle(
                    write,
                    WriteState.Overtaken,
                    $"changed there since it was read: {side.Changed(write, record)}; the next run computes it anew"
                );
        }

        foreach (var write in toSend)
            Leaves(write);

        await db.SaveChangesAsync(cancel);
        if (toSend.Count == 0)
            return null;

        var answers = await side.Adapter.WriteAsync(
            RecordKind.Item,
            [
                .. toSend.Select(w => new RecordWrite(
                    side.Key(w),
                    w.IdempotencyKey,
                    w.Act == WriteAct.End ? new Dictionary<string, string?>() : w.Fields.ToDictionary(f => f.Field, f => f.New),
                    w.Act
                )),
            ],
            cancel
        );
        foreach (var (write, answer) in toSend.Zip(answers))
            (write.State, write.Message) = Fate(answer);

        await db.SaveChangesAsync(cancel);
        return null;
    }

    private async Task<Outcome<Dictionary<string, ReadRecord>>> LookUpAsync(
        WrittenSide side,
        List<PlannedWrite> writes,
        CancellationToken cancel
    )
    {
        var found = await side.Adapter.LookUpAsync(RecordKind.Item, [.. writes.Select(side.Key)], cancel);
        if (found.Fault is { } fault)
            return fault;
        // What was seen on the way belongs in the mirror.
        await new MirrorStore(database).StoreAsync(
            side.System.Id,
            RecordKind.Item,
            StoredRecord.Entries(found.Value, side.Kind.Fields),
            clock.GetUtcNow(),
            cancel
        );
        return found.Value.ToDictionary(r => r.Key, StringComparer.Ordinal);
    }

    private async Task ConfirmedAsync(
        NarbitContext db,
        Run run,
        WrittenSide side,
        PlannedWrite write,
        string? message,
        CancellationToken cancel
    )
    {
        Settle(write, WriteState.Confirmed, message);
        write.ConfirmedAt = clock.GetUtcNow();
        if (run.RollsBack is { } undone)
            await db
                .Writes.Where(w => w.RunId == undone && w.TargetKey == write.TargetKey && w.ToSource == write.ToSource)
                .ExecuteUpdateAsync(s => s.SetProperty(w => w.TakenBackIn, run.Id), cancel);
        if (write.Act == WriteAct.End)
        {
            // What is ended is no longer anybody's listing.
            await db
                .Links.Where(l =>
                    l.OtherKey == write.TargetKey
                    && db.Couples.Any(c =>
                        c.Id == l.CoupleId
                        && c.HubId == side.Lane.Source.System.Id
                        && c.OtherId == side.Lane.Target.System.Id
                        && c.Kind == RecordKind.Item
                    )
                )
                .ExecuteDeleteAsync(cancel);
            await db
                .Records.Where(r =>
                    r.SystemId == side.System.Id && r.Kind == RecordKind.Item && r.Key == write.TargetKey && r.GoneAt == null
                )
                .ExecuteUpdateAsync(s => s.SetProperty(r => r.GoneAt, clock.GetUtcNow()), cancel);
            return;
        }

        foreach (var (field, value) in side.Agrees(write))
        {
            var agreed = await db.Agreed.FindAsync([side.Lane.Lane.Id, write.TargetKey, field], cancel);
            if (agreed is null)
                db.Agreed.Add(
                    agreed = new Agreed
                    {
                        LaneId = side.Lane.Lane.Id,
                        TargetKey = write.TargetKey,
                        Field = field,
                        At = clock.GetUtcNow(),
                    }
                );
            (agreed.Value, agreed.Source, agreed.At) = (value, write.Source, clock.GetUtcNow());
        }
    }

    private async Task<List<long>> IdsAsync(long runId, bool toSource, WriteAct act, CancellationToken cancel, params WriteState[] states)
    {
        await using var db = database.CreateDbContext();
        return await db
            .Writes.Where(w => w.RunId == runId && w.ToSource == toSource && w.Act == act && states.Contains(w.State))
            .OrderBy(w => w.Id)
            .Select(w => w.Id)
            .ToListAsync(cancel);
    }

    private static async Task<List<PlannedWrite>> WritesAsync(NarbitContext db, long[] ids, CancellationToken cancel) =>
        await db
            .Writes.Include(w => w.Fields.OrderBy(f => f.Position))
            .Where(w => ids.Contains(w.Id))
            .OrderBy(w => w.Id)
            .ToListAsync(cancel);

    private async Task TellAsync(Run run, RunPhase phase, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var total = await db.Writes.CountAsync(
            w => w.RunId == run.Id && w.State != WriteState.Held && w.State != WriteState.Skipped,
            cancel
        );
        var open =
            phase == RunPhase.Send
                ? await db.Writes.CountAsync(
                    w => w.RunId == run.Id && (w.State == WriteState.Planned || w.State == WriteState.Unknown),
                    cancel
                )
                : await db.Writes.CountAsync(w => w.RunId == run.Id && w.State == WriteState.Sent, cancel);
        live.Tell(
            new LiveEvent(
                "run",
                run.Id.ToString(System.Globalization.CultureInfo.InvariantCulture),
                phase.ToString().ToLowerInvariant(),
                total - open,
                total
            )
        );
    }

    private static void Settle(PlannedWrite write, WriteState state, string? message) => (write.State, write.Message) = (state, message);
}
