using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>The lists of the pair desk.</summary>
/// <param name="database">Where pairs are.</param>
public sealed class DeskList(Database database)
{
    /// <summary>The records of a couple.</summary>
    /// <param name="id">The couple.</param>
    /// <param name="filter">Which; <c>Show</c> also takes paired, setAside, toCreate and waiting.</param>
    /// <param name="window">Which piece of them.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Slice<DeskRow>> RowsAsync(long id, DeskFilter filter, Window window, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        switch (filter.Show)
        {
            case "paired":
                return await PairedAsync(db, id, filter.Search, window, cancel);
            case "setAside" or "toCreate":
                return await AsideAsync(db, id, filter.Show == "toCreate", filter.Search, window, cancel);
            case "waiting":
                var waiting = db.Decisions.AsNoTracking().Where(d => d.CoupleId == id && d.State == DecisionState.Waiting);
                var count = await waiting.CountAsync(cancel);
                var decided = await waiting.OrderByDescending(d => d.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
                return new Slice<DeskRow>(
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
                );
            default:
                var proposals = filter.Narrow(await DecisionDesk.OpenAsync(db, id, cancel));
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
                return new Slice<DeskRow>(
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

    /// <summary>What speaks against pairing by itself, with how many open records it concerns, most first.</summary>
    public async Task<IReadOnlyList<DeskCause>> CausesAsync(long id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var open = await DecisionDesk.OpenAsync(db, id, cancel);
        var causes = await open.Where(p => p.Causes != "")
            .GroupBy(p => p.Causes)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        return
        [
            .. causes
                .SelectMany(c => Words(c.Key).Select(word => (word, c.Count)))
                .GroupBy(c => c.word, StringComparer.Ordinal)
                .Select(g => new DeskCause(g.Key, g.Key.Split('.')[0], ReadinessWords.Of(g.Key.Split('.')[1]), g.Sum(c => c.Count)))
                .OrderByDescending(c => c.Count)
                .ThenBy(c => c.Cause, StringComparer.Ordinal),
        ];
    }
}
