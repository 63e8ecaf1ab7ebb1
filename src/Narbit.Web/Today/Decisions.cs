using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Orders;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Web.Api;
using Narbit.Web.Items;
using Narbit.Web.Lanes;
using Narbit.Web.Runs;

namespace Narbit.Web.Today;

/// <summary>What a cause does while nobody decides it; the first harms most.</summary>
public enum Harm
{
    /// <summary>Buyers can order what is not there.</summary>
    Oversold,

    /// <summary>Nothing flows until somebody decides.</summary>
    Stopped,

    /// <summary>Something was sent and did not get there.</summary>
    Failed,

    /// <summary>A value looks wrong, or both sides changed it.</summary>
    Doubtful,

    /// <summary>A record cannot be kept in step.</summary>
    NotComputed,

    /// <summary>Both sides differ, and a person knows it.</summary>
    Waiting,

    /// <summary>A record has no partner.</summary>
    Unpaired,
}

/// <summary>Something a person has to decide: one cause, how many records, since when, and where to do it.</summary>
public sealed record Decision
{
    /// <summary>What it is, in a word or two.</summary>
    public required string Cause { get; init; }

    /// <summary>The colour that it is shown in.</summary>
    public required string Tone { get; init; }

    public required string Text { get; init; }

    public required SystemTag System { get; init; }

    /// <summary>How many there are; the list that <see cref="Link"/> leads to shows as many.</summary>
    public required int Count { get; init; }

    /// <summary>Since when it is so; null: that is not known.</summary>
    public DateTimeOffset? Since { get; init; }

    /// <summary>What can be done about it, in a word.</summary>
    public required string Action { get; init; }

    public required string Link { get; init; }

    /// <summary>By what the list is ordered.</summary>
    internal Harm Harm { get; init; }
}

/// <summary>Collects what waits for a person, over all lanes and pairings.</summary>
public static class Decisions
{
    private static readonly (Verdict Verdict, string Text)[] OpenPairs =
    [
        (Verdict.Likely, "Likely pairs wait for a look"),
        (Verdict.Ambiguous, "Records with several candidates"),
        (Verdict.None, "Records without a partner: pair them or set them aside"),
        (Verdict.Certain, "Certain pairs are not accepted yet"),
    ];

    /// <summary>Everything that waits, what does harm first, and of that what is oldest.</summary>
    public static async Task<IReadOnlyList<Decision>> AllAsync(
        NarbitContext db,
        IReadOnlyList<LaneSummary> lanes,
        (Exposed? Exposed, ConnectedSystem? Hub) stock,
        CancellationToken cancel
    )
    {
        var decisions = new List<Decision>();
        if (stock is { Exposed: { } exposed, Hub: { } hub })
            decisions.Add(Oversold(exposed, hub));
        var causes = (await db.Causes.AsNoTracking().ToListAsync(cancel)).ToLookup(c => c.LaneId, StringComparer.Ordinal);
        foreach (var lane in lanes.Where(l => l.Work.Pairs))
            await OfLaneAsync(db, lane, causes[lane.Id].ToDictionary(c => c.Code, c => c.Since), decisions, cancel);
        decisions.AddRange(Closed(lanes));
        decisions.AddRange(lanes.Where(l => l.DraftAt is not null).Select(Unsaved));
        foreach (var lane in lanes.Where(l => l.CoupleId is not null).DistinctBy(l => l.CoupleId))
            await OfPairingAsync(db, lane, decisions, cancel);
        return [.. decisions.OrderBy(d => d.Harm).ThenBy(d => d.Since ?? DateTimeOffset.MaxValue).ThenByDescending(d => d.Count)];
    }

    private static Decision Oversold(Exposed exposed, ConnectedSystem hub) =>
        new()
        {
            Harm = Harm.Oversold,
            Cause = "oversold",
            Tone = "harm",
            Text =
                $"{(exposed.Items == 1 ? "1 item" : $"{exposed.Items:N0} items")} can be sold more often than "
                + $"{(exposed.Items == 1 ? "it is" : "they are")} there, by {exposed.Pieces:#,0.##} pcs",
            System = LaneViews.Tag(hub),
            Count = exposed.Items,
            Since = exposed.Since,
            Action = "Look",
            Link = "/exposure",
        };

