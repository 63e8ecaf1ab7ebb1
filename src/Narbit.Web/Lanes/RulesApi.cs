using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Lanes;

/// <summary>What lanes go by: their documents and guards, as versions, on trial, and saved.</summary>
internal static class RulesApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var lanes = api.MapGroup("/lanes").WithTags("Rules");
        lanes.MapGet("/{id}/rule", RuleAsync).WithName("getRule");
        lanes.MapGet("/{id}/rule/choices", ChoicesAsync).WithName("ruleChoices");
        lanes.MapGet("/{id}/rule/versions", VersionsAsync).WithName("ruleVersions");
        lanes.MapPost("/{id}/rule/try", TryAsync).WithName("tryRule").OnlyLooks();
        lanes.MapPut("/{id}/rule", SaveAsync).WithName("saveRule");
    }

    private static async Task<Results<Ok<RuleView>, ProblemHttpResult>> RuleAsync(
        string id,
        int? number,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == id, cancel);
        if (lane is null)
            return Problems.NotFound($"There is no lane “{id}”.");
        var version = await db
            .RuleVersions.AsNoTracking()
            .FirstOrDefaultAsync(v => v.LaneId == id && v.Number == (number ?? lane.RuleNumber), cancel);
        return version is null ? Problems.NotFound($"There is no version {number}.") : TypedResults.Ok(View(version));
    }

    private static async Task<Ok<IReadOnlyList<RuleView>>> VersionsAsync(string id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var versions = await db
            .RuleVersions.AsNoTracking()
            .Where(v => v.LaneId == id)
            .OrderByDescending(v => v.Number)
            .Take(200)
            .ToListAsync(cancel);
        return TypedResults.Ok<IReadOnlyList<RuleView>>([.. versions.Select(View)]);
    }

    private static RuleView View(RuleVersion version)
    {
        var document = LaneJson.Read(version.Document).Value;
        var guards = LaneWorks.Of(document).GuardsOf(version.Guards);
        return new RuleView(version.Number, version.Author, version.At, version.Note, document, guards);
    }

    private static async Task<Results<Ok<RuleChoices>, ProblemHttpResult>> ChoicesAsync(
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
        var (source, target) = (lane.Sides.Source, lane.Sides.Target);
        return TypedResults.Ok(
            new RuleChoices(
                source.PricedBy,
                target.PriceLists,
                target.Find(FieldRole.Price) is null ? target.PriceLists : [],
                [.. await lane.LocationsAsync(database, cancel)],
                lane.Target.System.Currency,
                lane.Target.System.Decimals,
                source.Fields.FirstOrDefault(f => f is { Role: FieldRole.Price, Unit: not null })?.Unit
            )
        );
    }

    private static async Task<Results<Ok<TrialResult>, ProblemHttpResult>> TryAsync(
        string id,
        RuleToTry request,
        LaneTrial trial,
        CancellationToken cancel
    )
    {
        var result = await trial.TryAsync(id, request.Document, request.Guards, request.Focus, cancel);
        return result.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(result.Value);
    }

    private static async Task<Results<Ok<RuleView>, ProblemHttpResult>> SaveAsync(
        string id,
        RuleToSave request,
        Database database,
        AdapterSource adapters,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var lane = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (lane.Fault is { } fault)
            return Problems.Of(fault);
        List<RuleFault> faults =
        [
            .. await lane.Value.CheckAsync(request.Document, database, cancel),
            .. (request.Guards ?? new GuardLimits()).Check(),
        ];
        if (faults.Exists(f => f.Severity == Severity.Refuse))
            return Problems.Of(faults);
        var save = new VersionToSave(request.BaseNumber, request.Document, request.Guards, request.Note);
        var saved = await new LaneMaker(database, adapters, clock).SaveAsync(
            lane.Value,
            save,
            await People.AtWorkAsync(database, cancel),
            cancel
        );
        if (saved.Fault is { } changed)
            return Problems.Of(changed);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(View(saved.Value));
    }
}
