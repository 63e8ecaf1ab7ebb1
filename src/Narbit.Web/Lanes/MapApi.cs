using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Lanes;

/// <summary>What a map can be made of: both sides' fields and the steps.</summary>
public sealed record MapChoices(
    IReadOnlyList<FieldDescription> Source,
    IReadOnlyList<FieldDescription> Levels,
    IReadOnlyList<MapTarget> Target,
    IReadOnlyList<StepKind> Steps,
    bool Creates,
    bool Ends,
    bool CreatesHere,
    IReadOnlyList<string> Categories
);

/// <summary>A field of the target, and whether an item lane may write it.</summary>
public sealed record MapTarget(FieldDescription Field, bool Mappable, string Compared);

public sealed record MapToTry(FieldMap Map, GuardLimits? Guards, string? Focus);

public sealed record MapToLookAt(FieldMap Map, string? HubKey);

public sealed record MapToSuggestFor(FieldMap Map);

public sealed record CodesToLookAt(FieldMap Map, string Table);

/// <summary>A code of the source: how many records use it, what it becomes, and what is suggested.</summary>
public sealed record CodeHere(string Code, int Records, string? To, string? Suggested, string? Why);

/// <summary>A code of the target and how many records use it.</summary>
public sealed record CodeThere(string Code, int Records);

/// <summary>A crosswalk with both sides' codes; those without an entry first.</summary>
public sealed record CrosswalkView(
    string Table,
    string SourceField,
    string TargetField,
    int Unlisted,
    int Waiting,
    IReadOnlyList<CodeHere> Here,
    IReadOnlyList<CodeThere> There,
    IReadOnlyList<RuleFault> Faults
);

public sealed record LaneFileToRead(int BaseNumber, string Text, string? Note);

/// <summary>What came of a lane file: the version that was saved, or every fault by path.</summary>
public sealed record LaneFileRead(int? Number, IReadOnlyList<RuleFault> Faults);