    private static async Task OfLaneAsync(
        NarbitContext db,
        LaneSummary lane,
        IReadOnlyDictionary<string, DateTimeOffset> since,
        List<Decision> decisions,
        CancellationToken cancel
    )
    {
        var last = await db.Runs.AsNoTracking().Where(r => r.LaneId == lane.Id).OrderByDescending(r => r.Id).FirstOrDefaultAsync(cancel);
        if (last is null)
            return;
        if (OfLastRun(lane, last) is { } stopped)
            decisions.Add(stopped);
        if (last is { State: RunState.Ready, Preview: true } && await PreviewAsync(db, lane, last, cancel) is { } preview)
            decisions.Add(preview);
        var standing = lane.Standing;
        if (standing is not { RunId: { } compared, IsStale: false })
            return;
        if (standing.Held > 0)
            foreach (var hold in await RunViews.HoldsAsync(db, compared, cancel))
                decisions.Add(Held(lane, compared, hold, since));
        if (LaneWorks.Of(lane.Kind).MakesCounterparts)
            await HeldOrdersAsync(db, lane, decisions, cancel);
        else if (standing.NotComputed > 0)
            foreach (var remark in await RunViews.RemarksAsync(db, compared, cancel))
                decisions.Add(NotComputed(lane, compared, remark, since));
        if (standing.Failed > 0)
            decisions.Add(Failed(lane, compared));
        if (standing.NotChosen > 0 && last.Why?.Code != "run.dismissed")
            decisions.Add(NotChosen(lane, compared));
    }

    private static Decision Held(LaneSummary lane, long run, CauseCount hold, IReadOnlyDictionary<string, DateTimeOffset> since) =>
        new()
        {
            Harm = Harm.Doubtful,
            Cause = "held",
            Tone = "ochre",
            Text = $"{lane.Work.Noun.Counted(hold.Count)} held: {hold.Words}",
            System = lane.Target,
            Count = hold.Count,
            Since = Since(since, hold.Code, lane),
            Action = "Look",
            Link = $"/runs/{run}?show=held&cause={hold.Code}",
        };

    private static Decision NotComputed(LaneSummary lane, long run, CauseCount remark, IReadOnlyDictionary<string, DateTimeOffset> since) =>
        new()
        {
            Harm = Harm.NotComputed,
            Cause = remark.Words,
            Tone = "clay",
            Text = $"{lane.Work.Noun.Counted(remark.Count)} could not be computed: {remark.Words}",
            System = lane.Source,
            Count = remark.Count,
            Since = Since(since, remark.Code, lane),
            Action = "Look",
            Link = $"/runs/{run}?tab=remarks&cause={remark.Code}",
        };

    // What waits by itself needs no person; what is held does, each order once, whatever number of causes it has.
    private static async Task HeldOrdersAsync(NarbitContext db, LaneSummary lane, List<Decision> decisions, CancellationToken cancel)
    {
        var held = await db
            .OrderStandings.AsNoTracking()
            .Where(o => o.LaneId == lane.Id && o.Stage == OrderStage.Held)
            .GroupBy(o => new { o.Causes, o.Currency })
            .Select(g => new
            {
                g.Key.Causes,
                g.Key.Currency,
                Count = g.Count(),
                Total = g.Sum(o => o.Total),
                Oldest = g.Min(o => o.PlacedAt),
            })
            .ToListAsync(cancel);
        if (held.Count == 0)
            return;
        var count = held.Sum(h => h.Count);
        var most = held.SelectMany(h => h.Causes.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(code => (code, h.Count)))
            .GroupBy(c => c.code, StringComparer.Ordinal)
            .Select(g => (Key: g.Key, Value: g.Sum(c => c.Count)))
            .OrderByDescending(c => c.Value)
            .FirstOrDefault();
        var often = most.Key is null ? "" : $"; most often {OrderWords.Of(most.Key)} ({most.Value:N0})";
        decisions.Add(
            new Decision
            {
                Harm = Harm.Doubtful,
                Cause = "held",
                Tone = "harm",
                Text =
                    $"{lane.Work.Noun.Counted(count)} held, worth {held.Sum(h => h.Total):N2} {held[0].Currency}, the oldest placed "
                    + $"{held.Min(h => h.Oldest):d MMM}{often}",
                System = lane.Source,
                Count = count,
                Since = lane.ComparedAt,
                Action = "Look",
                Link = $"/orders?lane={lane.Id}&show=held",
            }
        );
    }

