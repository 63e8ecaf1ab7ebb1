using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Runs;

/// <summary>
/// Sends a stored change set and confirms it. Before each batch the target is asked what it holds: a value that is there already is not sent,
/// a value that has changed since is not overwritten, and a write that was cut off is found out about. A batch is marked unknown before it leaves,
/// so that a process that dies at any point knows afterwards what to ask for.
/// </summary>
/// <param name="database">Where the runs are.</param>
/// <param name="live">Who is told.</param>
/// <param name="clock">The time.</param>
internal sealed class SendStep(Database database, LiveFeed live, TimeProvider clock)
{
    private const int MostRounds = 4;

    /// <summary>Sends everything planned, and settles everything unknown.</summary>
    public async Task<Fault?> SendAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        if (!lane.Target.System.MayWrite) return new Fault("system.mayNotWrite", $"{lane.Target.System.Name} may not be written; allow it under Systems, then try the run again.");
        var batchSize = lane.Target.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).BatchSize;
        if (batchSize == 0) return new Fault("system.readOnly", $"The description of {lane.Target.System.Name} says nothing of how its items are written.");

        for (var round = 1; ; round++)
        {
            var ids = await IdsAsync(run.Id, cancel, WriteState.Planned, WriteState.Unknown);
            if (ids.Count == 0) return null;
            if (round > MostRounds) return new Fault("send.noAnswer", $"{lane.Target.System.Name} gave no clear answer for {ids.Count} {(ids.Count == 1 ? "record" : "records")}. Nothing is lost: try the run again once it answers.");
            foreach (var batch in ids.Chunk(batchSize))
            {
                if (await HeldAsync(lane, cancel) is { } held) return held;
                if (await BatchAsync(run, lane, batch, cancel) is { } fault) return fault;
                await TellAsync(run, RunPhase.Send, cancel);
            }
        }
    }

    /// <summary>Reads back what was sent.</summary>
    public async Task<Fault?> ConfirmAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        var ids = await IdsAsync(run.Id, cancel, WriteState.Sent);
        foreach (var batch in ids.Chunk(50))
        {
            await using var db = database.CreateDbContext();
            var writes = await WritesAsync(db, batch, cancel);
            var found = await LookUpAsync(lane, writes, cancel);
            if (found.Fault is { } fault) return fault;
            foreach (var write in writes)
            {
                if (!found.Value.TryGetValue(write.TargetKey, out var record)) Settle(write, WriteState.Failed, Gone(lane));
                else if (Holds(lane, write, record, f => f.New)) await ConfirmedAsync(db, lane, write, null, cancel);
                else Settle(write, WriteState.Failed, $"{lane.Target.System.Name} accepted it, but holds {Shown(write, record)}");
            }

            await db.SaveChangesAsync(cancel);
            await TellAsync(run, RunPhase.Confirm, cancel);
        }

        return null;
    }

    // Somebody may have begun to pair since the run was started.
    private async Task<Fault?> HeldAsync(OpenLane lane, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var by = await db.Lanes.Where(l => l.Id == lane.Lane.Id && l.HeldAt != null).Select(l => l.HeldBy).FirstOrDefaultAsync(cancel);
        return by is null ? null : new Fault("lane.held", $"{by} began to hold this lane while the run was sending; what was sent is confirmed when the run is tried again. Release the lane at the pair desk, then try the run again.");
    }

    private async Task<Fault?> BatchAsync(Run run, OpenLane lane, long[] ids, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var writes = await WritesAsync(db, ids, cancel);
        var found = await LookUpAsync(lane, writes, cancel);
        if (found.Fault is { } fault) return fault;

        var toSend = new List<PlannedWrite>();
        foreach (var write in writes)
        {
            if (!found.Value.TryGetValue(write.TargetKey, out var record)) Settle(write, WriteState.Failed, Gone(lane));
            else if (Holds(lane, write, record, f => f.New)) await ConfirmedAsync(db, lane, write, write.Attempts == 0 ? "was there already" : null, cancel);
            else if (Holds(lane, write, record, f => f.Old)) toSend.Add(write);
            else Settle(write, WriteState.Overtaken, $"changed there since it was read: {Shown(write, record)} instead of {write.Fields[0].Old ?? "nothing"}; the next run computes it anew");
        }

        foreach (var write in toSend)
        {
            (write.State, write.SentAt, write.Message) = (WriteState.Unknown, clock.GetUtcNow(), null);
            write.Attempts++;
        }

        await db.SaveChangesAsync(cancel);
        if (toSend.Count == 0) return null;

        var answers = await lane.Target.Adapter.WriteAsync(RecordKind.Item,
            [.. toSend.Select(w => new RecordWrite(w.TargetKey, w.IdempotencyKey, w.Fields.ToDictionary(f => f.Field, f => f.New)))], cancel);
        foreach (var (write, answer) in toSend.Zip(answers))
        {
            (write.State, write.Message) = answer.Fate switch
            {
                WriteFate.Accepted => (WriteState.Sent, null),
                WriteFate.Refused => (WriteState.Failed, answer.Message),
                _ => (WriteState.Unknown, answer.Message),
            };
        }

        await db.SaveChangesAsync(cancel);
        return null;
    }

    private async Task<Outcome<Dictionary<string, ReadRecord>>> LookUpAsync(OpenLane lane, List<PlannedWrite> writes, CancellationToken cancel)
    {
        var found = await lane.Target.Adapter.LookUpAsync(RecordKind.Item, [.. writes.Select(w => w.TargetKey)], cancel);
        if (found.Fault is { } fault) return fault;
        // What was seen on the way belongs in the mirror.
        await new MirrorStore(database).StoreAsync(lane.Target.System.Id, RecordKind.Item, StoredRecord.Entries(found.Value, lane.TargetItems), clock.GetUtcNow(), cancel);
        return found.Value.ToDictionary(r => r.Key, StringComparer.Ordinal);
    }

    private async Task ConfirmedAsync(NarbitContext db, OpenLane lane, PlannedWrite write, string? message, CancellationToken cancel)
    {
        Settle(write, WriteState.Confirmed, message);
        write.ConfirmedAt = clock.GetUtcNow();
        foreach (var field in write.Fields)
        {
            var agreed = await db.Agreed.FindAsync([lane.Lane.Id, write.TargetKey, field.Field], cancel);
            if (agreed is null) db.Agreed.Add(agreed = new Agreed { LaneId = lane.Lane.Id, TargetKey = write.TargetKey, Field = field.Field, At = clock.GetUtcNow() });
            (agreed.Value, agreed.Source, agreed.At) = (field.New, write.Source, clock.GetUtcNow());
        }
    }

    private async Task<List<long>> IdsAsync(long runId, CancellationToken cancel, params WriteState[] states)
    {
        await using var db = database.CreateDbContext();
        return await db.Writes.Where(w => w.RunId == runId && states.Contains(w.State)).OrderBy(w => w.Id).Select(w => w.Id).ToListAsync(cancel);
    }

    private static async Task<List<PlannedWrite>> WritesAsync(NarbitContext db, long[] ids, CancellationToken cancel) =>
        await db.Writes.Include(w => w.Fields.OrderBy(f => f.Position)).Where(w => ids.Contains(w.Id)).OrderBy(w => w.Id).ToListAsync(cancel);

    private async Task TellAsync(Run run, RunPhase phase, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var total = await db.Writes.CountAsync(w => w.RunId == run.Id && w.State != WriteState.Held && w.State != WriteState.Skipped, cancel);
        var open = phase == RunPhase.Send
            ? await db.Writes.CountAsync(w => w.RunId == run.Id && (w.State == WriteState.Planned || w.State == WriteState.Unknown), cancel)
            : await db.Writes.CountAsync(w => w.RunId == run.Id && w.State == WriteState.Sent, cancel);
        live.Tell(new LiveEvent("run", run.Id.ToString(System.Globalization.CultureInfo.InvariantCulture), phase.ToString().ToLowerInvariant(), total - open, total));
    }

    private static bool Holds(OpenLane lane, PlannedWrite write, ReadRecord record, Func<PlannedField, string?> value) =>
        write.Fields.All(f => FieldComparison.Same(lane.TargetItems.Fields.First(d => d.Name == f.Field).Type, record.Values.GetValueOrDefault(f.Field), value(f)));

    private static string Shown(PlannedWrite write, ReadRecord record) => string.Join(", ", write.Fields.Select(f => record.Values.GetValueOrDefault(f.Field) ?? "nothing"));

    private static string Gone(OpenLane lane) => $"the record is no longer in {lane.Target.System.Name}; read it again, then look at its pair";

    private static void Settle(PlannedWrite write, WriteState state, string? message) => (write.State, write.Message) = (state, message);
}
