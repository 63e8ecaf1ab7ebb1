using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Engine;
using Narbit.Engine.Workspaces;
using Narbit.Web.Api;

namespace Narbit.Web.Setup;

/// <summary>The workspace, and what can be chosen for it.</summary>
/// <param name="Settings">What holds now; null: nothing is set up yet.</param>
/// <param name="TimeZones">The time zones that are known here.</param>
internal sealed record WorkspaceState(WorkspaceSettings? Settings, IReadOnlyList<string> TimeZones);

/// <summary>What a change would mean.</summary>
/// <param name="Sentences">A sentence each; none: nothing to others.</param>
internal sealed record WorkspaceEffect(IReadOnlyList<string> Sentences);

/// <summary>What holds for the whole workspace.</summary>
internal static class WorkspaceApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var workspace = api.MapGroup("/workspace").WithTags("Settings");
        workspace.MapGet("/", GetAsync).WithName("getWorkspace");
        workspace.MapPut("/", SaveAsync).WithName("setWorkspace");
        workspace.MapPost("/effect", EffectAsync).WithName("tryWorkspace").OnlyLooks();
    }

    private static async Task<Ok<WorkspaceState>> GetAsync(WorkspaceDesk desk, CancellationToken cancel) =>
        TypedResults.Ok(
            new WorkspaceState(
                await desk.GetAsync(cancel),
                [
                    .. TimeZoneInfo
                        .GetSystemTimeZones()
                        .Select(z => z.Id)
                        .Where(id => id == "UTC" || id.Contains('/'))
                        .Order(StringComparer.Ordinal),
                ]
            )
        );

    private static async Task<Results<NoContent, ProblemHttpResult>> SaveAsync(
        WorkspaceSettings settings,
        WorkspaceDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (await desk.SaveAsync(settings, cancel) is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("workspace", ""));
        return TypedResults.NoContent();
    }

    private static async Task<Ok<WorkspaceEffect>> EffectAsync(WorkspaceSettings settings, WorkspaceDesk desk, CancellationToken cancel) =>
        TypedResults.Ok(new WorkspaceEffect(await desk.EffectAsync(settings, cancel)));
}