    private static Decision Failed(LaneSummary lane, long run) =>
        new()
        {
            Harm = Harm.Failed,
            Cause = "failed",
            Tone = "harm",
            Text = $"{lane.Work.Noun.Counted(lane.Standing.Failed)} did not get there",
            System = lane.Target,
            Count = lane.Standing.Failed,
            Since = lane.ComparedAt,
            Action = "Look",
            Link = $"/runs/{run}?show=failed",
        };

    private static Decision NotChosen(LaneSummary lane, long run) =>
        new()
        {
            Harm = Harm.Waiting,
            Cause = "not chosen",
            Tone = "ochre",
            Text = $"{lane.Work.Noun.Counted(lane.Standing.NotChosen)} were not chosen when the rest was sent, and still differ",
            System = lane.Target,
            Count = lane.Standing.NotChosen,
            Since = lane.ComparedAt,
            Action = "Decide",
            Link = $"/runs/{run}?show=skipped",
        };

    private static DateTimeOffset? Since(IReadOnlyDictionary<string, DateTimeOffset> since, string code, LaneSummary lane) =>
        since.TryGetValue(code, out var at) ? at : lane.ComparedAt;

    private static Decision? OfLastRun(LaneSummary lane, Run last)
    {
        var link = $"/runs/{last.Id}";
        if (last.State == RunState.Failed)
            return new Decision
            {
                Harm = Harm.Stopped,
                Cause = "run failed",
                Tone = "harm",
                Text = last.Why?.Words ?? "The last run failed",
                System = lane.Target,
                Count = 1,
                Since = last.EndedAt,
                Action = "Look",
                Link = link,
            };
        if (last is not { State: RunState.Ready, Preview: false, Tripped: { } tripped })
            return null;
        var guard = RuleJson.ReadTripped(tripped)[0];
        return new Decision
        {
            Harm = Harm.Stopped,
            Cause = "guard",
            Tone = "harm",
            Text = $"A guard stopped a run before the first write: {guard.Message}",
            System = lane.Target,
            Count = guard.Count,
            Since = last.PlannedAt,
            Action = "Decide",
            Link = $"{link}?show=guarded",
        };
    }

    private static async Task<Decision?> PreviewAsync(NarbitContext db, LaneSummary lane, Run last, CancellationToken cancel)
    {
        var planned = await db.Writes.CountAsync(w => w.RunId == last.Id && w.State == WriteState.Planned, cancel);
        if (planned == 0)
            return null;
        var what = last.RollsBack is null ? "would change" : "would be taken back";
        return new Decision
        {
            Harm = Harm.Waiting,
            Cause = last.RollsBack is null ? "preview" : "roll back",
            Tone = "ochre",
            Text = $"{lane.Work.Noun.Counted(planned)} {what}; nothing is sent yet",
            System = lane.Target,
            Count = planned,
            Since = last.PlannedAt,
            Action = "Decide",
            Link = $"/lanes/{lane.Id}/preview?show=planned",
        };
    }

    private static Decision Unsaved(LaneSummary lane) =>
        new()
        {
            Harm = Harm.Waiting,
            Cause = "not saved",
            Tone = "ochre",
            Text = $"You have changed the {(HasMap(lane) ? "map" : "rule")} of {lane.Name.ToLowerInvariant()} and not saved it",
            System = lane.Target,
            Count = 1,
            Since = lane.DraftAt,
            Action = "Go on",
            Link = $"/lanes/{lane.Id}/{(HasMap(lane) ? "map" : "rule")}",
        };

