using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Pairing;
using Narbit.Web.Api;
using Narbit.Web.Lanes;
using Narbit.Web.Runs;

namespace Narbit.Web.Today;

public sealed record WorkspaceView(string Name, string TimeZone, SystemTag? Hub, string Person);

public sealed record MatrixRow(LaneKind Kind, string Label, IReadOnlyList<LaneSummary> Lanes);

/// <summary>Something a person has to decide: one cause, how many records, and where to do it.</summary>
public sealed record Decision(string Cause, string Tone, string Text, SystemTag System, int Count, string Action, string Link);

public sealed record SinceYesterday(int ValuesSent, int RunsDone, int RunsFailed, int WritesFailed);

public sealed record TodayView(
    WorkspaceView Workspace,
    IReadOnlyList<SystemTag> Systems,
    IReadOnlyList<MatrixRow> Rows,
    IReadOnlyList<Decision> Decisions,
    SinceYesterday Since
);

public sealed record PastTick(long RunId, string Lane, DateTimeOffset At, DateTimeOffset? EndedAt, string Outcome);

public sealed record ComingTick(string LaneId, string Lane, DateTimeOffset At);

public sealed record Ribbon(
    DateTimeOffset From,
    DateTimeOffset Until,
    DateTimeOffset Now,
    string TimeZone,
    IReadOnlyList<PastTick> Past,
    IReadOnlyList<ComingTick> Coming
);

