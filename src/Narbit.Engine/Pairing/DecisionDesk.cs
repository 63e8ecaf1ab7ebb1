using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;
using IDbContextTransaction = Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction;

namespace Narbit.Engine.Pairing;

/// <summary>A decision that somebody wants to make.</summary>
/// <param name="Act">What to do.</param>
/// <param name="HubKey">The hub's record, where the act has one.</param>
/// <param name="OtherKey">The other side's record, where the act has one.</param>
/// <param name="Parts">For a kit: what it stands for.</param>
/// <param name="Reason">For set aside: why.</param>
public sealed record DecisionToMake(
    DecisionAct Act,
    string? HubKey = null,
    string? OtherKey = null,
    IReadOnlyList<KitItem>? Parts = null,
    string? Reason = null
);

/// <summary>A decision that could not be put into force.</summary>
/// <param name="DecisionId">The decision; it waits on.</param>
/// <param name="Message">Why not.</param>
public sealed record CommitFault(long DecisionId, string Message);

/// <summary>What a commit did.</summary>
/// <param name="BatchId">The batch, or null where nothing could be put into force.</param>
/// <param name="Committed">How many decisions are in force.</param>
/// <param name="Faults">Those that are not.</param>
public sealed record CommitResult(long? BatchId, int Committed, IReadOnlyList<CommitFault> Faults);

/// <summary>Collects decisions on pairs, puts them into force together, and takes them back. What was decided is never deleted.</summary>
/// <param name="database">Where decisions are kept.</param>
/// <param name="clock">The time.</param>
public sealed class DecisionDesk(Database database, TimeProvider clock)
{
    private const int Chunk = 400;

    /// <summary>The proposals that nobody has decided yet.</summary>
    public static IQueryable<PairProposal> Open(NarbitContext db, long coupleId)
    {
        var waiting = db.Decisions.Where(d => d.CoupleId == coupleId && d.State == DecisionState.Waiting);
        // Two questions instead of one with an or: each has an index of its own.
        return db
            .Proposals.AsNoTracking()
            .Where(p =>
                p.CoupleId == coupleId
                && !waiting.Any(d => d.HubClaim != null && d.HubClaim == p.HubKey)
                && !waiting.Any(d => d.OtherClaim != null && d.OtherClaim == p.OtherKey)
            );
    }

