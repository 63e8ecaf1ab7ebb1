using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;
using Narbit.Engine.Workspaces;
using Narbit.Web.Api;

namespace Narbit.Web.Setup;

internal sealed record RemovedSystem(SystemTag System, DateTimeOffset At);

internal sealed record RemovedLane(string Id, string Name, SystemTag Source, SystemTag Target, DateTimeOffset At);

/// <summary>Removing lanes and systems, and bringing them back.</summary>
internal static class RemovalApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var lanes = api.MapGroup("/lanes").WithTags("Lanes");
        lanes.MapGet("/removed", LanesAsync).WithName("listRemovedLanes");
        lanes.MapDelete("/{id}", RemoveLaneAsync).WithName("removeLane");
        lanes.MapPost("/{id}/back", BringLaneBackAsync).WithName("bringLaneBack");
        var systems = api.MapGroup("/systems").WithTags("Systems");
        systems.MapGet("/removed", SystemsAsync).WithName("listRemovedSystems");
        systems.MapGet("/{id}/removal", EffectAsync).WithName("systemRemoval");
        systems.MapDelete("/{id}", RemoveSystemAsync).WithName("removeSystem");
        systems.MapPost("/{id}/back", BringSystemBackAsync).WithName("bringSystemBack");
    }

    private static async Task<Ok<IReadOnlyList<RemovedLane>>> LanesAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var systems = await db.Systems.IgnoreQueryFilters().AsNoTracking().ToDictionaryAsync(s => s.Id, SystemTag.Of, cancel);
        var lanes = await db.Lanes.IgnoreQueryFilters().AsNoTracking().Where(l => l.RemovedAt != null).ToListAsync(cancel);
        return TypedResults.Ok<IReadOnlyList<RemovedLane>>([
            .. lanes
                .OrderByDescending(l => l.RemovedAt)
                .Select(l => new RemovedLane(
                    l.Id,
                    l.Name ?? LaneWorks.Of(l.Kind).Label,
                    systems[l.SourceId],
                    systems[l.TargetId],
                    l.RemovedAt!.Value
                )),
        ]);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> RemoveLaneAsync(
        string id,
        RemovalDesk desk,
        CancellationToken cancel
    ) => await desk.RemoveLaneAsync(id, cancel) is { } fault ? Problems.Of(fault) : TypedResults.NoContent();

    private static async Task<Results<NoContent, ProblemHttpResult>> BringLaneBackAsync(
        string id,
        RemovalDesk desk,
        JobClock jobs,
        CancellationToken cancel
    )
    {
        if (await desk.BringLaneBackAsync(id, cancel) is { } fault)
            return Problems.Of(fault);
        jobs.Wake();
        return TypedResults.NoContent();
    }

    private static async Task<Ok<IReadOnlyList<RemovedSystem>>> SystemsAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var systems = await db.Systems.IgnoreQueryFilters().AsNoTracking().Where(s => s.RemovedAt != null).ToListAsync(cancel);
        return TypedResults.Ok<IReadOnlyList<RemovedSystem>>([
            .. systems.OrderByDescending(s => s.RemovedAt).Select(s => new RemovedSystem(SystemTag.Of(s), s.RemovedAt!.Value)),
        ]);
    }

    private static async Task<Results<Ok<RemovalEffect>, ProblemHttpResult>> EffectAsync(
        string id,
        RemovalDesk desk,
        CancellationToken cancel
    )
    {
        var effect = await desk.EffectAsync(id, cancel);
        return effect.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(effect.Value);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> RemoveSystemAsync(
        string id,
        RemovalDesk desk,
        Database database,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        return await desk.RemoveSystemAsync(id, by, cancel) is { } fault ? Problems.Of(fault) : TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> BringSystemBackAsync(
        string id,
        RemovalDesk desk,
        JobClock jobs,
        CancellationToken cancel
    )
    {
        if (await desk.BringSystemBackAsync(id, cancel) is { } fault)
            return Problems.Of(fault);
        jobs.Wake();
        return TypedResults.NoContent();
    }
}
