using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Comparing;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;
using Narbit.Engine;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;
using Narbit.Web.Api;

namespace Narbit.Web.Pairing;

/// <summary>A line of the desk's list: an open record with what pairing makes of it, a pair in force, or a record set aside.</summary>
public sealed record DeskRow
{
    public required string Id { get; init; }

    public required string Standing { get; init; }

    public required string? HubKey { get; init; }

    public required string? OtherKey { get; init; }

    public required Verdict? Verdict { get; init; }

    public required double Confidence { get; init; }

    public required string? Reference { get; init; }

    public required string? Caption { get; init; }

    public required IReadOnlyList<string> Causes { get; init; }

    public required string? Note { get; init; }

    public required long? DecisionId { get; init; }
}

public sealed record DeskCause(string Cause, string Side, string Words, int Count);

public sealed record CandidateView(
    string Key,
    string? Reference,
    string? Caption,
    string? Option,
    double Confidence,
    bool Taken,
    IReadOnlyList<Evidence> Evidence
);

public sealed record SideRecordView(string Key, string? Reference, string? Caption, bool Gone, IReadOnlyList<FieldProblem> Problems);

public sealed record DeskSeam(
    SideRecordView? Hub,
    SideRecordView? Other,
    IReadOnlyList<SeamRow> Rows,
    IReadOnlyList<Evidence> Evidence,
    IReadOnlyList<CandidateView> Candidates,
    IReadOnlyList<KitItem> Kit
);

public sealed record FoundRecord(string Key, string? Reference, string? Caption, string? Option, string State, string? With);

public sealed record DecisionView
{
    public required long Id { get; init; }

    public required DecisionAct Act { get; init; }

    public required DecisionState State { get; init; }

    public required string Words { get; init; }

    public required string? HubKey { get; init; }

    public required string? OtherKey { get; init; }

    public required string? Reference { get; init; }

    public required string? Caption { get; init; }

    public required string? Reason { get; init; }

    public required string Evidence { get; init; }

    public required string? Verdict { get; init; }

    public required string By { get; init; }

    public required DateTimeOffset At { get; init; }

    public required IReadOnlyList<KitItem> Parts { get; init; }
}

public sealed record DecisionsToMake(IReadOnlyList<DecisionToMake> Decisions);

public sealed record Decided(IReadOnlyList<long> Ids);

/// <summary>One act for every open record of a filter; the number is what the person was told.</summary>
public sealed record DecideAll(DecisionAct Act, string? Reason, string? Show, string? Cause, string? Side, string? Search, int Expected);

public sealed record Accepted(int Decisions);

public sealed record Withdrawn(DecisionView? Decision);

public sealed record CommitRequest(IReadOnlyList<long>? Only, string? Note);

public sealed record BatchView(
    long Id,
    string By,
    DateTimeOffset At,
    string? Note,
    int Decisions,
    string? UndoneBy,
    DateTimeOffset? UndoneAt
);

/// <summary>Decisions that were thrown away together, and can be brought back together.</summary>
/// <param name="At">When.</param>
/// <param name="By">Who threw them away.</param>
/// <param name="Count">How many.</param>
/// <param name="Last">The last of them, in words.</param>
public sealed record ThrownAway(DateTimeOffset At, string By, int Count, string Last);

/// <param name="ThrownAt">When what is to be brought back was thrown away.</param>
public sealed record BringBack(DateTimeOffset ThrownAt);

