using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;
using Narbit.Web.Api;
using Narbit.Web.Lanes;
using Narbit.Web.Mismatches;
using Narbit.Web.Runs;
using Narbit.Web.Timetable;

namespace Narbit.Web.Today;

internal sealed record WorkspaceView(
    string? Name,
    string TimeZone,
    SystemTag? Hub,
    string Person,
    NumberForm Numbers,
    DateForm Dates,
    FirstDay FirstDay
);

/// <summary>A kind of work and its lanes.</summary>
internal sealed record MatrixRow(string Kind, string Label, IReadOnlyList<LaneSummary> Lanes);

/// <summary>What happened since somebody was here, or since yesterday; each number is that of a list.</summary>
/// <param name="From">The instant.</param>
/// <param name="Written">Records that were written and confirmed.</param>
/// <param name="WritesFailed">Records that were sent and did not get there.</param>
/// <param name="RunsDone">Runs that are done.</param>
/// <param name="RunsFailed">Runs that failed.</param>
/// <param name="Settled">Mismatches that people settled.</param>
/// <param name="Gone">Mismatches that were gone by themselves.</param>
/// <param name="New">Mismatches that are open and were seen for the first time.</param>
internal sealed record SinceYesterday(
    DateTimeOffset From,
    int Written,
    int WritesFailed,
    int RunsDone,
    int RunsFailed,
    int Settled,
    int Gone,
    int New
);

/// <summary>What a person sees first.</summary>
/// <param name="Workspace">Whose it is.</param>
/// <param name="Systems">The systems beside the hub.</param>
/// <param name="Rows">The kinds of work with their lanes.</param>
/// <param name="Harms">What does harm now, each record once.</param>
/// <param name="Causes">What needs a person, what harms most first.</param>
/// <param name="Since">What happened since yesterday.</param>
/// <param name="Lines">By lane, the share of its records that was in step at the last comparison of each of the last 14 days.</param>
internal sealed record TodayView(
    WorkspaceView Workspace,
    IReadOnlyList<SystemTag> Systems,
    IReadOnlyList<MatrixRow> Rows,
    IReadOnlyList<HarmView> Harms,
    IReadOnlyList<CauseView> Causes,
    SinceYesterday Since,
    IReadOnlyDictionary<string, IReadOnlyList<double?>> Lines
);

internal sealed record PastTick(long RunId, string Lane, DateTimeOffset At, DateTimeOffset? EndedAt, string Outcome);

internal sealed record ComingTick(string JobId, string Job, DateTimeOffset At);

internal sealed record Ribbon(
    DateTimeOffset From,
    DateTimeOffset Until,
    DateTimeOffset Now,
    string TimeZone,
    IReadOnlyList<PastTick> Past,
    IReadOnlyList<ComingTick> Coming
);

