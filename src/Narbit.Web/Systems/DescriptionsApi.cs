using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Engine.Lanes;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

/// <summary>A description that might take the place of a system's own.</summary>
internal sealed record DescriptionToWeigh(string Document, string? Address);

/// <summary>A description that a system had, or has.</summary>
/// <param name="Number">From 1 on; the highest is in force.</param>
/// <param name="Author">Who gave it.</param>
/// <param name="At">When.</param>
/// <param name="Added">How many of its lines the one before it has not.</param>
/// <param name="Removed">How many lines of the one before it has not.</param>
internal sealed record DescriptionVersionSummary(int Number, string Author, DateTimeOffset At, int Added, int Removed);

/// <summary>The descriptions of systems: their versions, and what another one would do.</summary>
internal static class DescriptionsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var systems = api.MapGroup("/systems/{id}").WithTags("Systems");
        systems.MapPost("/effect", EffectAsync).WithName("weighDescription").OnlyLooks();
        systems.MapGet("/versions", VersionsAsync).WithName("descriptionVersions");
        systems.MapGet("/versions/{number:int}", VersionAsync).WithName("descriptionVersion");
    }

    private static async Task<Results<Ok<DescriptionEffect>, ProblemHttpResult>> EffectAsync(
        string id,
        DescriptionToWeigh request,
        Database database,
        DescriptionEffects effects,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var address = await db.Systems.Where(s => s.Id == id).Select(s => s.Address).FirstOrDefaultAsync(cancel);
        return address is null
            ? Problems.NotFound($"There is no system “{id}”.")
            : ProposalsApi.Answer(await effects.OfAsync(id, request.Document, request.Address ?? address, cancel));
    }

    private static async Task<Ok<IReadOnlyList<DescriptionVersionSummary>>> VersionsAsync(
        string id,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var versions = await db.DescriptionVersions.AsNoTracking().Where(v => v.SystemId == id).OrderBy(v => v.Number).ToListAsync(cancel);
        var summaries = new List<DescriptionVersionSummary>();
        string[] before = [];
        foreach (var version in versions)
        {
            var lines = version.Document.Split('\n');
            var (added, removed) = (Missing(lines, before), Missing(before, lines));
            summaries.Add(new DescriptionVersionSummary(version.Number, version.Author, version.At, added, removed));
            before = lines;
        }

        summaries.Reverse();
        return TypedResults.Ok<IReadOnlyList<DescriptionVersionSummary>>(summaries);
    }

    // How many of some lines others have not, each as often as it stands there.
    private static int Missing(string[] lines, string[] others)
    {
        var there = others.CountBy(l => l.Trim()).ToDictionary();
        return lines.CountBy(l => l.Trim()).Sum(l => Math.Max(0, l.Value - there.GetValueOrDefault(l.Key)));
    }

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> VersionAsync(
        string id,
        int number,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        return await db.DescriptionVersions.FindAsync([id, number], cancel) is { } version
            ? TypedResults.Text(version.Document, "application/json")
            : Problems.NotFound($"There is no version {number} of how “{id}” is described.");
    }
}
