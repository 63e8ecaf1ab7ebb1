using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using IDbContextTransaction = Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction;

namespace Narbit.Engine.Pairing;

/// <summary>Collects decisions on pairs, puts them into force together, and takes them back. What was decided is never deleted.</summary>
/// <param name="database">Where decisions are kept.</param>
/// <param name="clock">The time.</param>
public sealed class DecisionDesk(Database database, TimeProvider clock)
{
    private const int Chunk = 400;

    /// <summary>The proposals that nobody has decided yet.</summary>
    public static async Task<IQueryable<PairProposal>> OpenAsync(NarbitContext db, long coupleId, CancellationToken cancel)
    {
        var proposals = db.Proposals.AsNoTracking().Where(p => p.CoupleId == coupleId);
        var waiting = db.Decisions.Where(d => d.CoupleId == coupleId && d.State == DecisionState.Waiting);
        // Mostly none waits, and then a hundred thousand proposals are counted by their index alone.
        if (!await waiting.AnyAsync(cancel))
            return proposals;
        // Two questions instead of one with an or: each has an index of its own.
        return proposals.Where(p =>
            !waiting.Any(d => d.HubClaim != null && d.HubClaim == p.HubKey)
            && !waiting.Any(d => d.OtherClaim != null && d.OtherClaim == p.OtherKey)
        );
    }