/// <summary>What a person sees first: the matrix, what waits for them, and the day.</summary>
public static class TodayApi
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/today", GetAsync).WithName("today").WithTags("Today");
        api.MapGet("/ribbon", RibbonAsync).WithName("ribbon").WithTags("Today");
    }

    private static async Task<Results<Ok<TodayView>, ProblemHttpResult>> GetAsync(
        Database database,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var workspace = await db.Workspaces.AsNoTracking().FirstOrDefaultAsync(cancel);
        if (workspace is null)
            return Problems.NotFound("There is no workspace yet. Start Narbit with its demo data, or add a system.");
        var systems = await db.Systems.AsNoTracking().OrderBy(s => s.Name).ToListAsync(cancel);
        var lanes = await LanesApi.SummariesAsync(db, null, cancel);
        var hub = systems.FirstOrDefault(s => s.Id == workspace.HubId);
        var since = clock.GetUtcNow().AddDays(-1);
        var writes = db.Writes.Where(w => w.SentAt >= since);
        return TypedResults.Ok(
            new TodayView(
                new WorkspaceView(workspace.Name, workspace.TimeZone, hub is null ? null : LanesApi.Tag(hub), workspace.Person),
                [.. systems.Where(s => s.Id != workspace.HubId).Select(LanesApi.Tag)],
                [
                    new MatrixRow(LaneKind.Item, "Items", [.. lanes.Where(l => l.Kind == LaneKind.Item)]),
                    new MatrixRow(LaneKind.Price, "Prices", [.. lanes.Where(l => l.Kind == LaneKind.Price)]),
                    new MatrixRow(LaneKind.Stock, "Stock levels", [.. lanes.Where(l => l.Kind == LaneKind.Stock)]),
                ],
                await DecisionsAsync(db, lanes, cancel),
                new SinceYesterday(
                    await db.WriteFields.CountAsync(
                        f => db.Writes.Any(w => w.Id == f.WriteId && w.SentAt >= since && w.State == WriteState.Confirmed),
                        cancel
                    ),
                    await db.Runs.CountAsync(r => r.StartedAt >= since && r.State == RunState.Done, cancel),
                    await db.Runs.CountAsync(r => r.StartedAt >= since && r.State == RunState.Failed, cancel),
                    await writes.CountAsync(w => w.State == WriteState.Failed, cancel)
                )
            )
        );
    }

    private static async Task<IReadOnlyList<Decision>> DecisionsAsync(
        NarbitContext db,
        IReadOnlyList<LaneSummary> lanes,
        CancellationToken cancel
    )
    {
        var decisions = new List<Decision>();
        foreach (var lane in lanes)
        {
            if (lane.Kind == LaneKind.Correction)
                continue;
            var (noun, nouns) = lane.Kind switch
            {
                LaneKind.Item => ("item", "items"),
                LaneKind.Price => ("price", "prices"),
                _ => ("quantity", "quantities"),
            };
            string Counted(int count) => count == 1 ? $"1 {noun}" : $"{count:N0} {nouns}";
            if (
                await db.Runs.AsNoTracking().Where(r => r.LaneId == lane.Id).OrderByDescending(r => r.Id).FirstOrDefaultAsync(cancel)
                is not { } last
            )
                continue;
            if (last.State == RunState.Failed)
                decisions.Add(
                    new Decision("failed", "harm", last.Message ?? "The last run failed", lane.Target, 1, "Look", $"/runs/{last.Id}")
                );
            if (last is { State: RunState.Ready, Preview: false, Tripped: { } tripped })
                decisions.Add(
                    new Decision(
                        "guard",
                        "harm",
                        $"A guard stopped a run before the first write: {RuleJson.ReadTripped(tripped)[0].Message}",
                        lane.Target,
                        RuleJson.ReadTripped(tripped)[0].Count,
                        "Decide",
                        $"/runs/{last.Id}"
                    )
                );
            if (lane.ComparedRunId is not { } runId)
                continue;

            var planned =
                last.State == RunState.Ready
                    ? await db.Writes.CountAsync(w => w.RunId == last.Id && w.State == WriteState.Planned, cancel)
                    : 0;
            if (planned > 0 && last.Preview)
                decisions.Add(
                    new Decision(
                        "preview",
                        "ochre",
                        $"{Counted(planned)} {(last.RollsBack is null ? "would change" : "would be taken back")}; nothing is sent yet",
                        lane.Target,
                        planned,
                        "Decide",
                        $"/lanes/{lane.Id}/preview"
                    )
                );

            var held = await db
                .Writes.Where(w => w.RunId == runId && w.State == WriteState.Held)
                .Select(w => w.HoldReason!)
                .ToListAsync(cancel);
            foreach (var reason in held.GroupBy(RunsApi.HoldKind).OrderByDescending(g => g.Count()))
                decisions.Add(
                    new Decision(
                        "held",
                        "ochre",
                        $"{Counted(reason.Count())} held: {reason.Key}",
                        lane.Target,
                        reason.Count(),
                        "Look",
                        $"/runs/{runId}?show=held"
                    )
                );

            foreach (
                var remark in await db
                    .Remarks.Where(r => r.RunId == runId)
                    .GroupBy(r => r.Cause)
                    .Select(g => new
                    {
                        g.Key,
                        Count = g.Count(),
                        Text = g.Min(r => r.Message),
                    })
                    .ToListAsync(cancel)
            )
                decisions.Add(
                    new Decision(
                        remark.Key == "noPrice" ? "no price" : "unreadable",
                        "clay",
                        remark.Key == "noPrice" ? $"No {noun}: {remark.Text}" : $"Could not be computed: {remark.Text}",
                        lane.Source,
                        remark.Count,
                        "Look",
                        $"/runs/{runId}?tab=remarks&cause={remark.Key}"
                    )
                );

            var failed = await db.Writes.CountAsync(
                w => w.RunId == runId && (w.State == WriteState.Failed || w.State == WriteState.Overtaken),
                cancel
            );
            if (failed > 0)
                decisions.Add(
                    new Decision(
                        "failed",
                        "harm",
                        $"{Counted(failed)} did not get there",
                        lane.Target,
                        failed,
                        "Look",
                        $"/runs/{runId}?show=failed"
                    )
                );
        }

        foreach (var held in lanes.Where(l => l.HeldAt is not null).GroupBy(l => l.CoupleId))
        {
            var lane = held.First();
            decisions.Add(
                new Decision(
                    "lane held",
                    "ochre",
                    $"{string.Join(" and ", held.Select(l => l.Name.ToLowerInvariant()))} are not sent while {lane.HeldBy} pairs",
                    lane.Target,
                    held.Count(),
                    "Release",
                    $"/pair-desk/{lane.CoupleId}"
                )
            );
        }

        foreach (var lane in lanes.Where(l => l.CoupleId is not null).DistinctBy(l => l.CoupleId))
        {
            var open = await DecisionDesk
                .Open(db, lane.CoupleId!.Value)
                .GroupBy(p => p.Verdict)
                .Select(g => new { g.Key, Count = g.Count() })
                .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
            foreach (
                var (verdict, text) in new[]
                {
                    (Verdict.Likely, "Likely pairs wait for a look"),
                    (Verdict.Ambiguous, "Records with several candidates"),
                    (Verdict.None, "Records without a partner: pair them or set them aside"),
                    (Verdict.Certain, "Certain pairs are not accepted yet"),
                }
            )
            {
                if (open.GetValueOrDefault(verdict) is > 0 and var count)
                    decisions.Add(
                        new Decision(
                            verdict.ToString().ToLowerInvariant(),
                            "clay",
                            text,
                            lane.Target,
                            count,
                            "Pair",
                            $"/pair-desk/{lane.CoupleId}?show={verdict.ToString().ToLowerInvariant()}"
                        )
                    );
            }

            if (
                await db.Decisions.CountAsync(d => d.CoupleId == lane.CoupleId && d.State == Data.Pairs.DecisionState.Waiting, cancel)
                is > 0
                    and var waiting
            )
                decisions.Add(
                    new Decision(
                        "decided",
                        "ochre",
                        "Decisions on pairs are not committed yet",
                        lane.Target,
                        waiting,
                        "Review",
                        $"/pair-desk/{lane.CoupleId}?show=waiting"
                    )
                );
        }

        return [.. decisions.OrderBy(d => d.Tone == "harm" ? 0 : 1).ThenByDescending(d => d.Count)];
    }

    private static async Task<Ok<Ribbon>> RibbonAsync(Database database, TimeProvider clock, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var zoneId = await db.Workspaces.Select(w => w.TimeZone).FirstOrDefaultAsync(cancel) ?? "UTC";
        var zone = TimeZoneInfo.TryFindSystemTimeZoneById(zoneId, out var found) ? found : TimeZoneInfo.Utc;
        var now = clock.GetUtcNow();
        var local = TimeZoneInfo.ConvertTime(now, zone).Date;
        DateTimeOffset Midnight(DateTime day) => new DateTimeOffset(day, zone.GetUtcOffset(day)).ToUniversalTime();
        var (from, until) = (Midnight(local), Midnight(local.AddDays(1)));

        var lanes = (await LanesApi.SummariesAsync(db, null, cancel)).ToDictionary(l => l.Id);
        var runs = await db
            .Runs.AsNoTracking()
            .Where(r => r.StartedAt >= from && r.StartedAt < until && r.State != RunState.Superseded)
            .OrderBy(r => r.StartedAt)
            .Take(2000)
            .ToListAsync(cancel);
        var ids = runs.Select(r => r.Id).ToList();
        var troubled = (
            await db
                .Writes.Where(w => ids.Contains(w.RunId) && (w.State == WriteState.Held || w.State == WriteState.Failed))
                .GroupBy(w => new { w.RunId, w.State })
                .Select(g => g.Key)
                .ToListAsync(cancel)
        ).ToLookup(k => k.RunId, k => k.State);
        return TypedResults.Ok(
            new Ribbon(
                from,
                until,
                now,
                zone.Id,
                [.. runs.Select(r => new PastTick(r.Id, Name(lanes[r.LaneId]), r.StartedAt, r.EndedAt, Outcome(r, troubled[r.Id])))],
                [
                    .. lanes
                        .Values.Where(l => l is { EveryMinutes: not null, Paused: false, NextDueAt: not null })
                        .SelectMany(l =>
                            new Interval(TimeSpan.FromMinutes(l.EveryMinutes!.Value))
                                .Between(l.NextDueAt!.Value.AddTicks(-1), until)
                                .Take(300)
                                .Select(at => new ComingTick(l.Id, Name(l), at))
                        ),
                ]
            )
        );
    }

    private static string Outcome(Run run, IEnumerable<WriteState> troubled) =>
        run.State switch
        {
            RunState.Working => "working",
            RunState.Failed => "failed",
            RunState.Ready => "waits",
            _ => troubled.Contains(WriteState.Failed) ? "failed"
            : troubled.Contains(WriteState.Held) ? "waits"
            : "done",
        };

    private static string Name(LaneSummary lane) => $"{lane.Name} → {lane.Target.Name}";
}
