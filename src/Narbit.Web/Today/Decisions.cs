using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Pairing;
using Narbit.Web.Api;
using Narbit.Web.Lanes;
using Narbit.Web.Runs;

namespace Narbit.Web.Today;

/// <summary>Something a person has to decide: one cause, how many records, and where to do it.</summary>
public sealed record Decision(string Cause, string Tone, string Text, SystemTag System, int Count, string Action, string Link);

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

    /// <summary>Everything that waits, what does harm first, then the most records.</summary>
    public static async Task<IReadOnlyList<Decision>> AllAsync(NarbitContext db, IReadOnlyList<LaneSummary> lanes, CancellationToken cancel)
    {
        var decisions = new List<Decision>();
        foreach (var lane in lanes.Where(l => l.Work.Pairs))
            await OfLaneAsync(db, lane, decisions, cancel);
        decisions.AddRange(Closed(lanes));
        foreach (var lane in lanes.Where(l => l.CoupleId is not null).DistinctBy(l => l.CoupleId))
            await OfPairingAsync(db, lane, decisions, cancel);
        return [.. decisions.OrderBy(d => d.Tone == "harm" ? 0 : 1).ThenByDescending(d => d.Count)];
    }

    private static async Task OfLaneAsync(NarbitContext db, LaneSummary lane, List<Decision> decisions, CancellationToken cancel)
    {
        var last = await db.Runs.AsNoTracking().Where(r => r.LaneId == lane.Id).OrderByDescending(r => r.Id).FirstOrDefaultAsync(cancel);
        if (last is null)
            return;
        if (OfLastRun(lane, last) is { } stopped)
            decisions.Add(stopped);
        if (lane.ComparedRunId is not { } compared)
            return;
        if (await PreviewAsync(db, lane, last, cancel) is { } preview)
            decisions.Add(preview);
        foreach (var hold in await RunViews.HoldsAsync(db, compared, cancel))
            decisions.Add(
                new Decision(
                    "held",
                    "ochre",
                    $"{lane.Work.Noun.Counted(hold.Count)} held: {hold.Words}",
                    lane.Target,
                    hold.Count,
                    "Look",
                    $"/runs/{compared}?show=held"
                )
            );
        foreach (var remark in await RunViews.RemarksAsync(db, compared, cancel))
            decisions.Add(
                new Decision(
                    remark.Words,
                    "clay",
                    $"{lane.Work.Noun.Counted(remark.Count)} could not be computed: {remark.Words}",
                    lane.Source,
                    remark.Count,
                    "Look",
                    $"/runs/{compared}?tab=remarks&cause={remark.Code}"
                )
            );
        if (await FailedAsync(db, lane, compared, cancel) is { } failed)
            decisions.Add(failed);
    }

    private static Decision? OfLastRun(LaneSummary lane, Run last)
    {
        var link = $"/runs/{last.Id}";
        if (last.State == RunState.Failed)
            return new Decision("failed", "harm", last.Why?.Words ?? "The last run failed", lane.Target, 1, "Look", link);
        if (last is not { State: RunState.Ready, Preview: false, Tripped: { } tripped })
            return null;
        var guard = RuleJson.ReadTripped(tripped)[0];
        return new Decision(
            "guard",
            "harm",
            $"A guard stopped a run before the first write: {guard.Message}",
            lane.Target,
            guard.Count,
            "Decide",
            link
        );
    }

    private static async Task<Decision?> PreviewAsync(NarbitContext db, LaneSummary lane, Run last, CancellationToken cancel)
    {
        if (last is not { State: RunState.Ready, Preview: true })
            return null;
        var planned = await db.Writes.CountAsync(w => w.RunId == last.Id && w.State == WriteState.Planned, cancel);
        var what = last.RollsBack is null ? "would change" : "would be taken back";
        return planned == 0
            ? null
            : new Decision(
                "preview",
                "ochre",
                $"{lane.Work.Noun.Counted(planned)} {what}; nothing is sent yet",
                lane.Target,
                planned,
                "Decide",
                $"/lanes/{lane.Id}/preview"
            );
    }

    private static async Task<Decision?> FailedAsync(NarbitContext db, LaneSummary lane, long run, CancellationToken cancel)
    {
        var failed = await db.Writes.CountAsync(
            w => w.RunId == run && (w.State == WriteState.Failed || w.State == WriteState.Overtaken),
            cancel
        );
        return failed == 0
            ? null
            : new Decision(
                "failed",
                "harm",
                $"{lane.Work.Noun.Counted(failed)} did not get there",
                lane.Target,
                failed,
                "Look",
                $"/runs/{run}?show=failed"
            );
    }

    private static IEnumerable<Decision> Closed(IReadOnlyList<LaneSummary> lanes) =>
        from lane in lanes
        where lane.ClosedAt is not null
        group lane by lane.CoupleId into closed
        let first = closed.First()
        let names = string.Join(", ", closed.Select((l, i) => i == 0 ? l.Name : l.Name.ToLowerInvariant()))
        select new Decision(
            "lane closed",
            "ochre",
            $"{names} are not sent while {first.ClosedBy} pairs",
            first.Target,
            closed.Count(),
            "Open",
            $"/pair-desk/{first.CoupleId}"
        );

    private static async Task OfPairingAsync(NarbitContext db, LaneSummary lane, List<Decision> decisions, CancellationToken cancel)
    {
        var couple = lane.CoupleId!.Value;
        var open = await DecisionDesk
            .Open(db, couple)
            .GroupBy(p => p.Verdict)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
        foreach (var (verdict, text) in OpenPairs)
        {
            var word = verdict.ToString().ToLowerInvariant();
            if (open.GetValueOrDefault(verdict) is > 0 and var count)
                decisions.Add(new Decision(word, "clay", text, lane.Target, count, "Pair", $"/pair-desk/{couple}?show={word}"));
        }

        var waiting = await db.Decisions.CountAsync(d => d.CoupleId == couple && d.State == DecisionState.Waiting, cancel);
        if (waiting > 0)
            decisions.Add(
                new Decision(
                    "decided",
                    "ochre",
                    "Decisions on pairs are not committed yet",
                    lane.Target,
                    waiting,
                    "Review",
                    $"/pair-desk/{couple}?show=waiting"
                )
            );
    }
}
