using System.Collections.Concurrent;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Runs;

/// <summary>
/// Sends a stored change set and confirms it. Before each batch the target is asked what it holds: a value that is there already is not
/// sent, a value that has changed since is not overwritten, and a write that was cut off is found out about. A batch is marked unknown
/// before it leaves, so that a process that dies at any point knows afterwards what to ask for.
/// </summary>
/// <param name="database">Where the runs are.</param>
/// <param name="reader">How the other side is asked what it has by now.</param>
/// <param name="live">Who is told.</param>
/// <param name="clock">The time.</param>
internal sealed class SendStep(Database database, MirrorReader reader, LiveFeed live, TimeProvider clock)
{
    /// <summary>The code of a creation that has become needless, as its record has a partner.</summary>
    public const string Paired = "create.paired";

    private const int MostRounds = 4;
    private const int ConfirmedAtOnce = 50;

    // A system that failed over a record so often, and does not have it, does not take it.
    private const int MostFailures = 2;

    // What a system has only just made may not be found at once.
    private static readonly TimeSpan FoundAfter = TimeSpan.FromSeconds(1);

    // A read as fresh as this has seen what the run itself was planned from.
    private static readonly TimeSpan Fresh = TimeSpan.FromMinutes(1);

    // What is new is there before anything refers to it; what is ended comes last.
    private static readonly (Way Way, WriteAct Act)[] Order =
    [
        (Way.There, WriteAct.Create),
        (Way.There, WriteAct.Update),
        (Way.There, WriteAct.End),
        (Way.Back, WriteAct.Create),
        (Way.Back, WriteAct.Update),
        (Way.Back, WriteAct.End),
    ];

    private static readonly ConcurrentDictionary<(string System, RecordKind Kind), SemaphoreSlim> Makes = new();

    private readonly LaneGate _gate = new(database);
    private readonly KeyReserve _keys = new(database, clock);

