using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Engine.Pairing;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Pairing;

/// <summary>A cause with how many records it stands in the way of, and how many of them have a proposal.</summary>
internal sealed record ReadinessGroup(SystemTag System, string Cause, string Words, string Field, bool Writable, int Count, int Proposed);

internal sealed record ReadinessView(int HubRecords, int OtherRecords, IReadOnlyList<ReadinessGroup> Groups);

internal sealed record ReadinessLine(
    string Key,
    string? Reference,
    string? Caption,
    string Words,
    string? Now,
    string? Proposal,
    string? Because
);

/// <summary>The readiness check: what to put in order before the first records are sent, and the way to do it.</summary>
internal static class ReadinessApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var readiness = api.MapGroup("/couples/{id:long}/readiness").WithTags("Readiness");
        readiness.MapGet("/", GetAsync).WithName("readiness");
        readiness.MapGet("/lines", LinesAsync).WithName("readinessLines");
        readiness.MapGet("/table", ExportAsync).WithName("exportReadiness");
    }

    private static async Task<Results<Ok<ReadinessView>, ProblemHttpResult>> GetAsync(
        long id,
        string? pattern,
        ReadinessDesk desk,
        CancellationToken cancel
    )
    {
        var found = await desk.CheckAsync(id, pattern, cancel);
        if (found.Fault is { } fault)
            return Problems.Of(fault);
        var (hub, other, ofHub, ofOther) = found.Value;
        IEnumerable<ReadinessGroup> Groups(PairSide side, IReadOnlyList<ReadinessFinding> findings) =>
            findings
                .GroupBy(ReadinessWords.Code, StringComparer.Ordinal)
                .Select(g =>
                {
                    var field = side.FieldOf(g.First().Role);
                    return new ReadinessGroup(
                        SystemTag.Of(side.Connection.System),
                        g.Key,
                        ReadinessWords.Of(g.Key),
                        field?.Name ?? "",
                        field?.Writable == true && side.Connection.System.MayWrite,
                        g.Count(),
                        g.Count(f => f.Proposal is not null)
                    );
                });
        return TypedResults.Ok(
            new ReadinessView(
                hub.Rows.Count,
                other.Rows.Count,
                [
                    .. Groups(hub, ofHub)
                        .Concat(Groups(other, ofOther))
                        .OrderBy(g => g.System.Id == hub.Connection.System.Id ? 0 : 1)
                        .ThenByDescending(g => g.Count),
                ]
            )
        );
    }

    private static async Task<Results<Ok<Slice<ReadinessLine>>, ProblemHttpResult>> LinesAsync(
        long id,
        string system,
        string cause,
        string? pattern,
        int? offset,
        int? limit,
        ReadinessDesk desk,
        CancellationToken cancel
    )
    {
        var found = await desk.CheckAsync(id, pattern, cancel);
        if (found.Fault is { } fault)
            return Problems.Of(fault);
        var lines = Lines(found.Value, system).Where(l => l.Cause == cause).Select(l => l.Line).ToList();
        var window = new Window(offset, limit);
        return TypedResults.Ok(new Slice<ReadinessLine>(lines.Count, window.From, [.. lines.Skip(window.From).Take(window.Size)]));
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(
        long id,
        string? form,
        string? pattern,
        ReadinessDesk desk,
        CancellationToken cancel
    )
    {
        var found = await desk.CheckAsync(id, pattern, cancel);
        if (found.Fault is { } fault)
            return Problems.Of(fault);
        var rows = new[] { found.Value.Hub, found.Value.Other }.SelectMany(side =>
            Lines(found.Value, side.Connection.System.Id)
                .Select(l =>
                    (IReadOnlyList<string?>)
                        [
                            side.Connection.System.Id,
                            ReadinessWords.Of(l.Cause),
                            l.Line.Key,
                            l.Line.Reference,
                            l.Line.Caption,
                            l.Line.Words,
                            l.Line.Now,
                            l.Line.Proposal,
                        ]
                )
        );
        return Sheets.File(
            form,
            $"readiness-{found.Value.Other.Connection.System.Id}",
            ["system", "cause", "key", "sku", "title", "what", "now", "proposal"],
            rows
        );
    }

    private static IEnumerable<(string Cause, ReadinessLine Line)> Lines(CheckedCouple found, string systemId)
    {
        var (side, findings) = systemId == found.Hub.Connection.System.Id ? (found.Hub, found.OfHub) : (found.Other, found.OfOther);
        foreach (var finding in findings)
        {
            var row = side.Rows[finding.Key];
            yield return (
                ReadinessWords.Code(finding),
                new ReadinessLine(
                    finding.Key,
                    row.Reference,
                    row.Caption,
                    finding.Words,
                    side.FieldOf(finding.Role) is { } field ? side.Values(finding.Key).GetValueOrDefault(field.Name) : null,
                    finding.Proposal,
                    finding.Because
                )
            );
        }
    }
}
