using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Searching;
using Narbit.Engine.Systems;

namespace Narbit.Web.Search;

/// <summary>A record that was found.</summary>
/// <param name="System">Whose it is.</param>
/// <param name="IsHub">Whether its system is the hub.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Key">Its system's key.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is in words.</param>
/// <param name="CoupleId">The pairing that it belongs to; null: the hub's own, or of a system that is not paired.</param>
internal sealed record FoundItem(
    SystemTag System,
    bool IsHub,
    RecordKind Kind,
    string Key,
    string? Reference,
    string? Caption,
    long? CoupleId
);

/// <summary>What was found by some words.</summary>
/// <param name="Records">Records of all systems, the best first.</param>
/// <param name="IsLike">Whether none has all of the words, so that they are only like it.</param>
/// <param name="Run">The run with this number; null: there is none.</param>
internal sealed record Findings(IReadOnlyList<FoundItem> Records, bool IsLike, long? Run);

/// <summary>Finds records by anything that they are called, in all systems at once.</summary>
internal static class SearchApi
{
    private const int Most = 24;

    public static void Map(RouteGroupBuilder api) => api.MapGet("/search", FindAsync).WithName("search").WithTags("Search");

    private static async Task<Ok<Findings>> FindAsync(string text, RecordSearch search, Database database, CancellationToken cancel)
    {
        var found = await search.FindAsync(text, Most, cancel);
        await using var db = database.CreateDbContext();
        var systems = await db.Systems.AsNoTracking().ToDictionaryAsync(s => s.Id, cancel);
        var hub = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel);
        var couples = (await db.Couples.AsNoTracking().ToListAsync(cancel)).ToDictionary(c => (c.OtherId, c.Kind), c => c.Id);
        var run = long.TryParse(text.Trim(), out var number) && await db.Runs.AnyAsync(r => r.Id == number, cancel) ? number : (long?)null;
        return TypedResults.Ok(
            new Findings(
                [
                    .. found
                        .Records.Where(r => systems.ContainsKey(r.SystemId))
                        .Select(r => new FoundItem(
                            SystemTag.Of(systems[r.SystemId]),
                            r.SystemId == hub,
                            r.Kind,
                            r.Key,
                            r.Reference,
                            r.Caption,
                            couples.TryGetValue((r.SystemId, r.Kind), out var couple) ? couple : null
                        )),
                ],
                found.IsLike,
                run
            )
        );
    }
}
