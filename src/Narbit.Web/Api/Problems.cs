using System.Text.Json;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Core;
using Narbit.Engine.Lanes;

namespace Narbit.Web.Api;

/// <summary>Turns faults into problem details (RFC 9457), one way for the whole API.</summary>
public static class Problems
{
    public static ProblemHttpResult Of(Reason fault) =>
        TypedResults.Problem(
            fault.Words,
            statusCode: Status(fault.Code),
            title: Title(fault.Code),
            extensions: new Dictionary<string, object?> { ["code"] = fault.Code, ["values"] = fault.Values }
        );

    /// <summary>A rule that cannot be saved, with every finding.</summary>
    public static ProblemHttpResult Of(IReadOnlyList<RuleFault> faults) =>
        TypedResults.Problem(
            string.Join(" ", faults.Where(f => f.Severity == Severity.Refuse).Select(f => f.Message)),
            statusCode: StatusCodes.Status422UnprocessableEntity,
            title: "The rule cannot be saved",
            extensions: new Dictionary<string, object?> { ["code"] = "rule.refused", ["faults"] = faults }
        );

    public static ProblemHttpResult NotFound(string what) => Of(new Reason("unknown", what));

    /// <summary>More was sent than is taken.</summary>
    public static ProblemHttpResult TooLarge() =>
        TypedResults.Problem(
            $"This is too large to be sent here: files may have at most {Uploads.Most >> 20} MiB. Split it, or put it into the folder.",
            statusCode: StatusCodes.Status413PayloadTooLarge,
            title: "Too large",
            extensions: new Dictionary<string, object?> { ["code"] = "request.tooLarge" }
        );

    /// <summary>
    /// What the exception handler answers: the reason for a request that cannot be read, and nothing of the inside for a defect.
    /// </summary>
    public static async Task HandleAsync(HttpContext http)
    {
        var error = http.Features.Get<IExceptionHandlerFeature>()?.Error;
        var problem = error switch
        {
            BadHttpRequestException { InnerException: JsonException json } => Of(
                new Reason("request.unreadable", $"The request could not be read: {RuleJson.Explain(json)}.")
            ),
            // A document that may be of several kinds has to say which.
            NotSupportedException { Source: "System.Text.Json" } => Of(
                new Reason(
                    "request.unreadable",
                    $"The request could not be read: a document does not say with “{LaneJson.Discriminator}” what it is."
                )
            ),
            BadHttpRequestException { StatusCode: StatusCodes.Status413PayloadTooLarge } => TooLarge(),
            BadHttpRequestException bad => Of(new Reason("request.invalid", bad.Message)),
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

    // What can be done as soon as something else is different.
    private static readonly HashSet<string> NotNow = new(StringComparer.Ordinal)
    {
        "batch.inForce",
        "batch.undone",
        "credential.needed",
        "draft.changed",
        "job.laneElsewhere",
        "job.off",
        "lane.busy",
        "lane.closed",
        "lane.changed",
        "lane.draft",
        "lane.exists",
        "lane.off",
        "mismatch.changed",
        "mismatch.moved",
        "mismatch.nothing",
        "mismatch.undone",
        "pairs.moved",
        "proof.atWork",
        "proof.nothing",
        "files.there",
        "read.busy",
        "removal.atWork",
        "removal.hub",
        "removal.system",
        "read.notReading",
        "record.decided",
        "record.gone",
        "record.paired",
        "rollback.nothing",
        "rule.changed",
        "run.notDone",
        "run.notFailed",
        "run.notReady",
        "run.notWorking",
        "run.pairsApart",
        "run.stale",
        "run.laneRemoved",
        "run.superseded",
        "system.changed",
        "system.exists",
        "system.mayNotRead",
        "system.mayNotWrite",
        "system.paused",
        "taking.busy",
    };

    // What asks for something that cannot be.
    private static readonly HashSet<string> NotSo = new(StringComparer.Ordinal)
    {
        "address.credentials",
        "address.forbidden",
        "address.invalid",
        "credential.ends",
        "decide.nothing",
        "decision.incomplete",
        "document.invalid",
        "document.unreadable",
        "files.called",
        "files.noFolder",
        "files.otherEnding",
        "files.unknownKind",
        "hook.refused",
        "hook.slow",
        "hook.unreachable",
        "lane.noField",
        "lane.noKind",
        "lane.noLevels",
        "lane.noRecords",
        "lane.oneSystem",
        "listener.name",
        "listener.secret",
        "map.broken",
        "pairs.nothing",
        "proof.time",
        "rule.foreign",
        "rule.unreadable",
        "send.nothing",
        "synced.nothing",
        "timetable.invalid",
    };

    private static int Status(string code) =>
        code switch
        {
            "unknown" => StatusCodes.Status404NotFound,
            "request.unreadable" or "request.invalid" => StatusCodes.Status400BadRequest,
            "hook.unsigned" or "hook.time" or "hook.signature" => StatusCodes.Status401Unauthorized,
            "hook.tooLarge" => StatusCodes.Status413PayloadTooLarge,
            "hook.tooMany" => StatusCodes.Status429TooManyRequests,
            "hook.unreadable" or "hook.undescribed" => StatusCodes.Status422UnprocessableEntity,
            "request.misdirected" => StatusCodes.Status421MisdirectedRequest,
            _ when code.EndsWith(".unknown", StringComparison.Ordinal) => StatusCodes.Status404NotFound,
            _ when NotNow.Contains(code) => StatusCodes.Status409Conflict,
            _ when NotSo.Contains(code)
                    || IsOf(code, "table.")
                    || IsOf(code, "sample.")
                    || IsOf(code, "choice.")
                    || IsOf(code, "job.")
                    || IsOf(code, "mismatch.")
                    || IsOf(code, "mail.")
                    || IsOf(code, "replay.")
                    || IsOf(code, "correction.") => StatusCodes.Status422UnprocessableEntity,
            _ => StatusCodes.Status502BadGateway,
        };

    private static bool IsOf(string code, string family) => code.StartsWith(family, StringComparison.Ordinal);

    private static string Title(string code) =>
        Status(code) switch
        {
            404 => "Not found",
            409 => "Not possible right now",
            400 or 401 or 413 or 421 or 422 or 429 => "This cannot be used as it is",
            _ => "The other system did not do as asked",
        };
}
