using System.Text.Json;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Core;

namespace Narbit.Web.Api;

/// <summary>Turns faults into problem details (RFC 9457), one way for the whole API.</summary>
public static class Problems
{
    public static ProblemHttpResult Of(Fault fault) =>
        TypedResults.Problem(
            fault.Message,
            statusCode: Status(fault.Code),
            title: Title(fault.Code),
            extensions: new Dictionary<string, object?> { ["code"] = fault.Code }
        );

    /// <summary>A rule that cannot be saved, with every finding.</summary>
    public static ProblemHttpResult Of(IReadOnlyList<RuleFault> faults) =>
        TypedResults.Problem(
            string.Join(" ", faults.Where(f => f.Severity == Severity.Refuse).Select(f => f.Message)),
            statusCode: StatusCodes.Status422UnprocessableEntity,
            title: "The rule cannot be saved",
            extensions: new Dictionary<string, object?> { ["code"] = "rule.refused", ["faults"] = faults }
        );

    public static ProblemHttpResult NotFound(string what) => Of(new Fault("unknown", what));

    /// <summary>
    /// What the exception handler answers: the reason for a request that cannot be read, and nothing of the inside for a defect.
    /// </summary>
    public static async Task HandleAsync(HttpContext http)
    {
        var error = http.Features.Get<IExceptionHandlerFeature>()?.Error;
        var problem = error switch
        {
            BadHttpRequestException { InnerException: JsonException json } => Of(
                new Fault("request.unreadable", $"The request could not be read: {RuleJson.Explain(json)}.")
            ),
            BadHttpRequestException bad => Of(new Fault("request.invalid", bad.Message)),
            _ when error is not null && Narbit.Data.Database.IsFull(error) => TypedResults.Problem(
                "The disk is full, so this was not saved. What was saved before is complete. Make room, then try again.",
                statusCode: 507,
                title: "No room left"
            ),
            _ => TypedResults.Problem(
                "Narbit made a mistake. Nothing was lost; the log has the details.",
                statusCode: 500,
                title: "Something went wrong"
            ),
        };
        await problem.ExecuteAsync(http);
    }

    private static int Status(string code) =>
        code switch
        {
            "lane.unknown" or "run.unknown" or "system.unknown" or "couple.unknown" or "batch.unknown" or "record.unknown" or "unknown" =>
                404,
            "lane.busy"
            or "lane.off"
            or "run.notDone"
            or "rollback.nothing"
            or "run.superseded"
            or "run.notReady"
            or "run.notFailed"
            or "rule.changed"
            or "system.changed"
            or "system.exists"
            or "read.busy"
            or "lane.held"
            or "record.decided"
            or "record.paired"
            or "record.gone"
            or "pairs.moved"
            or "taking.busy"
            or "batch.undone" => 409,
            "document.unreadable"
            or "document.invalid"
            or "address.invalid"
            or "address.credentials"
            or "address.forbidden"
            or "rule.unreadable"
            or "map.broken"
            or "synced.nothing"
            or "send.nothing"
            or "decide.nothing"
            or "timetable.invalid"
            or "decision.incomplete"
            or "pairs.nothing" => 422,
            _ when code.StartsWith("table.", StringComparison.Ordinal) || code.StartsWith("correction.", StringComparison.Ordinal) => 422,
            "request.unreadable" or "request.invalid" => 400,
            _ => 502,
        };

    private static string Title(string code) =>
        Status(code) switch
        {
            404 => "Not found",
            409 => "Not possible right now",
            400 or 422 => "This cannot be used as it is",
            _ => "The other system did not do as asked",
        };
}