    private static bool HasMap(LaneSummary lane) => LaneWorks.Of(lane.Kind).Part == "map";

    private static IEnumerable<Decision> Closed(IReadOnlyList<LaneSummary> lanes) =>
        from lane in lanes
        where lane.ClosedAt is not null
        group lane by lane.CoupleId into closed
        let first = closed.First()
        let names = string.Join(", ", closed.Select((l, i) => i == 0 ? l.Name : l.Name.ToLowerInvariant()))
        select new Decision
        {
            Harm = Harm.Stopped,
            Cause = "lane closed",
            Tone = "ochre",
            Text = $"{names} are not sent while {first.ClosedBy} pairs",
            System = first.Target,
            Count = closed.Count(),
            Since = first.ClosedAt,
            Action = "Open",
            Link = $"/pair-desk/{first.CoupleId}",
        };

    private static async Task OfPairingAsync(NarbitContext db, LaneSummary lane, List<Decision> decisions, CancellationToken cancel)
    {
        var couple = await db.Couples.AsNoTracking().FirstAsync(c => c.Id == lane.CoupleId, cancel);
        var open = await OpenAsync(db, couple, cancel);
        foreach (var (verdict, text) in OpenPairs)
            if (open.TryGetValue(verdict, out var found))
                decisions.Add(Unpaired(lane, verdict, text, found.Count, found.Since));

        var waiting = db.Decisions.Where(d => d.CoupleId == couple.Id && d.State == DecisionState.Waiting);
        if (await waiting.CountAsync(cancel) is > 0 and var decided)
            decisions.Add(
                new Decision
                {
                    Harm = Harm.Waiting,
                    Cause = "decided",
                    Tone = "ochre",
                    Text = "Decisions on pairs are not committed yet",
                    System = lane.Target,
                    Count = decided,
                    Since = await waiting.MinAsync(d => d.At, cancel),
                    Action = "Review",
                    Link = $"/pair-desk/{couple.Id}?show=waiting",
                }
            );
    }

    private static Decision Unpaired(LaneSummary lane, Verdict verdict, string text, int count, DateTimeOffset? since)
    {
        var word = verdict.ToString().ToLowerInvariant();
        return new Decision
        {
            Harm = Harm.Unpaired,
            Cause = word,
            Tone = "clay",
            Text = text,
            System = lane.Target,
            Count = count,
            Since = since,
            Action = "Pair",
            Link = $"/pair-desk/{lane.CoupleId}?show={word}",
        };
    }

    // How many are open of each verdict, and since when the first of the other side's records has been known.
    private static async Task<Dictionary<Verdict, (int Count, DateTimeOffset? Since)>> OpenAsync(
        NarbitContext db,
        Couple couple,
        CancellationToken cancel
    )
    {
        var open = await DecisionDesk.OpenAsync(db, couple.Id, cancel);
        var counts = await open.GroupBy(p => p.Verdict).Select(g => new { g.Key, Count = g.Count() }).ToListAsync(cancel);
        // Most proposals of a large hub name no record of the other side. Asked so, the index passes over them.
        var known =
            from p in open
#pragma warning disable CA1309 // The database compares, by its own order of bytes.
            where string.Compare(p.OtherKey, "") > 0
#pragma warning restore CA1309
            join r in db.Records.Where(r => r.SystemId == couple.OtherId && r.Kind == couple.Kind) on p.OtherKey equals r.Key
            group r.FirstReadAt by p.Verdict into verdict
            select new { verdict.Key, Since = verdict.Min() };
        var since = await known.ToDictionaryAsync(v => v.Key, v => (DateTimeOffset?)v.Since, cancel);
        return counts.ToDictionary(v => v.Key, v => (v.Count, since.GetValueOrDefault(v.Key)));
    }
}
