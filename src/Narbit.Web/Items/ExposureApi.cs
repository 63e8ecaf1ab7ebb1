using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Engine.Pairing;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Items;

/// <summary>The exposed items, and the stores that they are offered in.</summary>
public sealed record ExposurePage(int Total, int Offset, IReadOnlyList<ExposedItem> Rows, decimal Pieces, IReadOnlyList<SystemTag> Stores);

/// <summary>Items of which all listings together promise more than is available.</summary>
public static class ExposureApi
{
    public static void Map(RouteGroupBuilder api) => api.MapGet("/exposure", ListAsync).WithName("listExposure").WithTags("Items");

    private static async Task<Ok<ExposurePage>> ListAsync(
        string? search,
        int? offset,
        int? limit,
        Exposures exposures,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        var all = await exposures.AllAsync(cancel);
        var found = string.IsNullOrWhiteSpace(search)
            ? all
            :
            [
                .. all.Where(e =>
                    e.Sku?.Contains(search, StringComparison.OrdinalIgnoreCase) == true
                    || e.Title?.Contains(search, StringComparison.OrdinalIgnoreCase) == true
                ),
            ];
        await using var db = database.CreateDbContext();
        var stores = await db
            .Systems.AsNoTracking()
            .Where(s => db.Couples.Any(c => c.OtherId == s.Id && c.Kind == Core.Records.RecordKind.Item))
            .OrderBy(s => s.Name)
            .ToListAsync(cancel);
        return TypedResults.Ok(
            new ExposurePage(
                found.Count,
                window.From,
                [.. found.Skip(window.From).Take(window.Size)],
                found.Sum(f => f.Exposure),
                [.. stores.Select(LaneViews.Tag)]
            )
        );
    }
}
