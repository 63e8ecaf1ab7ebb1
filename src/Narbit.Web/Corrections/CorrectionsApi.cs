using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Corrections;
using Narbit.Engine.Runs;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Corrections;

internal sealed record CorrectionsToSend(string SystemId, IReadOnlyList<Correction> Corrections);

/// <summary>Values that are put right where they come from.</summary>
internal static class CorrectionsApi
{
    public static void Map(RouteGroupBuilder api) =>
        api.MapPost("/couples/{id:long}/readiness/corrections", CorrectAsync).WithTags("Readiness").WithName("correct");

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> CorrectAsync(
        long id,
        CorrectionsToSend request,
        CorrectionDesk desk,
        RunDesk runs,
        Database database,
        CancellationToken cancel
    )
    {
        var person = await People.AtWorkAsync(database, cancel);
        var lane = await desk.CorrectAsync(request.SystemId, request.Corrections, person, cancel);
        if (lane.Fault is { } fault)
            return Problems.Of(fault);
        var run = await runs.StartAsync(lane.Value, preview: true, RunTrigger.Person, person, cancel);
        return run.Fault is { } busy ? Problems.Of(busy) : TypedResults.Accepted($"/api/runs/{run.Value}", new RunStarted(run.Value));
    }
}
