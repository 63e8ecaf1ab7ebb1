using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Lanes;

/// <summary>What a map can be made of: both sides' fields and the steps.</summary>
internal sealed record MapChoices(
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
internal sealed record MapTarget(FieldDescription Field, bool Mappable, string Compared);

internal sealed record MapToLookAt(FieldMap Map, string? SourceKey);

/// <summary>A record of the source that a map can be looked at with.</summary>
internal sealed record MapSample(string SourceKey, string? Reference, string? Caption);

internal sealed record MapToSuggestFor(FieldMap Map);

internal sealed record CodesToLookAt(FieldMap Map, string Table);

internal sealed record LaneFileToRead(int BaseNumber, string Text, string? Note);

/// <summary>What came of a lane file: the version that was saved, or every fault by path.</summary>
internal sealed record LaneFileRead(int? Number, IReadOnlyList<RuleFault> Faults);

/// <summary>Field maps, crosswalks, and lanes as files.</summary>
internal static class MapApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var lanes = api.MapGroup("/lanes").WithTags("Maps");
        lanes.MapGet("/{id}/map/choices", ChoicesAsync).WithName("mapChoices");
        lanes.MapPost("/{id}/map/record", RecordAsync).WithName("lookAtRecord").OnlyLooks();
        lanes.MapGet("/{id}/map/samples", SamplesAsync).WithName("mapSamples");
        lanes.MapPost("/{id}/map/suggest", SuggestAsync).WithName("suggestMap").OnlyLooks();
        lanes.MapPost("/{id}/map/codes", CodesAsync).WithName("crosswalkCodes").OnlyLooks();
        lanes.MapGet("/{id}/file", FileAsync).WithName("exportLane");
        lanes.MapPost("/{id}/file", ReadAsync).WithName("importLane").OnlyLooks();
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
        var sides = lane.Sides;
        await using var db = database.CreateDbContext();
        var categories = sides.Source.Find(FieldRole.Category) is { } category
            ? await ValueCounts.OfAsync(db, lane.Source.System.Id, lane.Work.Record, category.Name, cancel)
            : [];
        return TypedResults.Ok(
            new MapChoices(
                sides.Source.Fields,
                sides.Levels?.Fields ?? [],
                [.. sides.Target.Fields.Select(f => new MapTarget(f, lane.Work.Computing.IsMapped(f), FieldComparison.How(f.Type)))],
                StepCatalogue.Kinds,
                sides.Creates,
                sides.Ends,
                sides.CreatesHere,
                [.. categories.Select(c => c.Value)]
            )
        );
    }

    private static async Task<Results<Ok<RecordLook>, ProblemHttpResult>> RecordAsync(
        string id,
        MapToLookAt request,
        MapLook look,
        CancellationToken cancel
    )
    {
        var record = await look.RecordAsync(id, request.Map, request.SourceKey, cancel);
        return record.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(record.Value);
    }

    private const int MostSamples = 100;

    // Of records that are paired only those that are.
    private static async Task<Results<Ok<IReadOnlyList<MapSample>>, ProblemHttpResult>> SamplesAsync(
        string id,
        string? search,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var lane = opened.Value;
        await using var db = database.CreateDbContext();
        var records = db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == lane.Source.System.Id && r.Kind == lane.Work.Record && r.GoneAt == null);
        if (lane.Work.Writing.GoesByPairs)
        {
            var links = (await lane.BookAsync(db, cancel)).Links(db).Where(l => !l.IsKit);
            records = records.Where(r => links.Any(l => l.SourceKey == r.Key));
        }

        if (!string.IsNullOrWhiteSpace(search))
        {
            var like = Window.Like(search.Trim());
            records = records.Where(r =>
                EF.Functions.Like(r.Reference!, like, "\\") || EF.Functions.Like(r.Caption!, like, "\\") || r.Key == search
            );
        }

        var found = await records
            .OrderBy(r => r.Reference)
            .Take(MostSamples)
            .Select(r => new MapSample(r.Key, r.Reference, r.Caption))
            .ToListAsync(cancel);
        return TypedResults.Ok<IReadOnlyList<MapSample>>(found);
    }

    private static async Task<Results<Ok<IReadOnlyList<MapSuggestion>>, ProblemHttpResult>> SuggestAsync(
        string id,
        MapToSuggestFor request,
        MapLook look,
        CancellationToken cancel
    )
    {
        var suggestions = await look.SuggestAsync(id, request.Map, cancel);
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
        await using var db = database.CreateDbContext();
        return await CrosswalkCodes.OfAsync(db, opened.Value, request.Map, request.Table, cancel) is { } view
            ? TypedResults.Ok(view)
            : Problems.NotFound($"There is no crosswalk “{request.Table}” in this map.");
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
        var findings = (await lane.CheckAsync(file.Document, database, cancel)).Select(f => LaneFiles.InFile(file, f)).ToList();
        if (findings.Exists(f => f.Severity == Severity.Refuse))
            return TypedResults.Ok(new LaneFileRead(null, findings));
        var note = string.IsNullOrWhiteSpace(request.Note) ? "from a file" : request.Note;
        var save = new VersionToSave(request.BaseNumber, file.Document, file.Guards ?? lane.Guards, note);
        var person = await People.AtWorkAsync(database, cancel);
        var saved = await new LaneMaker(database, adapters, clock).SaveAsync(lane, save, person, cancel);
        if (saved.Fault is { } changed)
            return Problems.Of(changed);
        await using var db = database.CreateDbContext();
        await db
            .Lanes.Where(l => l.Id == id)
            .ExecuteUpdateAsync(
                s => s.SetProperty(l => l.SkuStartsWith, file.SkuStartsWith).SetProperty(l => l.PublishedOnly, file.PublishedOnly),
                cancel
            );
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(new LaneFileRead(saved.Value.Number, findings));
    }
}