/// <summary>The pair desk: what is open, the seam with its evidence, candidates, decisions and their batches.</summary>
public static class DeskApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var desk = api.MapGroup("/couples/{id:long}").WithTags("Pairing");
        desk.MapGet("/rows", RowsAsync).WithName("deskRows");
        desk.MapGet("/causes", CausesAsync).WithName("deskCauses");
        desk.MapGet("/seam", SeamAsync).WithName("deskSeam");
        desk.MapGet("/search", SearchAsync).WithName("deskSearch");
        desk.MapGet("/decisions", DecisionsAsync).WithName("listDecisions");
        desk.MapPost("/decisions", DecideAsync).WithName("decide");
        desk.MapPost("/decisions/all", DecideAllAsync).WithName("decideAll");
        desk.MapPost("/decisions/withdraw", WithdrawAsync).WithName("withdrawDecision");
        desk.MapDelete("/decisions", ThrowAwayAsync).WithName("throwDecisionsAway");
        desk.MapPost("/commit", CommitAsync).WithName("commitDecisions");
        desk.MapGet("/batches", BatchesAsync).WithName("listBatches");
        desk.MapPost("/batches/{batchId:long}/undo", UndoAsync).WithName("undoBatch");
        desk.MapPost("/batches/{batchId:long}/redo", RedoAsync).WithName("redoBatch");
        desk.MapGet("/batches/{batchId:long}/used", UsedAsync).WithName("batchUsedBy");
        desk.MapGet("/thrown", ThrownAsync).WithName("listThrown");
        desk.MapPost("/thrown/back", BringBackAsync).WithName("bringBack");
    }

    private static async Task<Results<Ok<Slice<DeskRow>>, ProblemHttpResult>> RowsAsync(
        long id,
        string? show,
        string? cause,
        string? side,
        string? search,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        switch (show)
        {
            case "paired":
                return TypedResults.Ok(await PairedAsync(db, id, search, window, cancel));
            case "setAside" or "toCreate":
                return TypedResults.Ok(await AsideAsync(db, id, show == "toCreate", search, window, cancel));
            case "waiting":
                var waiting = db.Decisions.AsNoTracking().Where(d => d.CoupleId == id && d.State == DecisionState.Waiting);
                var count = await waiting.CountAsync(cancel);
                var decided = await waiting.OrderByDescending(d => d.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
                return TypedResults.Ok(
                    new Slice<DeskRow>(
                        count,
                        window.From,
                        [
                            .. decided.Select(d => new DeskRow
                            {
                                Id = $"d{d.Id}",
                                Standing = "waiting",
                                HubKey = d.HubKey,
                                OtherKey = d.OtherKey,
                                Verdict = null,
                                Confidence = 0,
                                Reference = d.Reference,
                                Caption = d.Caption,
                                Causes = [],
                                Note = DecisionDesk.Said(d),
                                DecisionId = d.Id,
                            }),
                        ]
                    )
                );
            default:
                var proposals = new DeskFilter(show, cause, side, search).Narrow(await DecisionDesk.OpenAsync(db, id, cancel));
                var total = await proposals.CountAsync(cancel);
                var rows = await proposals
                    .OrderByDescending(p => p.Verdict == Verdict.Likely)
                    .ThenByDescending(p => p.Verdict == Verdict.Ambiguous)
                    .ThenByDescending(p => p.Verdict == Verdict.Certain)
                    .ThenBy(p => p.HubKey == null)
                    .ThenByDescending(p => p.Verdict == Verdict.Ambiguous ? p.Confidence : 0)
                    .ThenBy(p => p.Reference)
                    .ThenBy(p => p.Id)
                    .Skip(window.From)
                    .Take(window.Size)
                    .ToListAsync(cancel);
                return TypedResults.Ok(
                    new Slice<DeskRow>(
                        total,
                        window.From,
                        [
                            .. rows.Select(p => new DeskRow
                            {
                                Id = $"p{p.HubKey}|{p.OtherKey}",
                                Standing = "open",
                                HubKey = p.HubKey,
                                OtherKey = p.OtherKey,
                                Verdict = p.Verdict,
                                Confidence = p.Confidence,
                                Reference = p.Reference,
                                Caption = p.Caption,
                                Causes = Words(p.Causes),
                                Note = null,
                                DecisionId = null,
                            }),
                        ]
                    )
                );
        }
    }

    private static string[] Words(string causes) => causes.Split(' ', StringSplitOptions.RemoveEmptyEntries);

    private static async Task<Slice<DeskRow>> PairedAsync(
        NarbitContext db,
        long id,
        string? search,
        Window window,
        CancellationToken cancel
    )
    {
        var couple = await db.Couples.AsNoTracking().FirstAsync(c => c.Id == id, cancel);
        var links =
            from link in db.Links.AsNoTracking()
            // A kit is one listing, however many items it stands for.
            where link.CoupleId == id && !db.Links.Any(l => l.CoupleId == id && l.OtherKey == link.OtherKey && l.Id < link.Id)
            join record in db.Records
                on new
                {
                    SystemId = couple.OtherId,
                    couple.Kind,
                    Key = link.OtherKey,
                } equals new
                {
                    record.SystemId,
                    record.Kind,
                    record.Key,
                }
            join decision in db.Decisions on link.DecisionId equals decision.Id
            select new
            {
                link,
                record.Reference,
                record.Caption,
                Gone = record.GoneAt != null,
                decision.By,
                decision.At,
            };
        if (!string.IsNullOrWhiteSpace(search))
        {
            var like = Window.Like(search);
            links = links.Where(l =>
                EF.Functions.Like(l.Reference!, like, "\\")
                || EF.Functions.Like(l.Caption!, like, "\\")
                || EF.Functions.Like(l.link.HubKey, like, "\\")
                || EF.Functions.Like(l.link.OtherKey, like, "\\")
            );
        }

        var total = await links.CountAsync(cancel);
        var rows = await links.OrderBy(l => l.Reference).ThenBy(l => l.link.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        var kits = rows.Where(r => r.link.IsKit).Select(r => r.link.OtherKey).ToList();
        var parts = (
            await db.Links.AsNoTracking().Where(l => l.CoupleId == id && kits.Contains(l.OtherKey)).OrderBy(l => l.Id).ToListAsync(cancel)
        ).ToLookup(l => l.OtherKey, l => $"{PairSide.Plain(l.Quantity)} × {l.HubKey}", StringComparer.Ordinal);
        return new Slice<DeskRow>(
            total,
            window.From,
            [
                .. rows.Select(l => new DeskRow
                {
                    Id = $"l{l.link.Id}",
                    Standing = l.link.IsKit ? "kit" : "paired",
                    HubKey = l.link.HubKey,
                    OtherKey = l.link.OtherKey,
                    Verdict = null,
                    Confidence = 1,
                    Reference = l.Reference,
                    Caption = l.Caption,
                    Causes = l.Gone ? ["gone"] : [],
                    Note =
                        l.Gone ? "the listing is gone; unpair it, or set the item aside"
                        : l.link.IsKit ? string.Join(" + ", parts[l.link.OtherKey])
                        : $"{l.By}, {l.At:yyyy-MM-dd}",
                    DecisionId = l.link.DecisionId,
                }),
            ]
        );
    }

    private static async Task<Slice<DeskRow>> AsideAsync(
        NarbitContext db,
        long id,
        bool toCreate,
        string? search,
        Window window,
        CancellationToken cancel
    )
    {
        var asides =
            from aside in db.SetAsides.AsNoTracking()
            where aside.CoupleId == id && aside.ToCreate == toCreate
            join decision in db.Decisions on aside.DecisionId equals decision.Id
            select new
            {
                aside,
                decision.Reference,
                decision.Caption,
                decision.By,
            };
        if (!string.IsNullOrWhiteSpace(search))
        {
            var like = Window.Like(search);
            asides = asides.Where(a =>
                EF.Functions.Like(a.Reference!, like, "\\")
                || EF.Functions.Like(a.Caption!, like, "\\")
                || EF.Functions.Like(a.aside.Reason, like, "\\")
            );
        }

        var total = await asides.CountAsync(cancel);
        var rows = await asides.OrderBy(a => a.Reference).ThenBy(a => a.aside.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return new Slice<DeskRow>(
            total,
            window.From,
            [
                .. rows.Select(a => new DeskRow
                {
                    Id = $"s{a.aside.Id}",
                    Standing = toCreate ? "toCreate" : "setAside",
                    HubKey = a.aside.HubKey,
                    OtherKey = a.aside.OtherKey,
                    Verdict = null,
                    Confidence = 0,
                    Reference = a.Reference,
                    Caption = a.Caption,
                    Causes = [],
                    Note = a.aside.Reason,
                    DecisionId = a.aside.DecisionId,
                }),
            ]
        );
    }

    private static async Task<Ok<IReadOnlyList<DeskCause>>> CausesAsync(long id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var open = await DecisionDesk.OpenAsync(db, id, cancel);
        var causes = await open.Where(p => p.Causes != "")
            .GroupBy(p => p.Causes)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        return TypedResults.Ok<IReadOnlyList<DeskCause>>([
            .. causes
                .SelectMany(c => Words(c.Key).Select(word => (word, c.Count)))
                .GroupBy(c => c.word, StringComparer.Ordinal)
                .Select(g => new DeskCause(g.Key, g.Key.Split('.')[0], ReadinessWords.Of(g.Key.Split('.')[1]), g.Sum(c => c.Count)))
                .OrderByDescending(c => c.Count)
                .ThenBy(c => c.Cause, StringComparer.Ordinal),
        ]);
    }

    private static async Task<Results<Ok<DeskSeam>, ProblemHttpResult>> SeamAsync(
        long id,
        string? hub,
        string? other,
        PairDesk desk,
        Database database,
        CancellationToken cancel
    )
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var (couple, hubSystem, otherSystem) = opened.Value;
        await using var db = database.CreateDbContext();
        var (mine, theirs) = (await FindAsync(couple.HubId, hub), await FindAsync(couple.OtherId, other));
        FieldSet Fields(Engine.Systems.Connection connection) => connection.Adapter.Kinds.First(k => k.Kind == couple.Kind).Fields;
        var rows = Seam.Whole(Fields(hubSystem), Values(mine), Fields(otherSystem), Values(theirs));
        var proposal = hub is not null
            ? await db.Proposals.AsNoTracking().FirstOrDefaultAsync(p => p.CoupleId == id && p.HubKey == hub, cancel)
            : await db
                .Proposals.AsNoTracking()
                .FirstOrDefaultAsync(p => p.CoupleId == id && p.HubKey == null && p.OtherKey == other, cancel);
        var link = other is null
            ? null
            : await db.Links.AsNoTracking().Where(l => l.CoupleId == id && l.OtherKey == other).ToListAsync(cancel);
        var candidates = proposal is null ? [] : PairJson.Candidates(proposal.Candidates).ToList();
        // The proposed partner is the first candidate, with its own evidence.
        if (proposal is { HubKey: not null, OtherKey: not null })
            candidates.Insert(0, new KeptCandidate(proposal.OtherKey, proposal.Confidence, false, PairJson.Evidence(proposal.Evidence)));
        var across = proposal?.HubKey is not null ? other : hub;
        var evidence = candidates.Find(c => c.Key == across)?.Evidence ?? (proposal is null ? [] : PairJson.Evidence(proposal.Evidence));
        if (link is { Count: > 0 })
        {
            var decisionId = link[0].DecisionId;
            var decision = await db.Decisions.AsNoTracking().FirstAsync(d => d.Id == decisionId, cancel);
            evidence =
            [
                new Evidence(EvidenceKind.Earlier, EvidenceEffect.For, $"{decision.By} decided this on {decision.At:yyyy-MM-dd HH:mm} UTC"),
                new Evidence(EvidenceKind.Earlier, EvidenceEffect.Neutral, decision.Evidence),
            ];
        }

        var candidateSystem = proposal?.HubKey is not null ? couple.OtherId : couple.HubId;
        var keys = candidates.Select(c => c.Key).ToList();
        var named = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == candidateSystem && r.Kind == couple.Kind && keys.Contains(r.Key))
            .ToDictionaryAsync(r => r.Key, cancel);
        var candidateFields = Fields(candidateSystem == couple.HubId ? hubSystem : otherSystem);
        return TypedResults.Ok(
            new DeskSeam(
                View(mine),
                View(theirs),
                rows,
                evidence,
                [
                    .. candidates.Select(c => new CandidateView(
                        c.Key,
                        named.GetValueOrDefault(c.Key)?.Reference,
                        named.GetValueOrDefault(c.Key)?.Caption,
                        candidateFields.Text(Values(named.GetValueOrDefault(c.Key)), FieldRole.Option),
                        c.Confidence,
                        c.Taken,
                        c.Evidence
                    )),
                ],
                link is [{ IsKit: true }, ..] ? [.. link.Select(l => new KitItem(l.HubKey, l.Quantity))] : []
            )
        );

        async Task<MirrorRecord?> FindAsync(string systemId, string? key) =>
            key is null
                ? null
                : await db
                    .Records.AsNoTracking()
                    .FirstOrDefaultAsync(r => r.SystemId == systemId && r.Kind == couple.Kind && r.Key == key, cancel);
        static IReadOnlyDictionary<string, string> Values(MirrorRecord? record) =>
            record is null ? new Dictionary<string, string>() : StoredRecord.Values(record.Values);
        static SideRecordView? View(MirrorRecord? r) =>
            r is null ? null : new SideRecordView(r.Key, r.Reference, r.Caption, r.GoneAt is not null, StoredRecord.Problems(r.Problems));
    }

    private static async Task<Results<Ok<Slice<FoundRecord>>, ProblemHttpResult>> SearchAsync(
        long id,
        string side,
        string? text,
        int? offset,
        int? limit,
        PairDesk desk,
        Database database,
        CancellationToken cancel
    )
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var couple = opened.Value.Couple;
        var onHub = side == "hub";
        var fields = (onHub ? opened.Value.Hub : opened.Value.Other).Adapter.Kinds.First(k => k.Kind == couple.Kind).Fields;
        var systemId = onHub ? couple.HubId : couple.OtherId;
        var window = new Window(offset, limit ?? 30);
        await using var db = database.CreateDbContext();
        var records = db.Records.AsNoTracking().Where(r => r.SystemId == systemId && r.Kind == couple.Kind && r.GoneAt == null);
        // Every word must be somewhere.
        foreach (var word in (text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Take(6))
        {
            var like = Window.Like(word);
            records = records.Where(r =>
                EF.Functions.Like(r.Reference!, like, "\\")
                || EF.Functions.Like(r.Caption!, like, "\\")
                || EF.Functions.Like(r.Key, like, "\\")
                || EF.Functions.Like(r.Values, like, "\\")
            );
        }

        var total = await records.CountAsync(cancel);
        // Who types a whole key or SKU means that record, even where others mention it.
        var whole = (text ?? "").Trim();
        var found = await records
            .OrderBy(r => r.Key == whole || r.Reference == whole ? 0 : 1)
            .ThenBy(r => r.Caption)
            .ThenBy(r => r.Id)
            .Skip(window.From)
            .Take(window.Size)
            .ToListAsync(cancel);
        var keys = found.Select(r => r.Key).ToList();
        var links = await db
            .Links.AsNoTracking()
            .Where(l => l.CoupleId == id && (onHub ? keys.Contains(l.HubKey) : keys.Contains(l.OtherKey)))
            .ToListAsync(cancel);
        var asides = await db
            .SetAsides.AsNoTracking()
            .Where(a =>
                a.CoupleId == id && (onHub ? a.HubKey != null && keys.Contains(a.HubKey) : a.OtherKey != null && keys.Contains(a.OtherKey))
            )
            .ToListAsync(cancel);
        return TypedResults.Ok(
            new Slice<FoundRecord>(
                total,
                window.From,
                [
                    .. found.Select(r =>
                    {
                        var link = links.Find(l => (onHub ? l.HubKey : l.OtherKey) == r.Key);
                        var state = link is not null
                            ? link.IsKit
                                ? "kit"
                                : "paired"
                            : asides.Exists(a => (onHub ? a.HubKey : a.OtherKey) == r.Key)
                                ? "setAside"
                                : "free";
                        return new FoundRecord(
                            r.Key,
                            r.Reference,
                            r.Caption,
                            fields.Text(StoredRecord.Values(r.Values), FieldRole.Option),
                            state,
                            link is null ? null
                                : onHub ? link.OtherKey
                                : link.HubKey
                        );
                    }),
                ]
            )
        );
    }

    private static async Task<Ok<IReadOnlyList<DecisionView>>> DecisionsAsync(
        long id,
        long? batch,
        string? key,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var decisions = db.Decisions.AsNoTracking().Where(d => d.CoupleId == id);
        decisions =
            batch is not null ? decisions.Where(d => d.BatchId == batch)
            : key is not null ? decisions.Where(d => d.HubKey == key || d.OtherKey == key)
            : decisions.Where(d => d.State == DecisionState.Waiting);
        return TypedResults.Ok<IReadOnlyList<DecisionView>>([
            .. (await decisions.OrderByDescending(d => d.Id).Take(1000).ToListAsync(cancel)).Select(View),
        ]);
    }

    private static DecisionView View(PairDecision d) =>
        new()
        {
            Id = d.Id,
            Act = d.Act,
            State = d.State,
            Words = DecisionDesk.Said(d),
            HubKey = d.HubKey,
            OtherKey = d.OtherKey,
            Reference = d.Reference,
            Caption = d.Caption,
            Reason = d.Reason,
            Evidence = d.Evidence,
            Verdict = d.Verdict,
            By = d.By,
            At = d.At,
            Parts = PairJson.Items(d.Parts),
        };

    private static async Task<Results<Ok<Decided>, ProblemHttpResult>> DecideAsync(
        long id,
        DecisionsToMake request,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (request.Decisions.Count is 0 or > 500)
            return Problems.Of(new Core.Reason("decision.incomplete", "Give 1 to 500 decisions at a time."));
        var made = await desk.DecideAsync(id, request.Decisions, await People.AtWorkAsync(database, cancel), cancel);
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new Decided(made.Value));
    }

    private static async Task<Results<Ok<Accepted>, ProblemHttpResult>> DecideAllAsync(
        long id,
        DecideAll request,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var filter = new DeskFilter(request.Show, request.Cause, request.Side, request.Search);
        var accepted = await desk.DecideAllAsync(
            id,
            request.Act,
            request.Reason,
            filter.Narrow,
            request.Expected,
            await People.AtWorkAsync(database, cancel),
            cancel
        );
        if (accepted.Fault is { } fault)
            return Problems.Of(fault);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new Accepted(accepted.Value.Count));
    }

    private static async Task<Ok<Withdrawn>> WithdrawAsync(
        long id,
        long? decision,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var withdrawn = await desk.WithdrawAsync(id, decision, await People.AtWorkAsync(database, cancel), cancel);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new Withdrawn(withdrawn is null ? null : View(withdrawn)));
    }

    private static async Task<Ok<ThrownAway>> ThrowAwayAsync(
        long id,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        var (count, at) = await desk.ThrowAwayAsync(id, by, cancel);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new ThrownAway(at, by, count, ""));
    }

    private static async Task<Ok<IReadOnlyList<ThrownAway>>> ThrownAsync(long id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var thrown = db.Decisions.AsNoTracking().Where(d => d.CoupleId == id && d.State == DecisionState.ThrownAway && d.ThrownAt != null);
        var together = await thrown
            .GroupBy(d => d.ThrownAt)
            .Select(g => new
            {
                At = g.Key!.Value,
                Count = g.Count(),
                Last = g.Max(d => d.Id),
            })
            .OrderByDescending(g => g.At)
            .Take(20)
            .ToListAsync(cancel);
        var ids = together.Select(g => g.Last).ToList();
        var last = await db.Decisions.AsNoTracking().Where(d => ids.Contains(d.Id)).ToDictionaryAsync(d => d.Id, cancel);
        return TypedResults.Ok<IReadOnlyList<ThrownAway>>([
            .. together.Select(g => new ThrownAway(g.At, last[g.Last].ThrownBy ?? "", g.Count, DecisionDesk.Said(last[g.Last]))),
        ]);
    }

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> BringBackAsync(
        long id,
        BringBack request,
        DecisionDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var back = await desk.BringBackAsync(id, request.ThrownAt, cancel);
        if (back.Fault is { } fault)
            return Problems.Of(fault);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(back.Value);
    }

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> CommitAsync(
        long id,
        CommitRequest request,
        DecisionDesk decisions,
        PairDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var result = await decisions.CommitAsync(id, request.Only, await People.AtWorkAsync(database, cancel), request.Note, cancel);
        if (result.Fault is { } fault)
            return Problems.Of(fault);
        // What is committed stays so, even where pairing the rest anew cannot be done now.
        await desk.PairAsync(id, read: false, CancellationToken.None);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(result.Value);
    }

    private static async Task<Ok<IReadOnlyList<BatchView>>> BatchesAsync(long id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return TypedResults.Ok<IReadOnlyList<BatchView>>([
            .. (
                await db.Batches.AsNoTracking().Where(b => b.CoupleId == id).OrderByDescending(b => b.Id).Take(200).ToListAsync(cancel)
            ).Select(b => new BatchView(b.Id, b.By, b.At, b.Note, b.Decisions, b.UndoneBy, b.UndoneAt)),
        ]);
    }

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> UndoAsync(
        long id,
        long batchId,
        DecisionDesk decisions,
        PairDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var result = await decisions.UndoAsync(batchId, await People.AtWorkAsync(database, cancel), cancel);
        if (result.Fault is { } fault)
            return Problems.Of(fault);
        await desk.PairAsync(id, read: false, CancellationToken.None);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(result.Value);
    }

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> RedoAsync(
        long id,
        long batchId,
        DecisionDesk decisions,
        PairDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var result = await decisions.RedoAsync(batchId, cancel);
        if (result.Fault is { } fault)
            return Problems.Of(fault);
        await desk.PairAsync(id, read: false, CancellationToken.None);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(result.Value);
    }

    private static async Task<Ok<IReadOnlyList<RunByPairs>>> UsedAsync(long batchId, DecisionDesk decisions, CancellationToken cancel) =>
        TypedResults.Ok(await decisions.UsedByAsync(batchId, cancel));
}