    /// <summary>Sends everything planned, and settles everything unknown.</summary>
    public async Task<Reason?> SendAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        foreach (var (way, act) in Order)
        foreach (var record in lane.Work.Writing.Writes)
            if (await SendAsync(run, new WrittenSide(lane, way, record), act, cancel) is { } fault)
                return fault;
        return null;
    }

    /// <summary>Reads back what was sent.</summary>
    public async Task<Reason?> ConfirmAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        foreach (var (way, act) in Order)
        foreach (var record in lane.Work.Writing.Writes)
        {
            var side = new WrittenSide(lane, way, record);
            if (await ConfirmAsync(run, side, act, cancel) is { } fault)
                return fault;
        }

        return null;
    }

    /// <summary>
    /// Finds out what became of all that earlier runs of the lane left unknown. A creation is asked for, or, where the system honours
    /// keys, sent again as it was with the key it had. A change is asked for once it cannot be under way any more: done late, it would
    /// overwrite what is sent now, or add to a list once more. What is not found is not there, and is computed anew as another thing.
    /// </summary>
    /// <param name="run">The run that is about to plan or send.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="mayWrite">Whether anything may be sent again; otherwise only questions are asked.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Why it cannot be found out; null: what can be is.</returns>
    public async Task<Reason?> SettleEarlierAsync(Run run, OpenLane lane, bool mayWrite, CancellationToken cancel)
    {
        var left = await LeftAsync(run, cancel);
        foreach (var (way, act) in Order)
        foreach (var record in lane.Work.Writing.Writes)
        {
            var side = new WrittenSide(lane, way, record);
            var own = left.Where(w => w.Way == way && w.Act == act && w.Record == record).ToList();
            if (own.Count == 0 || !CanSettle(side, act, mayWrite))
                continue;
            foreach (var earlier in own.GroupBy(w => w.RunId))
                if (await SettleAsync(earlier.Key, side, act, [.. earlier.Select(w => w.Id)], mayWrite, cancel) is { } unsettled)
                    return unsettled;
        }

        return null;
    }

    private async Task<Reason?> SettleAsync(
        long runId,
        WrittenSide side,
        WriteAct act,
        List<long> left,
        bool mayWrite,
        CancellationToken cancel
    )
    {
        Run run;
        await using (var db = database.CreateDbContext())
            run = await db.Runs.AsNoTracking().FirstAsync(r => r.Id == runId, cancel);
        foreach (var batch in left.Chunk(side.Kind.BatchSize))
        {
            if (mayWrite && await _gate.ClosedAsync(side, cancel) is { } closed)
                return closed;
            var sending = mayWrite && side.Kind.HonoursKeys ? Again.WithKey : Again.Never;
            var unsettled =
                act == WriteAct.Create
                    ? await CreateAsync(run, side, batch, sending, cancel)
                    : await FindOutAsync(run, side, batch, cancel);
            // A preview goes on without; whoever sends has to know.
            if (unsettled is not null)
                return mayWrite || act == WriteAct.Create ? unsettled : null;
        }

        return await ConfirmAsync(run, side, act, cancel) is { } unseen && (mayWrite || act == WriteAct.Create) ? unseen : null;
    }

    private static bool CanSettle(WrittenSide side, WriteAct act, bool mayWrite) =>
        side.Kind.BatchSize > 0
        && (
            act == WriteAct.Create
                ? side.Kind.Creates && (side.Kind.FoundBy is not null || (mayWrite && side.Kind.HonoursKeys))
                : side.Kind.LooksUp
        );

    // A change that an earlier run left: it arrived, or the next one computes it anew.
    private async Task<Reason?> FindOutAsync(Run earlier, WrittenSide side, long[] ids, CancellationToken cancel)
    {
        await UnderWayAsync(side, ids, cancel);
        await using var db = database.CreateDbContext();
        var writes = await WritesAsync(db, ids, cancel);
        var found = await LookUpAsync(side, writes, cancel);
        if (found.Fault is { } fault)
            return fault;
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        foreach (var write in writes.Where(w => w.State == WriteState.Unknown))
        {
            var record = found.Value.GetValueOrDefault(side.Key(write));
            var arrived = side.Done(write, record);
            FoundOut(db, write, arrived);
            if (arrived)
                await ConfirmedAsync(db, earlier, side, write, null, cancel);
            else
                Settle(write, WriteState.Failed, NotArrived(write));
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return null;
    }

    private static Reason NotArrived(PlannedWrite write) =>
        write.Fate?.Reason
        ?? (
            write.Act == WriteAct.Create
                ? new Reason("create.notArrived", "it did not arrive; it may be made anew")
                : new Reason("write.notArrived", "it did not arrive; the next run computes it anew")
        );

    private sealed record LeftWrite(long Id, long RunId, Way Way, WriteAct Act, RecordKind Record);

    // What earlier runs of a run's lane left without an answer, or without having seen it.
    private async Task<List<LeftWrite>> LeftAsync(Run run, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db
            .Writes.Where(w => (w.State == WriteState.Unknown || w.State == WriteState.Sent) && w.RunId != run.Id)
            .Where(w => db.Runs.Any(r => r.Id == w.RunId && r.LaneId == run.LaneId && r.State != RunState.Working))
            .OrderBy(w => w.Id)
            .Select(w => new LeftWrite(w.Id, w.RunId, w.Way, w.Act, w.Record))
            .ToListAsync(cancel);
    }

    private async Task<Reason?> ConfirmAsync(Run run, WrittenSide side, WriteAct act, CancellationToken cancel)
    {
        foreach (var batch in (await IdsAsync(run.Id, side, act, cancel, WriteState.Sent)).Chunk(ConfirmedAtOnce))
        {
            await using var db = database.CreateDbContext();
            var writes = await WritesAsync(db, batch, cancel);
            var found = await LookUpAsync(side, writes, cancel);
            if (found.Fault is { } fault)
                return fault;
            // What a write is and what follows from it are kept together, or a process that ends between them would tell two stories.
            await using (var transaction = await db.Database.BeginTransactionAsync(cancel))
            {
                foreach (var write in writes)
                {
                    var held = found.Value.GetValueOrDefault(side.Key(write));
                    if (side.Done(write, held))
                        await ConfirmedAsync(db, run, side, write, null, cancel);
                    else
                        await NotHeldAsync(db, run, side, write, held, cancel);
                }

                await db.SaveChangesAsync(cancel);
                await transaction.CommitAsync(cancel);
            }

            await OwnChanges.NoteAsync(db, side, writes, cancel);
            await TellAsync(run, RunPhase.Confirm, cancel);
        }

        return null;
    }

    private async Task<Reason?> SendAsync(Run run, WrittenSide side, WriteAct act, CancellationToken cancel)
    {
        for (var round = 1; ; round++)
        {
            var ids = await IdsAsync(run.Id, side, act, cancel, WriteState.Planned, WriteState.Unknown);
            if (ids.Count == 0)
                return null;
            if (Impossible(side, act) is { } impossible)
                return impossible;
            // A system that answers, but fails over some records, is not kept from the others.
            if (round > MostRounds)
                return await FailsOverAllAsync(ids, cancel) ? null : NoAnswer(side.System.Name, ids.Count);
            if (act == WriteAct.Create && await FreshAsync(side, round, cancel) is { } unread)
                return unread;
            foreach (var batch in ids.Chunk(side.Kind.BatchSize))
            {
                if (await _gate.ClosedAsync(side, cancel) is { } closed)
                    return closed;
                var fault =
                    act == WriteAct.Create
                        ? await CreateAsync(run, side, batch, side.Kind.HonoursKeys ? Again.WithKey : Again.OnceAsked, cancel)
                        : await BatchAsync(run, side, batch, cancel);
                if (fault is not null)
                    return fault;
                await TellAsync(run, RunPhase.Send, cancel);
            }
        }
    }

    /// <summary>What is still open of a run of which all that could be sent was.</summary>
    /// <returns>Why it is not over; null: it is.</returns>
    public async Task<Reason?> OpenAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        foreach (var (way, act) in Order)
        foreach (var record in lane.Work.Writing.Writes)
        {
            var side = new WrittenSide(lane, way, record);
            var open = await IdsAsync(run.Id, side, act, cancel, WriteState.Planned, WriteState.Unknown);
            if (open.Count > 0)
                return NoAnswer(side.System.Name, open.Count);
        }

        return null;
    }

    private static Reason NoAnswer(string system, int records) =>
        new(
            "send.noAnswer",
            $"{system} gave no clear answer for {records:N0} {(records == 1 ? "record" : "records")}. Nothing is lost: try the run again "
                + "once it answers."
        );

    private async Task<bool> FailsOverAllAsync(List<long> ids, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        foreach (var some in ids.Chunk(ConfirmedAtOnce))
            if (!(await WritesAsync(db, some, cancel)).TrueForAll(FailedOver))
                return false;
        return true;
    }

    private static Reason? Impossible(WrittenSide side, WriteAct act) =>
        side.Kind.BatchSize == 0 || (act == WriteAct.Update && !side.Kind.Updates)
            ? new Reason("system.readOnly", $"The description of {side.System.Name} says nothing of how its records are written.")
        : act == WriteAct.Create && !side.Kind.Creates
            ? new Reason("system.noCreate", $"The description of {side.System.Name} says nothing of how records are created.")
        : act == WriteAct.End && !side.Kind.Ends
            ? new Reason("system.noEnd", $"The description of {side.System.Name} says nothing of how records are ended.")
        : null;

    // Each field is judged for itself: what arrived is agreed on, though the rest did not.
    private async Task NotHeldAsync(
        NarbitContext db,
        Run run,
        WrittenSide side,
        PlannedWrite write,
        ReadRecord? record,
        CancellationToken cancel
    )
    {
        Settle(write, WriteState.Failed, NotHeld(side, write, record));
        if (run.RollsBack is not null)
            await side.Lane.Work.Writing.HalfTakenBackAsync(db, side.Lane, write, cancel);
        if (record is not null && write.Act != WriteAct.End)
            await AgreeAsync(db, side, write, field => side.Holds(field, record), cancel);
    }

    private static Reason NotHeld(WrittenSide side, PlannedWrite write, ReadRecord? record) =>
        record is null
            ? new Reason("write.gone", side.Gone)
            : new Reason("write.notHeld", $"{side.System.Name} accepted it, but holds {side.Differing(write, record)}");

    // Between the plan and now somebody may have made the record there; so the other side is asked before anything is made.
    private async Task<Reason?> FreshAsync(WrittenSide side, int round, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var since = clock.GetUtcNow() - Fresh;
        var fresh =
            round == 1
            && await db.Reads.AnyAsync(
                r => r.SystemId == side.System.Id && r.Kind == side.Kind.Kind && r.State == ReadState.Done && r.StartedAt >= since,
                cancel
            );
        return fresh ? null : (await reader.ReadAsync(side.System.Id, side.Kind.Kind, full: false, cancel)).Fault;
    }

    // Between asking whether a record is there and making it, no other lane may do the same: two stores know the same buyer.
    private async Task<Reason?> CreateAsync(Run run, WrittenSide side, long[] ids, Again again, CancellationToken cancel)
    {
        if (again != Again.WithKey)
            await UnderWayAsync(side, ids, cancel);
        var gate = Makes.GetOrAdd((side.System.Id, side.Kind.Kind), _ => new SemaphoreSlim(1, 1));
        await gate.WaitAsync(cancel);
        try
        {
            return await CreateAloneAsync(run, side, ids, again, cancel);
        }
        finally
        {
            gate.Release();
        }
    }

    // Whether a creation that may have arrived is sent again.
    private enum Again
    {
        /// <summary>With its key, of which the system makes nothing twice.</summary>
        WithKey,

        /// <summary>Once the system has said that it does not have it, when it cannot be under way any more.</summary>
        OnceAsked,

        /// <summary>Not at all: what is not found has not arrived.</summary>
        Never,
    }

    private async Task<Reason?> CreateAloneAsync(Run run, WrittenSide side, long[] ids, Again again, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var book = await side.LinksAsync(db, cancel);
        var writes = await WritesAsync(db, ids, cancel);
        var found = await FoundAsync(side, writes, cancel);
        if (found.Fault is { } unasked)
            return unasked;
        var failedOver = writes.Where(FailedOver).Select(w => w.Id).ToHashSet();
        var inDoubt = again == Again.WithKey ? await InDoubtAsync(db, writes, cancel) : [];
        var leaving = await LeavingAsync((db, book), run, side, writes, found.Value, again, cancel);
        var toSend = leaving.ConvertAll(w => new Leaving(w, inDoubt.Contains(w.IdempotencyKey)));
        // One of several over which a system failed may be to blame; by themselves the others arrive.
        var alone = toSend.Where(w => failedOver.Contains(w.Write.Id)).ToList();
        await MakeAsync(db, book, run, side, [.. toSend.Except(alone)], cancel);
        foreach (var write in alone)
            await MakeAsync(db, book, run, side, [write], cancel);
        return null;
    }

    // The keys by which something may have arrived already, of this run or of an earlier one of which nobody has found it out yet. What
    // was asked for and is not there is not in doubt; of what is sent again by its key alone nobody knows.
    private static async Task<HashSet<string>> InDoubtAsync(NarbitContext db, List<PlannedWrite> writes, CancellationToken cancel)
    {
        var keys = writes.ConvertAll(w => w.IdempotencyKey);
        var unknown = await db
            .Writes.Where(w => keys.Contains(w.IdempotencyKey) && w.State == WriteState.Unknown)
            .Select(w => w.IdempotencyKey)
            .ToListAsync(cancel);
        return unknown.ToHashSet(StringComparer.Ordinal);
    }

    // A creation that leaves, and whether an earlier attempt at it may have arrived.
    private sealed record Leaving(PlannedWrite Write, bool InDoubt);

    private async Task MakeAsync(
        NarbitContext db,
        ICreatedLinks book,
        Run run,
        WrittenSide side,
        List<Leaving> toSend,
        CancellationToken cancel
    )
    {
        if (toSend.Count == 0)
            return;
        var keys = side.Kind.NewKeysFrom is { } from
            ? await _keys.GiveAsync(side.System.Id, side.Kind.Kind, from, [.. toSend.Select(w => w.Write.IdempotencyKey)], cancel)
            : null;
        var answers = await side.Adapter.WriteAsync(
            side.Kind.Kind,
            [.. toSend.Select(w => Creation(side, w.Write, keys) with { InDoubt = w.InDoubt })],
            cancel
        );
        // The new key and the link are stored together, or a process that dies between them would make the record again.
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        foreach (var (write, answer) in toSend.Select(w => w.Write).Zip(answers))
        {
            Answered(db, write, answer);
            if (answer is { Fate: WriteFate.Accepted, NewKey: { } key })
                await CreatedAsync(db, book, run, side, write, key, cancel);
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
    }

    // What is found is linked, and what is still to be made leaves: both are kept in one.
    private async Task<List<PlannedWrite>> LeavingAsync(
        (NarbitContext Db, ICreatedLinks Book) kept,
        Run run,
        WrittenSide side,
        List<PlannedWrite> writes,
        Dictionary<string, ReadRecord> found,
        Again again,
        CancellationToken cancel
    )
    {
        var (db, book) = kept;
        var toSend = new List<PlannedWrite>();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        foreach (var write in writes.Where(w => w.State is WriteState.Planned or WriteState.Unknown))
        {
            if (await MissingAsync(db, side, write, cancel) is { } missing)
                Settle(write, WriteState.Failed, missing);
            else if (found.GetValueOrDefault(side.FoundBy(write) ?? "") is { } record)
                await AdoptAsync(db, book, run, side, write, record, cancel);
            else if (await ThereAlreadyAsync(db, book, side, write, cancel) is { } there)
                Settle(write, WriteState.Overtaken, there);
            else if (write.State == WriteState.Planned || again == Again.WithKey)
                toSend.Add(write);
            else
                NotFound(db, side, write, again, toSend);
        }

        foreach (var write in toSend)
            Leaves(write);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return toSend;
    }

    // A creation that may have arrived, and that its system says it does not have. Where it cannot be asked for, nobody knows.
    private void NotFound(NarbitContext db, WrittenSide side, PlannedWrite write, Again again, List<PlannedWrite> toSend)
    {
        if (side.FoundBy(write) is null)
            return;
        FoundOut(db, write, arrived: false);
        var givenUp = write.Fate?.Code == FaultCodes.ServerError && write.Attempts >= MostFailures;
        if (again == Again.OnceAsked && !givenUp)
            toSend.Add(write);
        else
            Settle(write, WriteState.Failed, NotArrived(write));
    }

    // Whoever gave up waiting does not end what he waited for: a system may do late what it did not answer in time. It is asked when as
    // much time has passed as it has for an answer, and as much again.
    private async Task UnderWayAsync(WrittenSide side, long[] ids, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var open = db.Writes.Where(w => ids.Contains(w.Id) && w.State == WriteState.Unknown);
        if ((await open.Select(w => w.SentAt).ToListAsync(cancel)).Max() is not { } sent)
            return;
        var all = (2 * side.Kind.AnswersWithin) + FoundAfter;
        var left = sent + all - clock.GetUtcNow();
        if (left <= TimeSpan.Zero)
            return;
        left = left < all ? left : all;
        Traffic.Current?.Waits(left, forLimit: false);
        await Task.Delay(left, clock, cancel);
    }

    // The system is asked for what it has already, by the value that says whether it is the same record.
    private async Task<Outcome<Dictionary<string, ReadRecord>>> FoundAsync(
        WrittenSide side,
        List<PlannedWrite> writes,
        CancellationToken cancel
    )
    {
        var byValue = new Dictionary<string, ReadRecord>(StringComparer.OrdinalIgnoreCase);
        if (side.Kind.FoundBy is not { } field)
            return byValue;
        List<string> values = [.. writes.Select(side.FoundBy).OfType<string>().Distinct(StringComparer.OrdinalIgnoreCase)];
        if (values.Count == 0)
            return byValue;
        var found = await side.Adapter.FindAsync(side.Kind.Kind, values, cancel);
        if (found.Fault is { } fault)
            return fault;
        await SeenAsync(side, found.Value, cancel);
        foreach (var record in found.Value)
            if (record.Values.GetValueOrDefault(field) is { } value)
                byValue.TryAdd(value, record);
        return byValue;
    }

    // What is there under the same number is ours if it holds the same, and nobody else's; a customer is whoever has the mail address.
    private async Task AdoptAsync(
        NarbitContext db,
        ICreatedLinks book,
        Run run,
        WrittenSide side,
        PlannedWrite write,
        ReadRecord record,
        CancellationToken cancel
    )
    {
        var owner = await book.SourceOfAsync(db, record.Key, cancel);
        var isOwn = owner is null || owner == write.SourceKey;
        if (side.Kind.Kind == RecordKind.Customer || (isOwn && side.Done(write, record)))
        {
            await CreatedAsync(db, book, run, side, write, record.Key, cancel);
            await ConfirmedAsync(db, run, side, write, ThereAlready, cancel);
            return;
        }

        var what = isOwn ? $"it holds {side.Differing(write, record)}" : $"it is that of {owner}";
        Settle(
            write,
            WriteState.Failed,
            new Reason("number.taken", $"{side.System.Name} has a record under this number already, {record.Key}, and {what}").With(
                "record",
                record.Key
            )
        );
    }

    // What a record refers to and was made in this run has a key by now; where it was not made, neither is the record.
    private static async Task<Reason?> MissingAsync(NarbitContext db, WrittenSide side, PlannedWrite write, CancellationToken cancel)
    {
        foreach (var field in write.Fields.Where(f => f.ToCome))
        {
            if (side.Kind.Fields.Named(field.Field) is not { Type: FieldType.Reference } described)
                continue;
            var kind = side.Lane.Work.Writing.Referenced(described.Role);
            var links = await new WrittenSide(side.Lane, side.Way, kind).LinksAsync(db, cancel);
            if (await links.TargetOfAsync(db, field.New!, cancel) is not { } key)
                return new Reason(
                    "create.needs",
                    $"its {described.Label.ToLowerInvariant()} was not created, so it was not sent; see the line of that one"
                );
            (field.New, field.ToCome) = (key, false);
        }

        return null;
    }

    private static RecordWrite Creation(WrittenSide side, PlannedWrite write, IReadOnlyDictionary<string, long>? keys) =>
        Write(side, write) with
        {
            Act = WriteAct.Create,
            Parent = write.ParentKey,
            Group = write.Group,
            GivenKey = keys?[write.IdempotencyKey].ToString(CultureInfo.InvariantCulture),
        };

    private static RecordWrite Write(WrittenSide side, PlannedWrite write) =>
        new(side.Key(write), write.IdempotencyKey, write.Written.ToDictionary(f => f.Field, f => f.New))
        {
            Act = write.Act,
            Children = RecordChildren.Read(write.Children),
        };

    // Whether a creation has become needless since it was planned: linked meanwhile, or made by somebody else.
    private static async Task<Reason?> ThereAlreadyAsync(
        NarbitContext db,
        ICreatedLinks book,
        WrittenSide side,
        PlannedWrite write,
        CancellationToken cancel
    )
    {
        var partner =
            side.Way == Way.There
                ? await book.TargetOfAsync(db, write.SourceKey, cancel)
                : await book.SourceOfAsync(db, write.TargetKey, cancel);
        if (partner is not null)
            return new Reason(Paired, $"it was paired with {partner} meanwhile, so it is not created").With("record", partner);
        // Its own earlier attempt may be what is there; sending it again with its key finds out.
        if (write.State == WriteState.Unknown || side.Kind.Fields.Find(FieldRole.Sku) is not { } field)
            return null;
        var sku = write.Fields.Find(f => f.Field == field.Name)?.New;
        if (string.IsNullOrWhiteSpace(sku))
            return null;
        var same = await db
            .Records.Where(r => r.SystemId == side.System.Id && r.Kind == side.Kind.Kind && r.GoneAt == null && r.Reference == sku)
            .Select(r => r.Key)
            .FirstOrDefaultAsync(cancel);
        return same is null
            ? null
            : new Reason(
                "create.there",
                $"{side.System.Name} has {SkuForm.Of(sku) ?? sku} by now, as record {same}, so it is not created; pair the two"
            ).With("record", same);
    }

    // What was created is paired at once, with the run as its evidence.
    private async Task CreatedAsync(
        NarbitContext db,
        ICreatedLinks book,
        Run run,
        WrittenSide side,
        PlannedWrite write,
        string key,
        CancellationToken cancel
    )
    {
        side.SetKey(write, key);
        await db.SaveChangesAsync(cancel);
        var created = new CreatedPair(write.SourceKey, write.TargetKey, run.Id, run.StartedBy)
        {
            Reference = write.Reference,
            Caption = write.Caption,
        };
        await book.LinkAsync(db, created, clock.GetUtcNow(), cancel);
    }

    private async Task<Reason?> BatchAsync(Run run, WrittenSide side, long[] ids, CancellationToken cancel)
    {
        if (side.Kind.Fields.Children.Any(c => c.Adds))
            await UnderWayAsync(side, ids, cancel);
        await using var db = database.CreateDbContext();
        var writes = await WritesAsync(db, ids, cancel);
        if (run.RollsBack is not null && side.Way == Way.Back)
            writes = await WithoutDocumentAsync(db, run, writes, cancel);
        var found = await LookUpAsync(side, writes, cancel);
        if (found.Fault is { } fault)
            return fault;

        var failedOver = writes.Where(FailedOver).Select(w => w.Id).ToHashSet();
        var toSend = await LeavingAsync(db, run, side, writes, found.Value, cancel);
        // One of several over which a system failed may be to blame; by themselves the others arrive.
        var alone = toSend.Where(w => failedOver.Contains(w.Id)).ToList();
        await OwnChanges.NoteAsync(db, side, writes, cancel);
        await SendAsync(db, side, [.. toSend.Except(alone)], cancel);
        foreach (var write in alone)
            await SendAsync(db, side, [write], cancel);
        return null;
    }

    // What arrived is confirmed, and what is still to be changed leaves: both are kept in one.
    private async Task<List<PlannedWrite>> LeavingAsync(
        NarbitContext db,
        Run run,
        WrittenSide side,
        List<PlannedWrite> writes,
        Dictionary<string, ReadRecord> found,
        CancellationToken cancel
    )
    {
        var toSend = new List<PlannedWrite>();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        foreach (var write in writes)
        {
            var record = found.GetValueOrDefault(side.Key(write));
            if (write.State == WriteState.Unknown)
                FoundOut(db, write, side.Done(write, record));
            if (side.Done(write, record))
                await ConfirmedAsync(db, run, side, write, write.Attempts == 0 ? ThereAlready : null, cancel);
            else if (record is null)
                Settle(write, WriteState.Failed, new Reason("write.gone", side.Gone));
            else if (FailedOver(write) && write.Attempts >= MostFailures)
                Settle(write, WriteState.Failed, write.Fate!.Reason);
            else if (side.IsAsRead(write, record))
                toSend.Add(write);
            else
                Settle(write, WriteState.Overtaken, Overtaken(side, write, record));
        }

        foreach (var write in toSend)
            Leaves(write);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return toSend;
    }

    // Where a document stays at the hub, its store is told nothing: both go on saying the same.
    private static async Task<List<PlannedWrite>> WithoutDocumentAsync(
        NarbitContext db,
        Run run,
        List<PlannedWrite> writes,
        CancellationToken cancel
    )
    {
        var orders = writes.ConvertAll(w => w.SourceKey);
        var stay = await db
            .Writes.Where(w => w.RunId == run.Id && w.Way == Way.There && w.Act == WriteAct.End && w.State != WriteState.Confirmed)
            .Where(w => w.State != WriteState.Sent && orders.Contains(w.SourceKey))
            .Select(w => w.SourceKey)
            .ToListAsync(cancel);
        foreach (var write in writes.Where(w => stay.Contains(w.SourceKey)))
            Settle(write, WriteState.Failed, new Reason("rollback.stays", "its document stays, so nothing was told of it"));
        return [.. writes.Where(w => !stay.Contains(w.SourceKey))];
    }

    private static bool FailedOver(PlannedWrite write) => write is { State: WriteState.Unknown, Fate.Code: FaultCodes.ServerError };

    private async Task SendAsync(NarbitContext db, WrittenSide side, List<PlannedWrite> writes, CancellationToken cancel)
    {
        if (writes.Count == 0)
            return;
        var answers = await side.Adapter.WriteAsync(side.Kind.Kind, [.. writes.Select(w => Changed(side, w))], cancel);
        foreach (var (write, answer) in writes.Zip(answers))
            Answered(db, write, answer);
        await db.SaveChangesAsync(cancel);
    }

    // What became of an attempt that had no answer.
    private void FoundOut(NarbitContext db, PlannedWrite write, bool arrived) =>
        Tried(
            db,
            write,
            arrived
                ? new Reason("try.arrived", "it had arrived: the record was read and holds it")
                : new Reason("try.lost", "it had not arrived: the record was read and does not hold it")
        );

    private void Tried(NarbitContext db, PlannedWrite write, Reason why) =>
        db.Tries.Add(
            new WriteTry
            {
                WriteId = write.Id,
                Number = write.Attempts,
                At = clock.GetUtcNow(),
                Why = KeptReason.Of(why)!,
            }
        );

    private static RecordWrite Changed(WrittenSide side, PlannedWrite write) =>
        write.Act == WriteAct.End ? Write(side, write) with { Values = new Dictionary<string, string?>() } : Write(side, write);

    private static Reason ThereAlready => new("write.thereAlready", "was there already");

    private static Reason Overtaken(WrittenSide side, PlannedWrite write, ReadRecord record) =>
        new("write.overtaken", $"changed there since it was read: {side.Changed(write, record)}; the next run computes it anew");

    private void Leaves(PlannedWrite write)
    {
        write.State = WriteState.Unknown;
        write.SentAt = clock.GetUtcNow();
        write.Fate = null;
        write.Attempts++;
    }

    private void Answered(NarbitContext db, PlannedWrite write, WriteAnswer answer)
    {
        var accepted = answer.Fate == WriteFate.Accepted;
        if (answer is { Requests: > 1, Trouble: { } trouble })
            Tried(db, write, new Reason("try.repeated", $"{trouble.Words} It was sent {answer.Requests} times, with the same key."));
        if (!accepted)
            Tried(db, write, answer.Why ?? new Reason("write.noAnswer", "there was no answer"));
        else if (write.Attempts > 1)
            Tried(db, write, new Reason("try.accepted", "it was accepted"));
        var state = answer.Fate switch
        {
            WriteFate.Accepted => WriteState.Sent,
            WriteFate.Refused => WriteState.Failed,
            _ => WriteState.Unknown,
        };
        Settle(write, state, accepted ? null : answer.Why);
    }

    private async Task<Outcome<Dictionary<string, ReadRecord>>> LookUpAsync(
        WrittenSide side,
        List<PlannedWrite> writes,
        CancellationToken cancel
    )
    {
        var found = await side.Adapter.LookUpAsync(side.Kind.Kind, [.. writes.Select(side.Key)], cancel);
        if (found.Fault is { } fault)
            return fault;
        await SeenAsync(side, found.Value, cancel);
        var byKey = new Dictionary<string, ReadRecord>(StringComparer.Ordinal);
        foreach (var record in found.Value)
            byKey[record.Key] = record;
        return byKey;
    }

    // What was seen on the way belongs in the mirror: what follows a write (telling the store) is planned from there.
    private Task SeenAsync(WrittenSide side, IReadOnlyList<ReadRecord> records, CancellationToken cancel) =>
        new MirrorStore(database).StoreAsync(
            side.System.Id,
            side.Kind.Kind,
            StoredRecord.Entries(records, side.Kind.Fields),
            clock.GetUtcNow(),
            cancel
        );

    private async Task ConfirmedAsync(
        NarbitContext db,
        Run run,
        WrittenSide side,
        PlannedWrite write,
        Reason? fate,
        CancellationToken cancel
    )
    {
        Settle(write, WriteState.Confirmed, fate);
        write.ConfirmedAt = clock.GetUtcNow();
        if (run.RollsBack is { } undone)
            await db
                .Writes.Where(w =>
                    w.RunId == undone && w.TargetKey == write.TargetKey && w.SourceKey == write.SourceKey && w.Way == write.Way
                )
                .ExecuteUpdateAsync(s => s.SetProperty(w => w.TakenBackIn, run.Id), cancel);
        if (write.Act == WriteAct.End)
            await EndedAsync(db, run, side, write, cancel);
        else
            await AgreeAsync(db, side, write, _ => true, cancel);
        if (run.RollsBack is null)
            await side.Lane.Work.Writing.ArrivedAsync(db, side.Lane, write, side.ListsOf(write), cancel);
    }

    // What is ended is no longer anybody's listing.
    private async Task EndedAsync(NarbitContext db, Run run, WrittenSide side, PlannedWrite write, CancellationToken cancel)
    {
        var (key, now) = (side.Key(write), clock.GetUtcNow());
        if (run.RollsBack is not null)
            await side.Lane.Work.Writing.TakenBackAsync(db, side.Lane, run, write, now, cancel);
        await (await side.LinksAsync(db, cancel)).UnlinkAsync(db, side.Way, key, cancel);
        await db
            .Records.Where(r => r.SystemId == side.System.Id && r.Kind == side.Kind.Kind && r.Key == key && r.GoneAt == null)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.GoneAt, now), cancel);
    }

    private async Task AgreeAsync(
        NarbitContext db,
        WrittenSide side,
        PlannedWrite write,
        Func<PlannedField, bool> arrived,
        CancellationToken cancel
    )
    {
        var lane = side.Lane;
        if (!lane.Work.Writing.GoesByPairs)
            return;
        foreach (var (field, value) in write.Written.Where(arrived).SelectMany(side.Agrees))
        {
            var agreed = await db.Agreed.FindAsync(
                [lane.Target.System.Id, lane.Work.Record, lane.Source.System.Id, write.TargetKey, write.SourceKey, field],
                cancel
            );
            if (agreed is null)
                db.Agreed.Add(
                    agreed = new Agreed
                    {
                        SystemId = lane.Target.System.Id,
                        Kind = lane.Work.Record,
                        Key = write.TargetKey,
                        WithId = lane.Source.System.Id,
                        WithKey = write.SourceKey,
                        Field = field,
                        At = clock.GetUtcNow(),
                    }
                );
            (agreed.Value, agreed.At) = (value, clock.GetUtcNow());
            if (side.Way == Way.There)
                agreed.Source = write.Source;
        }
    }

    private async Task<List<long>> IdsAsync(
        long runId,
        WrittenSide side,
        WriteAct act,
        CancellationToken cancel,
        params WriteState[] states
    )
    {
        await using var db = database.CreateDbContext();
        return await db
            .Writes.Where(w =>
                w.RunId == runId && w.Way == side.Way && w.Record == side.Kind.Kind && w.Act == act && states.Contains(w.State)
            )
            .OrderBy(w => w.Id)
            .Select(w => w.Id)
            .ToListAsync(cancel);
    }

    private static Task<List<PlannedWrite>> WritesAsync(NarbitContext db, long[] ids, CancellationToken cancel) =>
        db.Writes.Include(w => w.Fields.OrderBy(f => f.Position)).Where(w => ids.Contains(w.Id)).OrderBy(w => w.Id).ToListAsync(cancel);

    private async Task TellAsync(Run run, RunPhase phase, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var writes = db.Writes.Where(w => w.RunId == run.Id);
        var total = await writes.CountAsync(w => w.State != WriteState.Held && w.State != WriteState.Skipped, cancel);
        var open =
            phase == RunPhase.Send
                ? await writes.CountAsync(w => w.State == WriteState.Planned || w.State == WriteState.Unknown, cancel)
                : await writes.CountAsync(w => w.State == WriteState.Sent, cancel);
        var id = run.Id.ToString(CultureInfo.InvariantCulture);
        live.Tell(new LiveEvent("run", id, phase.ToString().ToLowerInvariant(), total - open, total));
    }

    private static void Settle(PlannedWrite write, WriteState state, Reason? fate) =>
        (write.State, write.Fate) = (state, KeptReason.Of(fate));
}