    /// <summary>Adds decisions to those that wait; all of them or, where one cannot be made, none.</summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="wanted">The decisions.</param>
    /// <param name="by">Who decides.</param>
    /// <param name="cancel">Gives up.</param>
    /// <param name="act">The act of the mismatch desk that they are part of; null: of none.</param>
    /// <returns>The decisions' numbers, or why one of them cannot be made.</returns>
    public async Task<Outcome<IReadOnlyList<long>>> DecideAsync(
        long coupleId,
        IReadOnlyList<DecisionToMake> wanted,
        string by,
        CancellationToken cancel,
        long? act = null
    )
    {
        await using var db = database.CreateDbContext();
        var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == coupleId, cancel);
        if (couple is null)
            return Unknown(coupleId);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var known = await KnownRecords.LoadAsync(db, couple, wanted, cancel);
        foreach (var decision in wanted)
            if (known.Check(decision) is { } fault)
                return fault;
        var made = wanted.Select(d => Make(couple, known, d, by)).ToList();
        made.ForEach(d => d.DeskActId = act);
        return await KeepAsync(db, transaction, couple, made, cancel) is { } taken ? taken : made.Select(d => d.Id).ToList();
    }

    private async Task<Reason?> KeepAsync(
        NarbitContext db,
        IDbContextTransaction transaction,
        Couple couple,
        List<PairDecision> made,
        CancellationToken cancel
    )
    {
        try
        {
            PairRows.Insert(db, made);
            await transaction.CommitAsync(cancel);
            return null;
        }
        catch (SqliteException error) when (Database.IsDuplicate(error))
        {
            await transaction.RollbackAsync(cancel);
            return await DecidedAlreadyAsync(couple, made, cancel);
        }
    }

    /// <summary>
    /// Decides every proposal of a filter that is not decided yet in one act: accepts those with a partner on both sides, or sets aside,
    /// or plans to create, those that stand alone.
    /// </summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="act">Accept, set aside or create.</param>
    /// <param name="reason">Why; for set aside it must be there.</param>
    /// <param name="which">Narrows the proposals.</param>
    /// <param name="expected">How many the person was told; another number refuses. Null: whatever there is.</param>
    /// <param name="by">Who decides.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>The decisions' numbers, or why they were not made.</returns>
    public async Task<Outcome<IReadOnlyList<long>>> DecideAllAsync(
        long coupleId,
        DecisionAct act,
        string? reason,
        Func<IQueryable<PairProposal>, IQueryable<PairProposal>> which,
        int? expected,
        string by,
        CancellationToken cancel
    )
    {
        if (act is not (DecisionAct.Accept or DecisionAct.SetAside or DecisionAct.Create))
            return new Reason("decision.incomplete", "Only accepting, setting aside and creating can be done for many at once.");
        if (act == DecisionAct.SetAside && string.IsNullOrWhiteSpace(reason))
            return new Reason("decision.incomplete", "Say why the records are set aside; whoever looks later will want to know.");
        await using var db = database.CreateDbContext();
        var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == coupleId, cancel);
        if (couple is null)
            return Unknown(coupleId);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var fitting = await OpenAsync(db, coupleId, cancel);
        fitting = act switch
        {
            DecisionAct.Accept => fitting.Where(p => p.HubKey != null && p.OtherKey != null),
            DecisionAct.Create => fitting.Where(p => p.HubKey != null && p.OtherKey == null),
            _ => fitting.Where(p => p.HubKey == null || p.OtherKey == null),
        };
        var proposals = await which(fitting).ToListAsync(cancel);
        if (expected is { } number && proposals.Count != number)
            return new Reason(
                "pairs.moved",
                $"There are {proposals.Count} such records now, not {number}: somebody decided meanwhile, or pairing was done "
                    + $"anew. Look again."
            );
        var now = clock.GetUtcNow();
        var made = proposals
            .Select(p => new PairDecision
            {
                CoupleId = coupleId,
                Act = act,
                Reason = string.IsNullOrWhiteSpace(reason) ? null : reason.Trim(),
                HubKey = p.HubKey,
                OtherKey = p.OtherKey,
                HubClaim = p.HubKey,
                OtherClaim = p.OtherKey,
                Evidence = PairJson.Words(p.Evidence),
                Verdict = p.Verdict.ToString().ToLowerInvariant(),
                Reference = p.Reference,
                Caption = p.Caption,
                By = by,
                At = now,
            })
            .ToList();
        return await KeepAsync(db, transaction, couple, made, cancel) is { } taken ? taken : made.Select(d => d.Id).ToList();
    }

    /// <summary>Takes a waiting decision back; without a number the last one.</summary>
    /// <returns>The decision, or null where none waits.</returns>
    public async Task<PairDecision?> WithdrawAsync(long coupleId, long? decisionId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var decision = await db
            .Decisions.Where(d => d.CoupleId == coupleId && d.State == DecisionState.Waiting && (decisionId == null || d.Id == decisionId))
            .OrderByDescending(d => d.Id)
            .FirstOrDefaultAsync(cancel);
        if (decision is null)
            return null;
        decision.State = DecisionState.ThrownAway;
        (decision.ThrownAt, decision.ThrownBy) = (clock.GetUtcNow(), by);
        await db.SaveChangesAsync(cancel);
        return decision;
    }

    /// <summary>
    /// Takes back what an act of the mismatch desk did to a couple: what waits is thrown away, what is in force no longer is.
    /// </summary>
    /// <returns>Why some of it remains; null: nothing does.</returns>
    public async Task<Reason?> UndoActAsync(long coupleId, long act, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var (mine, now) = (db.Decisions.Where(d => d.DeskActId == act && d.CoupleId == coupleId), clock.GetUtcNow());
        await ThrowAwayAsync(mine, by, now, cancel);
        Reason? remains = null;
        foreach (var batch in await mine.Where(d => d.BatchId != null).Select(d => d.BatchId!.Value).Distinct().ToListAsync(cancel))
            remains = Remains(await UndoAsync(batch, by, cancel)) ?? remains;
        return remains;
    }

    /// <summary>Why something of a batch that was taken back remains; null: it does not, or was taken back before.</summary>
    public static Reason? Remains(Outcome<CommitResult> undone) =>
        undone.Fault is { Code: not "batch.undone" } fault ? fault
        : undone.ValueOrDefault?.Faults is [var first, ..] ? new Reason("batch.partly", first.Message)
        : null;

    /// <summary>Throws every waiting decision away; <see cref="BringBackAsync"/> undoes it.</summary>
    /// <returns>How many, and the instant by which they can be brought back together.</returns>
    public async Task<(int Count, DateTimeOffset At)> ThrowAwayAsync(long coupleId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var now = clock.GetUtcNow();
        return (await ThrowAwayAsync(db.Decisions.Where(d => d.CoupleId == coupleId), by, now, cancel), now);
    }

    private static Task<int> ThrowAwayAsync(IQueryable<PairDecision> some, string by, DateTimeOffset at, CancellationToken cancel) =>
        some.Where(d => d.State == DecisionState.Waiting)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(d => d.State, DecisionState.ThrownAway).SetProperty(d => d.ThrownAt, at).SetProperty(d => d.ThrownBy, by),
                cancel
            );

    /// <summary>Lets decisions that were thrown away together wait again, but for those whose record somebody has decided since.</summary>
    /// <returns>How many wait again and which do not, or why none can.</returns>
    public async Task<Outcome<CommitResult>> BringBackAsync(long coupleId, DateTimeOffset thrownAt, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var thrown = await db
            .Decisions.Where(d => d.CoupleId == coupleId && d.State == DecisionState.ThrownAway && d.ThrownAt == thrownAt)
            .OrderBy(d => d.Id)
            .ToListAsync(cancel);
        if (thrown.Count == 0)
            return new Reason("pairs.nothing", "Nothing that was thrown away then is left to bring back. Another window may have done it.");
        var (hub, other) = await ClaimedAsync(db, coupleId, cancel);
        var faults = new List<CommitFault>();
        foreach (var decision in thrown)
        {
            var taken = hub.GetValueOrDefault(decision.HubClaim ?? "") ?? other.GetValueOrDefault(decision.OtherClaim ?? "");
            if (taken is not null)
                faults.Add(new CommitFault(decision.Id, $"meanwhile {taken.By} decided otherwise: {Said(taken)}"));
            else
                Waits(decision);
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return new CommitResult(null, thrown.Count - faults.Count, faults);
    }

    private static void Waits(PairDecision decision)
    {
        decision.State = DecisionState.Waiting;
        decision.ThrownAt = null;
        decision.ThrownBy = null;
    }

    // Who decided which records that still wait.
    private static async Task<(Dictionary<string, PairDecision> Hub, Dictionary<string, PairDecision> Other)> ClaimedAsync(
        NarbitContext db,
        long coupleId,
        CancellationToken cancel
    )
    {
        var waiting = await WaitingAsync(db, coupleId, null, cancel);
        return (
            waiting.Where(d => d.HubClaim is not null).ToDictionary(d => d.HubClaim!, StringComparer.Ordinal),
            waiting.Where(d => d.OtherClaim is not null).ToDictionary(d => d.OtherClaim!, StringComparer.Ordinal)
        );
    }

    /// <summary>
    /// Puts waiting decisions into force, all of them or the chosen ones, in one transaction. What cannot be put into force waits on.
    /// </summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="only">The chosen ones; null: all.</param>
    /// <param name="by">Who commits.</param>
    /// <param name="note">A note for later.</param>
    /// <param name="cancel">Gives up; nothing is in force then.</param>
    public Task<Outcome<CommitResult>> CommitAsync(
        long coupleId,
        IReadOnlyCollection<long>? only,
        string by,
        string? note,
        CancellationToken cancel
    )
    {
        var batch = new PairBatch
        {
            CoupleId = coupleId,
            By = by,
            At = clock.GetUtcNow(),
            Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim(),
        };
        return CommitAsync(batch, only, cancel);
    }

    /// <summary>The same as a batch of some origin.</summary>
    internal async Task<Outcome<CommitResult>> CommitAsync(PairBatch batch, IReadOnlyCollection<long>? only, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == batch.CoupleId, cancel);
        if (couple is null)
            return Unknown(batch.CoupleId);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var waiting = await WaitingAsync(db, couple.Id, only, cancel);
        if (waiting.Count == 0)
            return new Reason("pairs.nothing", "Nothing is waiting, so nothing was committed. Another window may have done it.");

        var faults = await PutIntoForceAsync(db, couple, waiting, cancel);
        var committed = waiting.Where(d => d.State == DecisionState.Committed).ToList();
        if (committed.Count == 0)
            return new CommitResult(null, 0, faults);
        batch.Decisions = committed.Count;
        db.Batches.Add(batch);
        await db.SaveChangesAsync(cancel);
        foreach (var decision in committed)
            decision.BatchId = batch.Id;
        PairRows.Settle(db, committed);
        if (committed.Exists(d => d.Act == DecisionAct.Unpair))
            await GiveUpChangeSetsAsync(db, couple, batch.By, cancel);
        await transaction.CommitAsync(cancel);
        return new CommitResult(batch.Id, batch.Decisions, faults);
    }

    /// <summary>
    /// Puts decisions that were made elsewhere into force as a batch, within the caller's transaction. Their records need not have been
    /// read yet.
    /// </summary>
    internal static async Task TakeAsync(NarbitContext db, PairBatch batch, IReadOnlyList<PairDecision> decisions, CancellationToken cancel)
    {
        batch.Decisions = decisions.Count;
        db.Batches.Add(batch);
        await db.SaveChangesAsync(cancel);
        foreach (var decision in decisions)
            decision.BatchId = batch.Id;
        PairRows.Insert(db, decisions);
        var links = await db.Links.AsNoTracking().Where(l => l.CoupleId == batch.CoupleId).ToListAsync(cancel);
        var asides = await db.SetAsides.AsNoTracking().Where(a => a.CoupleId == batch.CoupleId).ToListAsync(cancel);
        var book = new LinkBook(links, asides);
        foreach (var decision in decisions)
            if (book.Apply(decision) is { } fault)
                throw new InvalidOperationException($"{Said(decision)}: {fault}.");
        Write(db, links, asides, book);
        await ForgetProposalsAsync(db, batch.CoupleId, cancel);
    }

    // What is decided is proposed no more.
    private static Task<int> ForgetProposalsAsync(NarbitContext db, long coupleId, CancellationToken cancel) =>
        db
            .Proposals.Where(p =>
                p.CoupleId == coupleId
                && (
                    db.Links.Any(l => l.CoupleId == coupleId && (l.OtherKey == p.OtherKey || (!l.IsKit && l.HubKey == p.HubKey)))
                    || db.SetAsides.Any(a =>
                        a.CoupleId == coupleId
                        && ((a.HubKey != null && a.HubKey == p.HubKey) || (a.OtherKey != null && a.OtherKey == p.OtherKey))
                    )
                )
            )
            .ExecuteDeleteAsync(cancel);

    // Writes the links and set-asides of those that can be put into force, and says why the others cannot.
    private static async Task<List<CommitFault>> PutIntoForceAsync(
        NarbitContext db,
        Couple couple,
        List<PairDecision> decisions,
        CancellationToken cancel
    )
    {
        var hubKeys = await PresentAsync(db, couple, couple.HubId, cancel);
        var otherKeys = await PresentAsync(db, couple, couple.OtherId, cancel);
        var links = await db.Links.AsNoTracking().Where(l => l.CoupleId == couple.Id).ToListAsync(cancel);
        var asides = await db.SetAsides.AsNoTracking().Where(a => a.CoupleId == couple.Id).ToListAsync(cancel);
        var book = new LinkBook(links, asides);
        var faults = new List<CommitFault>();
        foreach (var decision in decisions)
        {
            if ((Vanished(decision, hubKeys, otherKeys) ?? book.Apply(decision)) is { } fault)
                faults.Add(new CommitFault(decision.Id, fault));
            else
                decision.State = DecisionState.Committed;
        }

        Write(db, links, asides, book);
        return faults;
    }

    private static async Task<List<PairDecision>> WaitingAsync(
        NarbitContext db,
        long coupleId,
        IReadOnlyCollection<long>? only,
        CancellationToken cancel
    )
    {
        var chosen = only?.ToHashSet();
        var waiting = await db
            .Decisions.AsNoTracking()
            .Where(d => d.CoupleId == coupleId && d.State == DecisionState.Waiting)
            .OrderBy(d => d.Id)
            .ToListAsync(cancel);
        return [.. waiting.Where(d => chosen?.Contains(d.Id) != false)];
    }

    /// <summary>Takes a committed batch back: its links and set-asides go, what it had unpaired comes back.</summary>
    /// <returns>How many decisions were taken back and what a later batch stands in the way of, or why there is nothing to take
    /// back.</returns>
    public async Task<Outcome<CommitResult>> UndoAsync(long batchId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var batch = await db.Batches.FirstOrDefaultAsync(b => b.Id == batchId, cancel);
        if (batch is null)
            return new Reason("batch.unknown", $"There is no batch {batchId}.");
        if (batch.UndoneAt is not null)
            return new Reason("batch.undone", $"{batch.UndoneBy} took this batch back already.");
        var decisions = await db
            .Decisions.AsNoTracking()
            .Where(d => d.BatchId == batchId && d.State == DecisionState.Committed)
            .OrderByDescending(d => d.Id)
            .ToListAsync(cancel);
        var links = await db.Links.AsNoTracking().Where(l => l.CoupleId == batch.CoupleId).ToListAsync(cancel);
        var asides = await db.SetAsides.AsNoTracking().Where(a => a.CoupleId == batch.CoupleId).ToListAsync(cancel);
        var book = new LinkBook(links, asides);
        var faults = new List<CommitFault>();
        foreach (var decision in decisions)
        {
            if (book.Revert(decision) is { } fault)
                faults.Add(new CommitFault(decision.Id, fault));
            else
                decision.State = DecisionState.Undone;
        }

        PairRows.Settle(db, decisions.Where(d => d.State == DecisionState.Undone));
        Write(db, links, asides, book);
        (batch.UndoneBy, batch.UndoneAt) = (by, clock.GetUtcNow());
        await GiveUpChangeSetsAsync(db, await db.Couples.FirstAsync(c => c.Id == batch.CoupleId, cancel), by, cancel);
        // What was taken back must not come back by itself.
        if (batch.Origin != BatchOrigin.Person)
        {
            var couple = await db.Couples.FirstAsync(c => c.Id == batch.CoupleId, cancel);
            batch.WayBefore = couple.Way;
            (couple.AcceptsCertain, couple.Way) = (false, null);
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return new CommitResult(batchId, decisions.Count - faults.Count, faults);
    }

    /// <summary>Puts a batch that was taken back into force again; what a later decision stands in the way of stays taken back.</summary>
    /// <returns>How many decisions are in force again and which are not, or why none can be.</returns>
    public async Task<Outcome<CommitResult>> RedoAsync(long batchId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var batch = await db.Batches.FirstOrDefaultAsync(b => b.Id == batchId, cancel);
        if (batch is null)
            return new Reason("batch.unknown", $"There is no batch {batchId}.");
        if (batch.UndoneAt is null)
            return new Reason("batch.inForce", "This batch is in force; there is nothing to put back.");
        var couple = await db.Couples.FirstAsync(c => c.Id == batch.CoupleId, cancel);
        var decisions = await db
            .Decisions.AsNoTracking()
            .Where(d => d.BatchId == batchId && d.State == DecisionState.Undone)
            .OrderBy(d => d.Id)
            .ToListAsync(cancel);
        var faults = await PutIntoForceAsync(db, couple, decisions, cancel);
        if (faults.Count == decisions.Count)
            return new CommitResult(batchId, 0, faults);
        PairRows.Settle(db, decisions.Where(d => d.State == DecisionState.Committed));
        (batch.UndoneBy, batch.UndoneAt) = (null, null);
        if (batch.Origin != BatchOrigin.Person)
            (couple.AcceptsCertain, couple.Way) = (true, batch.WayBefore);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return new CommitResult(batchId, decisions.Count - faults.Count, faults);
    }

    /// <summary>What runs have written by the pairs of a batch since it was put into force.</summary>
    /// <returns>The runs with the number of records that each wrote, newest first.</returns>
    public async Task<IReadOnlyList<RunByPairs>> UsedByAsync(long batchId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var batch = await db.Batches.AsNoTracking().FirstOrDefaultAsync(b => b.Id == batchId, cancel);
        if (batch is null)
            return [];
        var couple = await db.Couples.AsNoTracking().FirstAsync(c => c.Id == batch.CoupleId, cancel);
        var keys = db.Decisions.Where(d => d.BatchId == batchId && d.State == DecisionState.Committed && d.OtherKey != null);
        var written =
            from w in db.Writes
            join r in db.Runs on w.RunId equals r.Id
            join l in db.Lanes.IgnoreQueryFilters() on r.LaneId equals l.Id
            where w.State == WriteState.Confirmed && w.TakenBackIn == null && r.PlannedAt >= batch.At
            where
                (l.TargetId == couple.OtherId && l.SourceId == couple.HubId && keys.Any(d => d.OtherKey == w.TargetKey))
                || (l.SourceId == couple.OtherId && l.TargetId == couple.HubId && keys.Any(d => d.OtherKey == w.SourceKey))
            group w by r.Id into run
            orderby run.Key descending
            select new { run.Key, Count = run.Count() };
        return [.. (await written.ToListAsync(cancel)).Select(r => new RunByPairs(r.Key, r.Count))];
    }

    // A change set that waits was computed by pairs that are no more.
    private static async Task GiveUpChangeSetsAsync(NarbitContext db, Couple couple, string by, CancellationToken cancel)
    {
        var waiting = await db
            .Runs.Where(r =>
                r.State == RunState.Ready
                && r.RollsBack == null
                && db.Lanes.Any(l => l.Id == r.LaneId && (l.SourceId == couple.OtherId || l.TargetId == couple.OtherId))
            )
            .ToListAsync(cancel);
        foreach (var run in waiting)
        {
            run.State = RunState.Superseded;
            run.Why = KeptReason.Of(
                new Reason("run.pairsApart", $"{by} has taken pairs apart that this change set was computed by. Preview anew.")
            );
        }

        await db.SaveChangesAsync(cancel);
    }

    private static async Task<HashSet<string>> PresentAsync(NarbitContext db, Couple couple, string systemId, CancellationToken cancel) =>
        (
            await db
                .Records.Where(r => r.SystemId == systemId && r.Kind == couple.Kind && r.GoneAt == null)
                .Select(r => r.Key)
                .ToListAsync(cancel)
        ).ToHashSet(StringComparer.Ordinal);

    private static string? Vanished(PairDecision decision, HashSet<string> hub, HashSet<string> other)
    {
        if (decision.Act == DecisionAct.Unpair)
            return null;
        if (decision.HubKey is { } h && !hub.Contains(h))
            return $"the hub's record {h} is gone since this was decided; take the decision back";
        if (decision.OtherKey is { } o && !other.Contains(o))
            return $"the other side's record {o} is gone since this was decided; take the decision back";
        return PairJson.Items(decision.Parts).FirstOrDefault(p => !hub.Contains(p.HubKey)) is { } part
            ? $"part {part.HubKey} of the kit is gone since this was decided; take the decision back"
            : null;
    }

    private static void Write(NarbitContext db, List<PairLink> links, List<SetAside> asides, LinkBook book)
    {
        PairRows.Delete(db, links.Where(l => !book.Links.Contains(l)));
        PairRows.Delete(db, asides.Where(a => !book.SetAsides.Contains(a)));
        PairRows.Insert(db, book.Links.Where(l => l.Id == 0));
        PairRows.Insert(db, book.SetAsides.Where(a => a.Id == 0));
    }

    private PairDecision Make(Couple couple, KnownRecords known, DecisionToMake d, string by)
    {
        var proposal = known.Proposal(d);
        var evidence =
            proposal is null ? ""
            : proposal.HubKey == d.HubKey && proposal.OtherKey == d.OtherKey ? PairJson.Words(proposal.Evidence)
            : CandidateWords(proposal, d) ?? $"chosen by hand; {PairJson.Words(proposal.Evidence)}";
        var named = d.HubKey is not null ? known.Hub(d.HubKey) : known.Other(d.OtherKey!);
        return new PairDecision
        {
            CoupleId = couple.Id,
            Act = d.Act,
            HubKey = d.HubKey,
            OtherKey = d.OtherKey,
            Parts = d.Parts is null ? null : PairJson.Write(d.Parts),
            Reason = d.Reason?.Trim(),
            Evidence = evidence.Length == 0 ? "decided by hand" : evidence,
            Verdict = proposal?.Verdict.ToString().ToLowerInvariant(),
            Reference = named?.Sku,
            Caption = named?.Title,
            HubClaim = d.Act == DecisionAct.Share ? null : d.HubKey,
            OtherClaim = d.OtherKey,
            By = by,
            At = clock.GetUtcNow(),
        };
    }

    private async Task<Reason> DecidedAlreadyAsync(Couple couple, List<PairDecision> made, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        foreach (var chunk in made.Chunk(Chunk))
        {
            var (hubs, others) = (
                chunk.Select(d => d.HubClaim).OfType<string>().ToList(),
                chunk.Select(d => d.OtherClaim).OfType<string>().ToList()
            );
            var first = await db
                .Decisions.AsNoTracking()
                .Where(d =>
                    d.CoupleId == couple.Id
                    && d.State == DecisionState.Waiting
                    && ((d.HubClaim != null && hubs.Contains(d.HubClaim)) || (d.OtherClaim != null && others.Contains(d.OtherClaim)))
                )
                .FirstOrDefaultAsync(cancel);
            if (first is not null)
                return new Reason(
                    "record.decided",
                    $"{first.By} decided this record at {first.At:HH:mm} UTC already: {Said(first)}. Nothing of yours was kept; "
                        + $"take that decision back first if it is wrong."
                );
        }

        return new Reason("record.decided", "The same record is decided twice. Nothing was kept.");
    }

    /// <summary>A decision in words.</summary>
    public static string Said(PairDecision d) =>
        d.Act switch
        {
            DecisionAct.Accept => $"{d.HubKey} paired with {d.OtherKey}",
            DecisionAct.Share => $"{d.OtherKey} shares {d.HubKey}",
            DecisionAct.Kit => $"{d.OtherKey} is a kit of {PairJson.Items(d.Parts).Count}",
            DecisionAct.SetAside => $"{d.HubKey ?? d.OtherKey} set aside: {d.Reason}",
            DecisionAct.Create => $"{d.HubKey} to be created there",
            _ => $"{d.OtherKey ?? d.HubKey} unpaired",
        };

    private static string? CandidateWords(PairProposal proposal, DecisionToMake d)
    {
        var wanted = proposal.HubKey == d.HubKey ? d.OtherKey : d.HubKey;
        var candidate = PairJson.Candidates(proposal.Candidates).FirstOrDefault(c => c.Key == wanted);
        return candidate is null ? null : string.Join("; ", candidate.Evidence.Select(e => e.Words));
    }

    private static Reason Unknown(long coupleId) => new("couple.unknown", $"There is no pairing {coupleId}.");
}
