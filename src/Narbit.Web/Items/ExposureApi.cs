using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Systems;
using Narbit.Engine.Pairing;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Items;

/// <summary>The exposed items, and the stores that they are offered in.</summary>
/// <param name="Total">How many items.</param>
/// <param name="Offset">Which of them is the first here.</param>
/// <param name="Rows">Those that are shown.</param>
/// <param name="Pieces">By how many pieces all of them are exposed.</param>
/// <param name="Stores">The stores that are counted.</param>
/// <param name="NotCounted">Stores of which nothing can be counted, because nothing is paired there.</param>
internal sealed record ExposurePage(
    int Total,
    int Offset,
    IReadOnlyList<ExposedItem> Rows,
    decimal Pieces,
    IReadOnlyList<SystemTag> Stores,
    IReadOnlyList<SystemTag> NotCounted
);

/// <summary>Items of which all listings together promise more than is available.</summary>
internal static class ExposureApi
{
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/exposure", ListAsync).WithName("listExposure").WithTags("Items");
        api.MapGet("/exposure.{form:regex(^(csv|xlsx)$)}", ExportAsync).WithName("exportExposure").WithTags("Items");
    }

    private static async Task<Ok<ExposurePage>> ListAsync(
        string? search,
        string? sort,
        int? offset,
        int? limit,
        ExposureWatch watch,
        Exposures exposures,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        var found = Sorted(Found(watch.Items ?? await exposures.AllAsync(cancel), search), sort);
        await using var db = database.CreateDbContext();
        var counted = await StoresAsync(db, paired: true, cancel);
        var not = await StoresAsync(db, paired: false, cancel);
        return TypedResults.Ok(
            new ExposurePage(
                found.Count,
                window.From,
                [.. found.Skip(window.From).Take(window.Size)],
                found.Sum(f => f.Exposure),
                [.. counted.Select(SystemTag.Of)],
                [.. not.Select(SystemTag.Of)]
            )
        );
    }

    private static async Task<FileContentHttpResult> ExportAsync(
        string form,
        string? search,
        string? sort,
        ExposureWatch watch,
        Exposures exposures,
        Database database,
        CancellationToken cancel
    )
    {
        var found = Sorted(Found(watch.Items ?? await exposures.AllAsync(cancel), search), sort);
        await using var db = database.CreateDbContext();
        var stores = await StoresAsync(db, paired: true, cancel);
        string[] columns = ["sku", "item", .. stores.Select(s => $"{s.Name}, pcs"), "promised, pcs", "available, pcs", "exposed by, pcs"];
        var lines = found.Select(e => (IReadOnlyList<string?>)[e.Sku, e.Title, .. stores.Select(s => Offered(e, s.Id)), .. Sums(e)]);
        return Sheets.File(form, "exposure", columns, lines);
    }

    private static string? Offered(ExposedItem item, string store) =>
        item.Offers.FirstOrDefault(o => o.SystemId == store)?.Promised.ToString("0.##", CultureInfo.InvariantCulture);

    private static IEnumerable<string?> Sums(ExposedItem item) =>
        new[] { item.Promised, item.Available, item.Exposure }.Select(n => n.ToString("0.##", CultureInfo.InvariantCulture));

    private static IReadOnlyList<ExposedItem> Found(IReadOnlyList<ExposedItem> all, string? search) =>
        string.IsNullOrWhiteSpace(search)
            ? all
            :
            [
                .. all.Where(e =>
                    e.Sku?.Contains(search, StringComparison.OrdinalIgnoreCase) == true
                    || e.Title?.Contains(search, StringComparison.OrdinalIgnoreCase) == true
                ),
            ];

    private static IReadOnlyList<ExposedItem> Sorted(IReadOnlyList<ExposedItem> items, string? sort) =>
        sort switch
        {
            "sku" => [.. items.OrderBy(e => e.Sku, StringComparer.Ordinal)],
            "-sku" => [.. items.OrderByDescending(e => e.Sku, StringComparer.Ordinal)],
            "promised" => [.. items.OrderBy(e => e.Promised)],
            "-promised" => [.. items.OrderByDescending(e => e.Promised)],
            "available" => [.. items.OrderBy(e => e.Available)],
            "-available" => [.. items.OrderByDescending(e => e.Available)],
            "exposure" => [.. items.OrderBy(e => e.Exposure)],
            _ => items,
        };

    // The stores with a pair, or those without any.
    private static Task<List<ConnectedSystem>> StoresAsync(NarbitContext db, bool paired, CancellationToken cancel)
    {
        var couples = db.Couples.Where(c => c.Kind == RecordKind.Item);
        return db
            .Systems.AsNoTracking()
            .Where(s => couples.Any(c => c.OtherId == s.Id && db.Links.Any(l => l.CoupleId == c.Id) == paired))
            .OrderBy(s => s.Name)
            .ToListAsync(cancel);
    }
}
