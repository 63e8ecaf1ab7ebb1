using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Orders;

/// <summary>A SKU for which a default item stands in.</summary>
/// <param name="Use">Where, how often, for how much.</param>
/// <param name="Store">Where it was sold.</param>
/// <param name="Hub">The hub.</param>
/// <param name="Listed">Whether the store lists an item under this SKU, so that it can be paired.</param>
internal sealed record DefaultItemRow(DefaultItemUse Use, SystemTag Store, SystemTag Hub, bool Listed);

/// <summary>What was booked under the default item, and what it is.</summary>
internal static class DefaultItemsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/orders/default-items", ListAsync).WithName("listDefaultItems").WithTags("Orders");
        api.MapPost("/lanes/{id}/orders/default-items", GiveAsync).WithName("giveItem").WithTags("Orders");
    }

    private static async Task<Ok<IReadOnlyList<DefaultItemRow>>> ListAsync(
        string? lane,
        DefaultItemDesk desk,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var systems = await db.Systems.AsNoTracking().ToDictionaryAsync(s => s.Id, StringComparer.Ordinal, cancel);
        var lanes = await db.Lanes.AsNoTracking().ToDictionaryAsync(l => l.Id, StringComparer.Ordinal, cancel);
        var uses = (await desk.AllAsync(lane, cancel)).Where(u => lanes.ContainsKey(u.LaneId)).ToList();
        var skus = uses.Select(u => u.Sku).Distinct().ToList();
        var listed = await db
            .Records.Where(r => r.Kind == RecordKind.Item && skus.Contains(r.Reference!) && r.GoneAt == null)
            .Select(r => new { r.SystemId, r.Reference })
            .ToListAsync(cancel);
        var known = listed.Select(r => (r.SystemId, r.Reference)).ToHashSet();
        return TypedResults.Ok<IReadOnlyList<DefaultItemRow>>([
            .. uses.Select(u =>
            {
                var (store, hub) = (lanes[u.LaneId].SourceId, lanes[u.LaneId].TargetId);
                return new DefaultItemRow(u, SystemTag.Of(systems[store]), SystemTag.Of(systems[hub]), known.Contains((store, u.Sku)));
            }),
        ]);
    }

    private static async Task<Results<Ok<OrderDecided>, ProblemHttpResult>> GiveAsync(
        string id,
        GivenItem given,
        DefaultItemDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var moved = await desk.GiveAsync(id, given, await People.AtWorkAsync(database, cancel), cancel);
        if (moved.Fault is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(new OrderDecided(moved.Value));
    }
}