/// <summary>What a person sees first: the matrix, what waits for them, and the day.</summary>
internal static class TodayApi
{
    private const int MostPast = 2000;
    private const int MostComing = 300;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/today", GetAsync).WithName("today").WithTags("Today");
        api.MapGet("/ribbon", RibbonAsync).WithName("ribbon").WithTags("Today");
    }

    // A workspace that is not set up yet has nothing in it, which is no error.
    private static async Task<Ok<TodayView>> GetAsync(
        DateTimeOffset? since,
        Database database,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var workspace = await db.Workspaces.AsNoTracking().FirstOrDefaultAsync(cancel);
        var systems = await db.Systems.AsNoTracking().OrderBy(s => s.Name).ToListAsync(cancel);
        var lanes = await LaneViews.AllAsync(db, null, clock.GetUtcNow(), cancel);
        var hub = systems.FirstOrDefault(s => s.Id == workspace?.HubId);
        var causes = await MismatchCauseViews.AllAsync(db, new MismatchFilter(), clock, cancel);
        return TypedResults.Ok(
            new TodayView(
                new WorkspaceView(
                    workspace?.Name,
                    workspace?.TimeZone ?? "UTC",
                    hub is null ? null : SystemTag.Of(hub),
                    workspace?.Person ?? "somebody",
                    workspace?.Numbers ?? default,
                    workspace?.Dates ?? default,
                    workspace?.FirstDay ?? default
                ),
                [.. systems.Where(s => s != hub).Select(SystemTag.Of)],
                [
                    .. LaneWorks
                        .Between.Select(w => new MatrixRow(w.Kind, w.Label, [.. lanes.Where(l => l.Kind == w.Kind)]))
                        // Few systems share their customers.
                        .Where(row => row.Lanes.Count > 0 || LaneWorks.Of(row.Kind).Record != RecordKind.Customer),
                ],
                await MismatchCauseViews.HarmsAsync(db, causes, cancel),
                causes,
                await SinceAsync(db, since ?? clock.GetUtcNow().AddDays(-1), cancel),
                await StepLines.AllAsync(db, clock.GetUtcNow(), cancel)
            )
        );
    }

    private static async Task<SinceYesterday> SinceAsync(NarbitContext db, DateTimeOffset since, CancellationToken cancel)
    {
        var runs = db.Runs.Where(r => r.StartedAt >= since);
        return new SinceYesterday(
            since,
            await WrittenApi.Of(db, "confirmed", since).CountAsync(cancel),
            await WrittenApi.Of(db, "failed", since).CountAsync(cancel),
            await RunFilter.With(runs, db, "done").CountAsync(cancel),
            await RunFilter.With(runs, db, "failed").CountAsync(cancel),
            await new MismatchFilter { State = "settled", From = since }
                .Of(db)
                .CountAsync(cancel),
            await new MismatchFilter { State = "gone", From = since }
                .Of(db)
                .CountAsync(cancel),
            await new MismatchFilter { From = since }
                .Of(db)
                .CountAsync(cancel)
        );
    }

    private static async Task<Ok<Ribbon>> RibbonAsync(Database database, TimeProvider clock, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var zone = await Zones.OfWorkspaceAsync(db, cancel);
        var now = clock.GetUtcNow();
        var day = DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(now, zone).Date);
        var (from, until) = (Zones.Midnight(day, zone), Zones.Midnight(day.AddDays(1), zone));
        var lanes = (await LaneViews.AllAsync(db, null, clock.GetUtcNow(), cancel)).ToDictionary(l => l.Id);
        return TypedResults.Ok(
            new Ribbon(
                from,
                until,
                now,
                zone.Id,
                await PastAsync(db, lanes, from, until, cancel),
                await ComingAsync(db, now, until, cancel)
            )
        );
    }

    private static async Task<IReadOnlyList<PastTick>> PastAsync(
        NarbitContext db,
        Dictionary<string, LaneSummary> lanes,
        DateTimeOffset from,
        DateTimeOffset until,
        CancellationToken cancel
    )
    {
        var runs = await db
            .Runs.AsNoTracking()
            .Where(r => r.StartedAt >= from && r.StartedAt < until && r.State != RunState.Superseded)
            .OrderBy(r => r.StartedAt)
            .Take(MostPast)
            .ToListAsync(cancel);
        var outcomes = await RunOutcomes.OfAsync(db, [.. runs.Select(r => r.Id)], cancel);
        return
        [
            .. runs.Where(r => lanes.ContainsKey(r.LaneId))
                .Select(r => new PastTick(r.Id, Name(lanes[r.LaneId]), r.StartedAt, r.EndedAt, outcomes[r.Id].Word)),
        ];
    }

    private static async Task<IReadOnlyList<ComingTick>> ComingAsync(
        NarbitContext db,
        DateTimeOffset now,
        DateTimeOffset until,
        CancellationToken cancel
    )
    {
        var views = await JobViews.OpenAsync(db, now, cancel);
        var jobs = await db.Jobs.AsNoTracking().ToListAsync(cancel);
        return
        [
            .. jobs.SelectMany(j => views.Coming(j).TakeWhile(t => t < until).Take(MostComing).Select(t => new ComingTick(j.Id, j.Name, t)))
                .OrderBy(c => c.At)
                .Take(MostComing),
        ];
    }

    private static string Name(LaneSummary lane) => $"{lane.Name} → {lane.Target.Name}";
}
