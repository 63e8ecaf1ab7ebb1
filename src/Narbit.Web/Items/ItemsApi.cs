using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Engine.Pairing;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Items;

internal sealed record ItemPage(SystemTag Hub, IReadOnlyList<SystemTag> Systems, ItemView Item);

/// <summary>An item of the hub with all listings that hang on it.</summary>
internal static class ItemsApi
{
    public static void Map(RouteGroupBuilder api) => api.MapGet("/items/{key}", GetAsync).WithName("getItem").WithTags("Items");

    private static async Task<Results<Ok<ItemPage>, ProblemHttpResult>> GetAsync(
        string key,
        ItemOverview items,
        Database database,
        CancellationToken cancel
    )
    {
        if (await items.OfAsync(key, cancel) is not { } item)
            return Problems.NotFound($"The hub has no item {key}.");
        await using var db = database.CreateDbContext();
        var hubId = await db.Workspaces.Select(w => w.HubId).FirstAsync(cancel);
        var systems = await db.Systems.AsNoTracking().OrderBy(s => s.Name).ToListAsync(cancel);
        return TypedResults.Ok(
            new ItemPage(SystemTag.Of(systems.First(s => s.Id == hubId)), [.. systems.Where(s => s.Id != hubId).Select(SystemTag.Of)], item)
        );
    }
}
