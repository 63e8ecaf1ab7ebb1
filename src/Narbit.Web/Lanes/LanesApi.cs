using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Lanes;

/// <summary>Lanes: making them, their scope, and starting their runs.</summary>
internal static class LanesApi
{
    private const int LongestName = 60;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/works", Works).WithName("listWorks").WithTags("Lanes");
        var lanes = api.MapGroup("/lanes").WithTags("Lanes");
        lanes.MapGet("/", ListAsync).WithName("listLanes");
        lanes.MapPost("/", AddAsync).WithName("addLane");
        lanes.MapGet("/{id}", GetAsync).WithName("getLane");
        lanes.MapPut("/{id}/scope", ScopeAsync).WithName("setScope");
        lanes.MapPut("/{id}/off", OffAsync).WithName("switchLane");
        lanes.MapPut("/{id}/name", NameAsync).WithName("nameLane");
        lanes.MapPost("/{id}/copy", CopyAsync).WithName("copyLane");
        lanes.MapPut("/{id}/left-out", LeaveOutAsync).WithName("leaveLaneOut");
        lanes.MapGet("/{id}/seam/{targetKey}", LaneSeam.GetAsync).WithName("getSeam");
        lanes.MapPost("/{id}/runs", StartAsync).WithName("startRun");
    }

    private static Ok<IReadOnlyList<LaneWorkView>> Works() =>
        TypedResults.Ok<IReadOnlyList<LaneWorkView>>([.. LaneWorks.Between.Select(LaneWorkView.Of)]);

    private static async Task<Ok<IReadOnlyList<LaneSummary>>> ListAsync(Database database, TimeProvider clock, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return TypedResults.Ok(await LaneViews.AllAsync(db, null, clock.GetUtcNow(), cancel));
    }

    private static async Task<Results<Ok<LaneSummary>, ProblemHttpResult>> GetAsync(
        string id,
        Database database,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        return await LaneViews.AllAsync(db, id, clock.GetUtcNow(), cancel) is [var lane] ? TypedResults.Ok(lane) : NoLane(id);
    }

    private static async Task<Results<Created<LaneSummary>, ProblemHttpResult>> AddAsync(
        LaneToAdd request,
        Database database,
        AdapterSource adapters,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        var maker = new LaneMaker(database, adapters, clock);
        return await MadeAsync(
            await maker.MakeAsync(request.Kind, request.Source, request.Target, by, cancel),
            database,
            clock,
            live,
            cancel
        );
    }

    private static async Task<Results<Created<LaneSummary>, ProblemHttpResult>> CopyAsync(
        string id,
        LaneToCopy request,
        Database database,
        AdapterSource adapters,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        var maker = new LaneMaker(database, adapters, clock);
        return await MadeAsync(await maker.CopyAsync(id, request.Source, request.Target, by, cancel), database, clock, live, cancel);
    }

    private static async Task<Results<Created<LaneSummary>, ProblemHttpResult>> MadeAsync(
        Outcome<string> made,
        Database database,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("lane", made.Value));
        await using var db = database.CreateDbContext();
        return TypedResults.Created($"/api/lanes/{made.Value}", (await LaneViews.AllAsync(db, made.Value, clock.GetUtcNow(), cancel))[0]);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> ScopeAsync(
        string id,
        LaneScope scope,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var start = string.IsNullOrWhiteSpace(scope.SkuStartsWith) ? null : scope.SkuStartsWith.Trim();
        var changed = await db
            .Lanes.Where(l => l.Id == id)
            .ExecuteUpdateAsync(
                s => s.SetProperty(l => l.SkuStartsWith, start).SetProperty(l => l.PublishedOnly, scope.PublishedOnly),
                cancel
            );
        if (changed == 0)
            return NoLane(id);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> OffAsync(
        string id,
        LaneSwitch request,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Lanes.Where(l => l.Id == id).ExecuteUpdateAsync(s => s.SetProperty(l => l.Off, request.Off), cancel) == 0)
            return NoLane(id);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> NameAsync(
        string id,
        LaneNamed named,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var name = string.IsNullOrWhiteSpace(named.Name) ? null : named.Name.Trim();
        if (name?.Length > LongestName)
            return Problems.Of(new Reason("lane.name", $"A lane's name has at most {LongestName} characters."));
        await using var db = database.CreateDbContext();
        if (await db.Lanes.Where(l => l.Id == id).ExecuteUpdateAsync(s => s.SetProperty(l => l.Name, name), cancel) == 0)
            return NoLane(id);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> LeaveOutAsync(
        string id,
        LaneLeftOut request,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Lanes.Where(l => l.Id == id).ExecuteUpdateAsync(s => s.SetProperty(l => l.Paused, request.LeftOut), cancel) == 0)
            return NoLane(id);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> StartAsync(
        string id,
        RunToStart request,
        Database database,
        RunDesk desk,
        CancellationToken cancel
    )
    {
        var person = await People.AtWorkAsync(database, cancel);
        var run = await desk.StartAsync(id, request.Preview, RunTrigger.Person, person, cancel);
        return run.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{run.Value}", new RunStarted(run.Value));
    }

    private static ProblemHttpResult NoLane(string id) => Problems.NotFound($"There is no lane “{id}”.");
}