/// <summary>Field maps, crosswalks, and lanes as files.</summary>
public static class MapApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var lanes = api.MapGroup("/lanes").WithTags("Maps");
        lanes.MapGet("/{id}/map/choices", ChoicesAsync).WithName("mapChoices");
        lanes.MapPost("/{id}/map/try", TryAsync).WithName("tryMap");
        lanes.MapPost("/{id}/map/record", RecordAsync).WithName("lookAtRecord");
        lanes.MapPost("/{id}/map/suggest", SuggestAsync).WithName("suggestMap");
        lanes.MapPost("/{id}/map/codes", CodesAsync).WithName("crosswalkCodes");
        lanes.MapGet("/{id}/file", FileAsync).WithName("exportLane");
        lanes.MapPost("/{id}/file", ReadAsync).WithName("importLane");
        api.MapGet("/schemas/lane.json", () => TypedResults.Text(LaneFiles.Schema, "application/schema+json"))
            .WithName("laneSchema")
            .WithTags("Maps");
    }

    private static async Task<Results<Ok<MapChoices>, ProblemHttpResult>> ChoicesAsync(
        string id,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var lane = opened.Value;
        var kind = lane.Target.Adapter.Kinds.First(k => k.Kind == RecordKind.Item);
        var category = lane.SourceItems.Find(FieldRole.Category);
        await using var db = database.CreateDbContext();
        var categories = category is null ? [] : await ValueCounts.OfAsync(db, lane.Source.System.Id, category.Name, cancel);
        return TypedResults.Ok(
            new MapChoices(
                lane.SourceItems.Fields,
                lane.SourceLevels?.Fields ?? [],
                [
                    .. lane.TargetItems.Fields.Select(f => new MapTarget(
                        f,
                        MapSuggestions.IsMappable(f),
                        Core.Comparing.FieldComparison.How(f.Type)
                    )),
                ],
                StepCatalogue.Kinds,
                kind.Creates,
                kind.Ends,
                lane.Source.Adapter.Kinds.First(k => k.Kind == RecordKind.Item).Creates,
                [.. categories.Select(c => c.Value)]
            )
        );
    }

    private static async Task<Results<Ok<MapTrialResult>, ProblemHttpResult>> TryAsync(
        string id,
        MapToTry request,
        MapTrial trial,
        CancellationToken cancel
    )
    {
        var result = await trial.TryAsync(id, request.Map, request.Guards, request.Focus, cancel);
        return result.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(result.Value);
    }

    private static async Task<Results<Ok<RecordLook>, ProblemHttpResult>> RecordAsync(
        string id,
        MapToLookAt request,
        MapTrial trial,
        CancellationToken cancel
    )
    {
        var look = await trial.LookAsync(id, request.Map, request.HubKey, cancel);
        return look.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(look.Value);
    }

    private static async Task<Results<Ok<IReadOnlyList<MapSuggestion>>, ProblemHttpResult>> SuggestAsync(
        string id,
        MapToSuggestFor request,
        MapTrial trial,
        CancellationToken cancel
    )
    {
        var suggestions = await trial.SuggestAsync(id, request.Map, cancel);
        return suggestions.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(suggestions.Value);
    }

    private static async Task<Results<Ok<CrosswalkView>, ProblemHttpResult>> CodesAsync(
        string id,
        CodesToLookAt request,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var lane = opened.Value;
        var at = request.Map.Crosswalks.ToList().FindIndex(c => c.Name == request.Table);
        if (at < 0)
            return Problems.NotFound($"There is no crosswalk “{request.Table}” in this map.");
        var crosswalk = request.Map.Crosswalks[at];
        var mapping = request.Map.Fields.FirstOrDefault(f =>
            f.Steps.Any(s => s.Do == "crosswalk" && s.With?.GetValueOrDefault("table") == request.Table)
        );
        await using var db = database.CreateDbContext();
        var here = mapping?.Source is { Fields: [var field], Record: SourceRecord.Own or SourceRecord.Parent }
            ? await ValueCounts.OfAsync(db, lane.Source.System.Id, field, cancel)
            : [];
        var there = mapping is null ? [] : await ValueCounts.OfAsync(db, lane.Target.System.Id, mapping.Target, cancel);
        // Steps before the crosswalk may have changed the codes.
        var before = mapping is null
            ? null
            : ReadyMap
                .Make(
                    new FieldMap
                    {
                        Fields =
                        [
                            mapping with
                            {
                                Target = lane.TargetItems.Fields.First(f => f.Name == mapping.Target).Name,
                                Steps = [.. mapping.Steps.TakeWhile(s => s.Do != "crosswalk")],
                            },
                        ],
                    },
                    lane.Sides,
                    out _
                )
                ?.Fields[0]
                .Chain;
        var codes = here.GroupBy(
                c =>
                    before is null
                        ? c.Value
                        : before.Run(new MapRecord(new Dictionary<string, string> { [mapping!.Source.Fields![0]] = c.Value })).Value
                            ?? c.Value,
                StringComparer.OrdinalIgnoreCase
            )
            .Select(g => (Code: g.Key, Records: g.Sum(c => c.Records)))
            .ToList();
        var table = new CrosswalkTable(crosswalk);
        var known = there.Select(c => c.Value).ToList();
        var rows = codes
            .Select(c =>
            {
                var entry = table.Find(c.Code);
                var suggestion = entry is null ? CrosswalkTable.Suggest(c.Code, known) : null;
                return new CodeHere(c.Code, c.Records, entry?.To, suggestion?.To, suggestion?.Why);
            })
            .Concat(
                crosswalk
                    .Entries.Where(e => codes.TrueForAll(c => !string.Equals(c.Code, e.From, StringComparison.OrdinalIgnoreCase)))
                    .Select(e => new CodeHere(e.From, 0, e.To, null, null))
            )
            .OrderBy(c => c.To is not null)
            .ThenByDescending(c => c.Records)
            .ThenBy(c => c.Code, StringComparer.Ordinal)
            .ToList();
        var faults = CrosswalkTable.Check(
            crosswalk,
            $"crosswalks[{at}]",
            codes.Select(c => c.Code).ToHashSet(StringComparer.OrdinalIgnoreCase),
            known.ToHashSet(StringComparer.OrdinalIgnoreCase)
        );
        return TypedResults.Ok(
            new CrosswalkView(
                request.Table,
                mapping?.Source.Fields is { } f ? string.Join(", ", f) : "",
                mapping?.Target ?? "",
                rows.Count(r => r.To is null),
                rows.Where(r => r.To is null).Sum(r => r.Records),
                rows,
                [.. there.Select(c => new CodeThere(c.Value, c.Records))],
                [.. faults]
            )
        );
    }

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> FileAsync(
        string id,
        HttpResponse response,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        response.Headers.ContentDisposition = $"attachment; filename=\"{id}.json\"";
        return TypedResults.Text(LaneFiles.Write(LaneFiles.Of(opened.Value)), "application/json");
    }

    private static async Task<Results<Ok<LaneFileRead>, ProblemHttpResult>> ReadAsync(
        string id,
        LaneFileToRead request,
        Database database,
        AdapterSource adapters,
        RuleTrial trial,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var lane = opened.Value;
        if (LaneFiles.Read(request.Text, out var faults) is not { } file)
            return TypedResults.Ok(new LaneFileRead(null, faults));
        var (kind, document, path) = file.Kind switch
        {
            LaneFileKind.Price => (Data.Lanes.LaneKind.Price, RuleJson.Write(file.Price!), "price"),
            LaneFileKind.Stock => (Data.Lanes.LaneKind.Stock, RuleJson.Write(file.Stock!), "stock"),
            _ => (Data.Lanes.LaneKind.Item, RuleJson.Write(file.Map!), "map"),
        };
        if (kind != lane.Lane.Kind)
            return TypedResults.Ok(
                new LaneFileRead(
                    null,
                    [
                        new RuleFault(
                            "kind",
                            Severity.Refuse,
                            $"the file is about {LanesApi.Name(kind).ToLowerInvariant()}, and this lane about "
                                + $"{LanesApi.Name(lane.Lane.Kind).ToLowerInvariant()}"
                        ),
                    ]
                )
            );
        var findings = lane.Check(document, await trial.LocationsAsync(lane, cancel))
            .Select(f => f with { Path = f.Path.Length == 0 ? path : $"{path}.{f.Path}" })
            .ToList();
        if (findings.Exists(f => f.Severity == Severity.Refuse))
            return TypedResults.Ok(new LaneFileRead(null, findings));
        var saved = await LanesApi.SaveVersionAsync(
            lane,
            request.BaseNumber,
            document,
            file.Guards ?? lane.Guards,
            string.IsNullOrWhiteSpace(request.Note) ? "from a file" : request.Note,
            database,
            clock,
            live,
            cancel
        );
        if (saved.Fault is { } changed)
            return Problems.Of(changed);
        await using var db = database.CreateDbContext();
        await db
            .Lanes.Where(l => l.Id == id)
            .ExecuteUpdateAsync(
                s => s.SetProperty(l => l.SkuStartsWith, file.SkuStartsWith).SetProperty(l => l.PublishedOnly, file.PublishedOnly),
                cancel
            );
        return TypedResults.Ok(new LaneFileRead(saved.Value.Number, findings));
    }
}