    /// <summary>Adds decisions to those that wait; all of them or, where one cannot be made, none.</summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="wanted">The decisions.</param>
    /// <param name="by">Who decides.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>The decisions' numbers, or why one of them cannot be made.</returns>
    public async Task<Outcome<IReadOnlyList<long>>> DecideAsync(
        long coupleId,
        IReadOnlyList<DecisionToMake> wanted,
        string by,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == coupleId, cancel);
        if (couple is null)
            return Unknown(coupleId);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var known = await Known.LoadAsync(db, couple, wanted, cancel);
        foreach (var decision in wanted)
            if (known.Check(decision) is { } fault)
                return fault;
        var made = wanted.Select(d => Make(couple, known, d, by)).ToList();
        return await KeepAsync(db, transaction, couple, made, cancel) is { } taken ? taken : made.Select(d => d.Id).ToList();
    }

    private async Task<Fault?> KeepAsync(
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
            return new Fault("decision.incomplete", "Only accepting, setting aside and creating can be done for many at once.");
        if (act == DecisionAct.SetAside && string.IsNullOrWhiteSpace(reason))
            return new Fault("decision.incomplete", "Say why the records are set aside; whoever looks later will want to know.");
        await using var db = database.CreateDbContext();
        var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == coupleId, cancel);
        if (couple is null)
            return Unknown(coupleId);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var fitting = Open(db, coupleId);
        fitting = act switch
        {
            DecisionAct.Accept => fitting.Where(p => p.HubKey != null && p.OtherKey != null),
            DecisionAct.Create => fitting.Where(p => p.HubKey != null && p.OtherKey == null),
            _ => fitting.Where(p => p.HubKey == null || p.OtherKey == null),
        };
        var proposals = await which(fitting).ToListAsync(cancel);
        if (expected is { } number && proposals.Count != number)
            return new Fault(
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
                Sku = p.Sku,
                Title = p.Title,
                By = by,
                At = now,
            })
            .ToList();
        return await KeepAsync(db, transaction, couple, made, cancel) is { } taken ? taken : made.Select(d => d.Id).ToList();
    }

    /// <summary>Takes a waiting decision back; without a number the last one.</summary>
    /// <returns>The decision, or null where none waits.</returns>
    public async Task<PairDecision?> WithdrawAsync(long coupleId, long? decisionId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var decision = await db
            .Decisions.Where(d => d.CoupleId == coupleId && d.State == DecisionState.Waiting && (decisionId == null || d.Id == decisionId))
            .OrderByDescending(d => d.Id)
            .FirstOrDefaultAsync(cancel);
        if (decision is null)
            return null;
        decision.State = DecisionState.ThrownAway;
        await db.SaveChangesAsync(cancel);
        return decision;
    }

    /// <summary>Throws every waiting decision away.</summary>
    public async Task<int> ThrowAwayAsync(long coupleId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db
            .Decisions.Where(d => d.CoupleId == coupleId && d.State == DecisionState.Waiting)
            .ExecuteUpdateAsync(s => s.SetProperty(d => d.State, DecisionState.ThrownAway), cancel);
    }

    /// <summary>
    /// Puts waiting decisions into force, all of them or the chosen ones, in one transaction. What cannot be put into force waits on.
    /// </summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="only">The chosen ones; null: all.</param>
    /// <param name="by">Who commits.</param>
    /// <param name="note">A note for later.</param>
    /// <param name="cancel">Gives up; nothing is in force then.</param>
    public async Task<Outcome<CommitResult>> CommitAsync(
        long coupleId,
        IReadOnlyCollection<long>? only,
        string by,
        string? note,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == coupleId, cancel);
        if (couple is null)
            return Unknown(coupleId);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var chosen = only?.ToHashSet();
        var waiting = (
            await db
                .Decisions.AsNoTracking()
                .Where(d => d.CoupleId == coupleId && d.State == DecisionState.Waiting)
                .OrderBy(d => d.Id)
                .ToListAsync(cancel)
        )
            .Where(d => chosen?.Contains(d.Id) != false)
            .ToList();
        if (waiting.Count == 0)
            return new Fault("pairs.nothing", "Nothing is waiting, so nothing was committed. Another window may have done it.");

        var (hubKeys, otherKeys) = (
            await PresentAsync(db, couple, couple.HubId, cancel),
            await PresentAsync(db, couple, couple.OtherId, cancel)
        );
        var links = await db.Links.AsNoTracking().Where(l => l.CoupleId == coupleId).ToListAsync(cancel);
        var asides = await db.SetAsides.AsNoTracking().Where(a => a.CoupleId == coupleId).ToListAsync(cancel);
        var book = new Book(links, asides);
        var batch = new PairBatch
        {
            CoupleId = coupleId,
            By = by,
            At = clock.GetUtcNow(),
            Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim(),
        };
        var faults = new List<CommitFault>();
        foreach (var decision in waiting)
        {
            if ((Gone(decision, hubKeys, otherKeys) ?? book.Apply(decision)) is { } fault)
            {
                faults.Add(new CommitFault(decision.Id, fault));
                continue;
            }

            decision.State = DecisionState.Committed;
            batch.Decisions++;
        }

        if (batch.Decisions == 0)
            return new CommitResult(null, 0, faults);
        db.Batches.Add(batch);
        await db.SaveChangesAsync(cancel);
        var committed = waiting.Where(d => d.State == DecisionState.Committed).ToList();
        foreach (var decision in committed)
            decision.BatchId = batch.Id;
        PairRows.Settle(db, committed);
        Write(db, links, asides, book);
        await transaction.CommitAsync(cancel);
        return new CommitResult(batch.Id, batch.Decisions, faults);
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
            return new Fault("batch.unknown", $"There is no batch {batchId}.");
        if (batch.UndoneAt is not null)
            return new Fault("batch.undone", $"{batch.UndoneBy} took this batch back already.");
        var decisions = await db
            .Decisions.AsNoTracking()
            .Where(d => d.BatchId == batchId && d.State == DecisionState.Committed)
            .OrderByDescending(d => d.Id)
            .ToListAsync(cancel);
        var links = await db.Links.AsNoTracking().Where(l => l.CoupleId == batch.CoupleId).ToListAsync(cancel);
        var asides = await db.SetAsides.AsNoTracking().Where(a => a.CoupleId == batch.CoupleId).ToListAsync(cancel);
        var book = new Book(links, asides);
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
        // What was taken back must not come back by itself.
        if (batch.By == PairingStep.Pairing || decisions.Any(d => d.Reason?.EndsWith(StockTaking.Reason, StringComparison.Ordinal) == true))
            await db
                .Couples.Where(c => c.Id == batch.CoupleId)
                .ExecuteUpdateAsync(
                    s => s.SetProperty(c => c.AcceptsCertain, false).SetProperty(c => c.Way, (StockTakingWay?)null),
                    cancel
                );
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return new CommitResult(batchId, decisions.Count - faults.Count, faults);
    }

    private static async Task<HashSet<string>> PresentAsync(NarbitContext db, Couple couple, string systemId, CancellationToken cancel) =>
        (
            await db
                .Records.Where(r => r.SystemId == systemId && r.Kind == couple.Kind && r.GoneAt == null)
                .Select(r => r.Key)
                .ToListAsync(cancel)
        ).ToHashSet(StringComparer.Ordinal);

    private static string? Gone(PairDecision decision, HashSet<string> hub, HashSet<string> other)
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

    private static void Write(NarbitContext db, List<PairLink> links, List<SetAside> asides, Book book)
    {
        PairRows.Delete(db, links.Where(l => !book.Links.Contains(l)));
        PairRows.Delete(db, asides.Where(a => !book.SetAsides.Contains(a)));
        PairRows.Insert(db, book.Links.Where(l => l.Id == 0));
        PairRows.Insert(db, book.SetAsides.Where(a => a.Id == 0));
    }

    private PairDecision Make(Couple couple, Known known, DecisionToMake d, string by)
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
            Sku = named?.Sku,
            Title = named?.Title,
            HubClaim = d.Act == DecisionAct.Share ? null : d.HubKey,
            OtherClaim = d.OtherKey,
            By = by,
            At = clock.GetUtcNow(),
        };
    }

    private async Task<Fault> DecidedAlreadyAsync(Couple couple, List<PairDecision> made, CancellationToken cancel)
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
                return new Fault(
                    "record.decided",
                    $"{first.By} decided this record at {first.At:HH:mm} UTC already: {Said(first)}. Nothing of yours was kept; "
                        + $"take that decision back first if it is wrong."
                );
        }

        return new Fault("record.decided", "The same record is decided twice. Nothing was kept.");
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

    private static Fault Unknown(long coupleId) => new("couple.unknown", $"There is no pairing {coupleId}.");

    // What the records of some decisions are, looked up for all of them at once.
    private sealed class Known
    {
        private readonly Couple _couple;
        private readonly Dictionary<(string System, string Key), Named> _records = [];
        private readonly HashSet<string> _linkedHere = new(StringComparer.Ordinal);
        private readonly HashSet<string> _linkedThere = new(StringComparer.Ordinal);
        private readonly Dictionary<string, PairProposal> _byHub = new(StringComparer.Ordinal);
        private readonly Dictionary<string, PairProposal> _byOther = new(StringComparer.Ordinal);

        private Known(Couple couple) => _couple = couple;

        public sealed record Named(string Key, string? Sku, string? Title, DateTimeOffset? GoneAt);

        public static async Task<Known> LoadAsync(
            NarbitContext db,
            Couple couple,
            IReadOnlyList<DecisionToMake> wanted,
            CancellationToken cancel
        )
        {
            var known = new Known(couple);
            var hub = wanted
                .Select(d => d.HubKey)
                .OfType<string>()
                .Concat(wanted.SelectMany(d => d.Parts ?? []).Select(p => p.HubKey))
                .Distinct(StringComparer.Ordinal);
            foreach (var keys in hub.Chunk(Chunk))
            {
                await RecordsAsync(couple.HubId, keys);
                known._linkedHere.UnionWith(
                    await db
                        .Links.Where(l => l.CoupleId == couple.Id && keys.Contains(l.HubKey) && !l.IsKit)
                        .Select(l => l.HubKey)
                        .ToListAsync(cancel)
                );
                foreach (
                    var p in await db
                        .Proposals.AsNoTracking()
                        .Where(p => p.CoupleId == couple.Id && p.HubKey != null && keys.Contains(p.HubKey))
                        .ToListAsync(cancel)
                )
                    known._byHub[p.HubKey!] = p;
            }

            foreach (var keys in wanted.Select(d => d.OtherKey).OfType<string>().Distinct(StringComparer.Ordinal).Chunk(Chunk))
            {
                await RecordsAsync(couple.OtherId, keys);
                known._linkedThere.UnionWith(
                    await db
                        .Links.Where(l => l.CoupleId == couple.Id && keys.Contains(l.OtherKey))
                        .Select(l => l.OtherKey)
                        .ToListAsync(cancel)
                );
                foreach (
                    var p in await db
                        .Proposals.AsNoTracking()
                        .Where(p => p.CoupleId == couple.Id && p.OtherKey != null && keys.Contains(p.OtherKey))
                        .ToListAsync(cancel)
                )
                    known._byOther[p.OtherKey!] = p;
            }

            return known;

            async Task RecordsAsync(string system, string[] keys)
            {
                foreach (
                    var r in await db
                        .Records.Where(r => r.SystemId == system && r.Kind == couple.Kind && keys.Contains(r.Key))
                        .Select(r => new Named(r.Key, r.Sku, r.Title, r.GoneAt))
                        .ToListAsync(cancel)
                )
                    known._records[(system, r.Key)] = r;
            }
        }

        public Named? Hub(string key) => _records.GetValueOrDefault((_couple.HubId, key));

        public Named? Other(string key) => _records.GetValueOrDefault((_couple.OtherId, key));

        public PairProposal? Proposal(DecisionToMake d) =>
            d.HubKey is not null
            && _byHub.TryGetValue(d.HubKey, out var here)
            && (here.OtherKey == d.OtherKey || d.OtherKey is null || !_byOther.ContainsKey(d.OtherKey))
                ? here
            : d.OtherKey is not null && _byOther.TryGetValue(d.OtherKey, out var there) ? there
            : null;

        /// <summary>Why a decision cannot be made, or null.</summary>
        public Fault? Check(DecisionToMake d)
        {
            var (needsHub, needsOther) = d.Act switch
            {
                DecisionAct.Accept or DecisionAct.Share => (true, true),
                DecisionAct.Kit => (false, true),
                DecisionAct.Create => (true, false),
                _ => (d.HubKey is not null, d.OtherKey is not null),
            };
            if ((needsHub && d.HubKey is null) || (needsOther && d.OtherKey is null) || (d.HubKey is null && d.OtherKey is null))
                return new Fault("decision.incomplete", "The decision names no record, or not both.");
            if (d.Act == DecisionAct.SetAside && string.IsNullOrWhiteSpace(d.Reason))
                return new Fault("decision.incomplete", "Say why the record is set aside; whoever looks later will want to know.");
            if (
                d.Act == DecisionAct.Kit
                && (
                    d.Parts is not { Count: > 0 }
                    || d.Parts.Any(p => p.Quantity <= 0)
                    || d.Parts.GroupBy(p => p.HubKey).Any(g => g.Count() > 1)
                )
            )
                return new Fault("decision.incomplete", "A kit needs at least one item, each once and with a quantity above 0.");
            if (d.Act == DecisionAct.Unpair)
                return null;

            foreach (
                var (system, key) in new[] { (_couple.HubId, d.HubKey), (_couple.OtherId, d.OtherKey) }.Concat(
                    (d.Parts ?? []).Select(p => (_couple.HubId, (string?)p.HubKey))
                )
            )
            {
                if (key is null)
                    continue;
                if (!_records.TryGetValue((system, key), out var record))
                    return new Fault("record.unknown", $"The mirror has no record {key} of {system}.");
                if (record.GoneAt is { } gone)
                    return new Fault(
                        "record.gone",
                        $"Record {key} is gone from {system} since {gone:yyyy-MM-dd HH:mm} UTC, so it cannot be paired. Read "
                            + $"{system} again to be sure."
                    );
            }

            if (d.OtherKey is not null && _linkedThere.Contains(d.OtherKey))
                return new Fault("record.paired", $"Record {d.OtherKey} is paired already. Unpair it first.");
            return d.Act is DecisionAct.Accept or DecisionAct.Create && _linkedHere.Contains(d.HubKey!)
                ? new Fault("record.paired", $"Record {d.HubKey} has a listing already. Share it, or unpair that listing first.")
                : null;
        }
    }

    // The links and set-asides while a batch is put into force or taken back.
    private sealed class Book
    {
        private readonly Dictionary<string, List<PairLink>> _byHub;
        private readonly Dictionary<string, List<PairLink>> _byOther;
        private readonly Dictionary<string, SetAside> _hubAside = new(StringComparer.Ordinal);
        private readonly Dictionary<string, SetAside> _otherAside = new(StringComparer.Ordinal);
        private readonly ILookup<long, PairLink> _linksOf;
        private readonly ILookup<long, SetAside> _asidesOf;

        public Book(IEnumerable<PairLink> links, IEnumerable<SetAside> asides)
        {
            (Links, SetAsides) = ([.. links], [.. asides]);
            _byHub = Links.GroupBy(l => l.HubKey, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
            _byOther = Links
                .GroupBy(l => l.OtherKey, StringComparer.Ordinal)
                .ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
            foreach (var aside in SetAsides)
                Note(aside);
            _linksOf = Links.ToLookup(l => l.DecisionId);
            _asidesOf = SetAsides.ToLookup(a => a.DecisionId);
        }

        public HashSet<PairLink> Links { get; }

        public HashSet<SetAside> SetAsides { get; }

        public string? Apply(PairDecision d)
        {
            switch (d.Act)
            {
                case DecisionAct.Accept or DecisionAct.Share:
                    if (OfOther(d.OtherKey!).Count > 0)
                        return $"{d.OtherKey} was paired with {OfOther(d.OtherKey!)[0].HubKey} meanwhile";
                    if (d.Act == DecisionAct.Accept && OfHub(d.HubKey!).Find(l => !l.IsKit) is { } taken)
                        return $"{d.HubKey} was paired with {taken.OtherKey} meanwhile";
                    Release(d);
                    Add(
                        new PairLink
                        {
                            CoupleId = d.CoupleId,
                            HubKey = d.HubKey!,
                            OtherKey = d.OtherKey!,
                            DecisionId = d.Id,
                        }
                    );
                    return null;
                case DecisionAct.Kit:
                    if (OfOther(d.OtherKey!).Count > 0)
                        return $"{d.OtherKey} was paired with {OfOther(d.OtherKey!)[0].HubKey} meanwhile";
                    Release(d);
                    foreach (var part in PairJson.Items(d.Parts))
                        Add(
                            new PairLink
                            {
                                CoupleId = d.CoupleId,
                                HubKey = part.HubKey,
                                OtherKey = d.OtherKey!,
                                Quantity = part.Quantity,
                                IsKit = true,
                                DecisionId = d.Id,
                            }
                        );
                    return null;
                case DecisionAct.SetAside or DecisionAct.Create:
                    if (d.OtherKey is { } other && OfOther(other).Count > 0)
                        return $"{other} was paired meanwhile";
                    if (d.HubKey is { } hub && OfHub(hub).Exists(l => !l.IsKit))
                        return $"{hub} was paired meanwhile";
                    Release(d);
                    Add(
                        new SetAside
                        {
                            CoupleId = d.CoupleId,
                            HubKey = d.HubKey,
                            OtherKey = d.OtherKey,
                            Reason = d.Reason ?? "to be created there",
                            ToCreate = d.Act == DecisionAct.Create,
                            DecisionId = d.Id,
                        }
                    );
                    return null;
                default:
                    var links = d.OtherKey is { } o ? [.. OfOther(o)] : OfHub(d.HubKey!).Where(l => !l.IsKit).ToList();
                    var asides = Asides(d);
                    if (links.Count + asides.Count == 0)
                        return "it is not paired any more";
                    d.Before = PairJson.Write(
                        new WasBefore(
                            [.. links.Select(l => new WasLinked(l.HubKey, l.OtherKey, l.Quantity, l.IsKit, l.DecisionId))],
                            [.. asides.Select(a => new WasAside(a.HubKey, a.OtherKey, a.Reason, a.ToCreate, a.DecisionId))]
                        )
                    );
                    foreach (var link in links)
                        Remove(link);
                    foreach (var aside in asides)
                        Remove(aside);
                    return null;
            }
        }

        public string? Revert(PairDecision d)
        {
            if (d.Act != DecisionAct.Unpair)
            {
                var links = _linksOf[d.Id].Where(Links.Contains).ToList();
                var asides = _asidesOf[d.Id].Where(SetAsides.Contains).ToList();
                if (links.Count + asides.Count == 0)
                    return $"{Said(d)}: was taken back or changed by a later decision";
                foreach (var link in links)
                    Remove(link);
                foreach (var aside in asides)
                    Remove(aside);
                return null;
            }

            var before = JsonSerializer.Deserialize<WasBefore>(d.Before ?? "{\"links\":[],\"asides\":[]}", RuleJson.Options)!;
            foreach (var link in before.Links)
                if (OfOther(link.OtherKey).Exists(l => !l.IsKit || !link.IsKit))
                    return $"{link.OtherKey} was paired with {OfOther(link.OtherKey)[0].HubKey} meanwhile";
            foreach (var link in before.Links)
                Add(
                    new PairLink
                    {
                        CoupleId = d.CoupleId,
                        HubKey = link.HubKey,
                        OtherKey = link.OtherKey,
                        Quantity = link.Quantity,
                        IsKit = link.IsKit,
                        DecisionId = link.DecisionId,
                    }
                );
            foreach (var aside in before.Asides)
                Add(
                    new SetAside
                    {
                        CoupleId = d.CoupleId,
                        HubKey = aside.HubKey,
                        OtherKey = aside.OtherKey,
                        Reason = aside.Reason,
                        ToCreate = aside.ToCreate,
                        DecisionId = aside.DecisionId,
                    }
                );
            return null;
        }

        private List<PairLink> OfHub(string key) => _byHub.GetValueOrDefault(key) ?? [];

        private List<PairLink> OfOther(string key) => _byOther.GetValueOrDefault(key) ?? [];

        // What was set aside and is paired after all is set aside no longer.
        private void Release(PairDecision d)
        {
            foreach (var aside in Asides(d))
                Remove(aside);
        }

        private List<SetAside> Asides(PairDecision d)
        {
            var found = new List<SetAside>(2);
            if (d.HubKey is { } hub && _hubAside.TryGetValue(hub, out var here))
                found.Add(here);
            if (d.OtherKey is { } other && _otherAside.TryGetValue(other, out var there) && !found.Contains(there))
                found.Add(there);
            return found;
        }

        private void Note(SetAside aside)
        {
            if (aside.HubKey is { } hub)
                _hubAside[hub] = aside;
            if (aside.OtherKey is { } other)
                _otherAside[other] = aside;
        }

        private void Add(SetAside aside)
        {
            SetAsides.Add(aside);
            Note(aside);
        }

        private void Remove(SetAside aside)
        {
            SetAsides.Remove(aside);
            if (aside.HubKey is { } hub)
                _hubAside.Remove(hub);
            if (aside.OtherKey is { } other)
                _otherAside.Remove(other);
        }

        private void Add(PairLink link)
        {
            Links.Add(link);
            (_byHub.TryGetValue(link.HubKey, out var hub) ? hub : _byHub[link.HubKey] = []).Add(link);
            (_byOther.TryGetValue(link.OtherKey, out var other) ? other : _byOther[link.OtherKey] = []).Add(link);
        }

        private void Remove(PairLink link)
        {
            Links.Remove(link);
            OfHub(link.HubKey).Remove(link);
            OfOther(link.OtherKey).Remove(link);
        }
    }

    private sealed record WasLinked(string HubKey, string OtherKey, decimal Quantity, bool IsKit, long DecisionId);

    private sealed record WasAside(string? HubKey, string? OtherKey, string Reason, bool ToCreate, long DecisionId);

    private sealed record WasBefore(IReadOnlyList<WasLinked> Links, IReadOnlyList<WasAside> Asides);
}
