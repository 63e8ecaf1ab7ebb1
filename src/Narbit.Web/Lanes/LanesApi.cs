using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;
using Narbit.Web.Api;
using Narbit.Web.Timetable;

namespace Narbit.Web.Lanes;

public sealed record LaneSummary(
    string Id,
    LaneKind Kind,
    string Name,
    SystemTag Source,
    SystemTag Target,
    string? SkuStartsWith,
    bool PublishedOnly,
    int RuleNumber,
    int? EveryMinutes,
    bool Paused,
    DateTimeOffset? NextDueAt,
    DateTimeOffset? ComparedAt,
    long? ComparedRunId,
    int Paired,
    int InStep,
    int Waiting,
    int OutOfStep,
    int UnpairedThere,
    int UnpairedHere,
    long? WorkingRunId,
    long? ReadyRunId,
    long? CoupleId,
    DateTimeOffset? HeldAt,
    string? HeldBy,
    bool Off,
    bool ReadyIsStopped,
    int Links
);

public sealed record LaneScope(string? SkuStartsWith, bool PublishedOnly);

public sealed record LaneTimes(int? EveryMinutes, bool Paused);

public sealed record LaneSwitch(bool Off);

/// <summary>A rule as a version of it was saved: one of price, stock and map is there.</summary>
public sealed record RuleView(
    int Number,
    string Author,
    DateTimeOffset At,
    string? Note,
    PriceRule? Price,
    StockRule? Stock,
    FieldMap? Map,
    GuardLimits Guards
);

public sealed record RuleChoices(
    IReadOnlyList<string> PriceLists,
    IReadOnlyList<string> Groups,
    IReadOnlyList<string> Locations,
    string Currency,
    int Decimals
);

public sealed record RuleToTry(PriceRule? Price, StockRule? Stock, GuardLimits? Guards);

public sealed record RuleToSave(int BaseNumber, string? Note, PriceRule? Price, StockRule? Stock, FieldMap? Map, GuardLimits? Guards);

/// <summary>Two records on a seam, with what the lane makes of them.</summary>
public sealed record SeamView(IReadOnlyList<SeamRow> Rows, IReadOnlyList<TraceStep> Trace, string? Cause, string? Hold);

public sealed record RunToStart(bool Preview);

public sealed record RunStarted(long RunId);

/// <summary>Lanes: scope, pairs, rule, timetable, and starting their runs.</summary>
public static class LanesApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var lanes = api.MapGroup("/lanes").WithTags("Lanes");
        lanes.MapGet("/", ListAsync).WithName("listLanes");
        lanes.MapGet("/{id}", GetAsync).WithName("getLane");
        lanes.MapPut("/{id}/scope", ScopeAsync).WithName("setScope");
        lanes.MapPut("/{id}/off", OffAsync).WithName("switchLane");
        lanes.MapPut("/{id}/timetable", TimesAsync).WithName("setTimetable");
        lanes.MapGet("/{id}/rule", RuleAsync).WithName("getRule");
        lanes.MapGet("/{id}/rule/choices", ChoicesAsync).WithName("ruleChoices");
        lanes.MapGet("/{id}/rule/versions", VersionsAsync).WithName("ruleVersions");
        lanes.MapPost("/{id}/rule/try", TryAsync).WithName("tryRule");
        lanes.MapPut("/{id}/rule", SaveAsync).WithName("saveRule");
        lanes.MapGet("/{id}/seam/{otherKey}", SeamAsync).WithName("getSeam");
        lanes.MapPost("/{id}/runs", StartAsync).WithName("startRun");
    }

    public static SystemTag Tag(Data.Systems.ConnectedSystem s) => new(s.Id, s.Name, s.Mark, s.Kind);

    private static async Task<Ok<IReadOnlyList<LaneSummary>>> ListAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return TypedResults.Ok(await SummariesAsync(db, null, cancel));
    }

    public static async Task<IReadOnlyList<LaneSummary>> SummariesAsync(NarbitContext db, string? only, CancellationToken cancel)
    {
        var systems = await db.Systems.AsNoTracking().ToDictionaryAsync(s => s.Id, cancel);
        var summaries = new List<LaneSummary>();
        foreach (var lane in await db.Lanes.AsNoTracking().Where(l => only == null || l.Id == only).ToListAsync(cancel))
        {
            var (source, target) = (systems[lane.SourceId], systems[lane.TargetId]);
            var coupleId = await db
                .Couples.Where(c => c.HubId == lane.SourceId && c.OtherId == lane.TargetId && c.Kind == RecordKind.Item)
                .Select(c => (long?)c.Id)
                .FirstOrDefaultAsync(cancel);
            var unpaired = db.Proposals.Where(p => p.CoupleId == coupleId);
            var open = await db
                .Runs.Where(r => r.LaneId == lane.Id && (r.State == RunState.Working || r.State == RunState.Ready))
                .OrderByDescending(r => r.Id)
                .Select(r => new
                {
                    r.Id,
                    r.State,
                    r.Preview,
                })
                .ToListAsync(cancel);
            summaries.Add(
                new LaneSummary(
                    lane.Id,
                    lane.Kind,
                    Name(lane.Kind),
                    Tag(source),
                    Tag(target),
                    lane.SkuStartsWith,
                    lane.PublishedOnly,
                    lane.RuleNumber,
                    lane.EveryMinutes,
                    lane.Paused,
                    lane.NextDueAt,
                    lane.ComparedAt,
                    lane.ComparedRunId,
                    lane.Paired,
                    lane.InStep,
                    lane.Waiting,
                    lane.OutOfStep,
                    await unpaired.CountAsync(p => p.OtherKey != null, cancel),
                    await unpaired.CountAsync(p => p.HubKey != null, cancel),
                    open.FirstOrDefault(r => r.State == RunState.Working)?.Id,
                    open.FirstOrDefault(r => r.State == RunState.Ready)?.Id,
                    coupleId,
                    lane.HeldAt,
                    lane.HeldBy,
                    lane.Off,
                    open.Exists(r => r is { State: RunState.Ready, Preview: false }),
                    await db.Links.CountAsync(l => l.CoupleId == coupleId, cancel)
                )
            );
        }

        return summaries;
    }

    /// <summary>What flows in a lane, as a person reads it.</summary>
    public static string Name(LaneKind kind) =>
        kind switch
        {
            LaneKind.Item => "Items",
            LaneKind.Price => "Prices",
            LaneKind.Stock => "Stock levels",
            _ => "Corrections",
        };

    private static async Task<Results<Ok<LaneSummary>, ProblemHttpResult>> GetAsync(string id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await SummariesAsync(db, id, cancel) is [var lane] ? TypedResults.Ok(lane) : Problems.NotFound($"There is no lane “{id}”.");
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> ScopeAsync(
        string id,
        LaneScope scope,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var start = string.IsNullOrWhiteSpace(scope.SkuStartsWith) ? null : scope.SkuStartsWith.Trim();
        var changed = await db
            .Lanes.Where(l => l.Id == id)
            .ExecuteUpdateAsync(
                s => s.SetProperty(l => l.SkuStartsWith, start).SetProperty(l => l.PublishedOnly, scope.PublishedOnly),
                cancel
            );
        if (changed == 0)
            return Problems.NotFound($"There is no lane “{id}”.");
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> OffAsync(
        string id,
        LaneSwitch request,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Lanes.Where(l => l.Id == id).ExecuteUpdateAsync(s => s.SetProperty(l => l.Off, request.Off), cancel) == 0)
            return Problems.NotFound($"There is no lane “{id}”.");
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> TimesAsync(
        string id,
        LaneTimes times,
        LaneTimetable timetable,
        CancellationToken cancel
    ) =>
        await timetable.SetAsync(id, times.EveryMinutes, times.Paused, cancel) is { } fault ? Problems.Of(fault) : TypedResults.NoContent();

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
        return version is null ? Problems.NotFound($"There is no version {number}.") : TypedResults.Ok(View(lane.Kind, version));
    }

    private static async Task<Ok<IReadOnlyList<RuleView>>> VersionsAsync(string id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var kind = await db.Lanes.Where(l => l.Id == id).Select(l => l.Kind).FirstOrDefaultAsync(cancel);
        var versions = await db
            .RuleVersions.AsNoTracking()
            .Where(v => v.LaneId == id)
            .OrderByDescending(v => v.Number)
            .Take(200)
            .ToListAsync(cancel);
        return TypedResults.Ok<IReadOnlyList<RuleView>>([.. versions.Select(v => View(kind, v))]);
    }

    private static RuleView View(LaneKind kind, RuleVersion version) =>
        new(
            version.Number,
            version.Author,
            version.At,
            version.Note,
            kind == LaneKind.Price ? RuleJson.ReadPriceRule(version.Document).Value : null,
            kind == LaneKind.Stock ? RuleJson.ReadStockRule(version.Document).Value : null,
            kind == LaneKind.Item ? RuleJson.ReadMap(version.Document).Value : null,
            RuleJson.ReadGuards(version.Guards).ValueOrDefault ?? new GuardLimits()
        );

    private static async Task<Results<Ok<RuleChoices>, ProblemHttpResult>> ChoicesAsync(
        string id,
        Database database,
        AdapterSource adapters,
        RuleTrial trial,
        CancellationToken cancel
    )
    {
        var lane = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (lane.Fault is { } fault)
            return Problems.Of(fault);
        var locations = await trial.LocationsAsync(lane.Value, cancel);
        return TypedResults.Ok(
            new RuleChoices(
                lane.Value.SourceItems.PriceLists,
                lane.Value.TargetItems.PriceLists,
                [.. locations],
                lane.Value.Target.System.Currency,
                lane.Value.Target.System.Decimals
            )
        );
    }

    private static string? Document(PriceRule? price, StockRule? stock, FieldMap? map) =>
        price is not null ? RuleJson.Write(price)
        : stock is not null ? RuleJson.Write(stock)
        : map is not null ? RuleJson.Write(map)
        : null;

    private static async Task<Results<Ok<TrialResult>, ProblemHttpResult>> TryAsync(
        string id,
        RuleToTry request,
        RuleTrial trial,
        CancellationToken cancel
    )
    {
        if (Document(request.Price, request.Stock, null) is not { } document)
            return Problems.Of(new Fault("rule.unreadable", "The request has no rule."));
        var result = await trial.TryAsync(id, document, request.Guards is null ? null : RuleJson.Write(request.Guards), cancel);
        return result.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(result.Value);
    }

    private static async Task<Results<Ok<RuleView>, ProblemHttpResult>> SaveAsync(
        string id,
        RuleToSave request,
        Database database,
        AdapterSource adapters,
        RuleTrial trial,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (Document(request.Price, request.Stock, request.Map) is not { } document)
            return Problems.Of(new Fault("rule.unreadable", "The request has no rule."));
        var lane = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (lane.Fault is { } fault)
            return Problems.Of(fault);
        List<RuleFault> faults =
        [
            .. lane.Value.Check(document, await trial.LocationsAsync(lane.Value, cancel)),
            .. (request.Guards ?? new GuardLimits()).Check(),
        ];
        if (faults.Exists(f => f.Severity == Severity.Refuse))
            return Problems.Of(faults);
        var saved = await SaveVersionAsync(
            lane.Value,
            request.BaseNumber,
            document,
            request.Guards,
            request.Note,
            database,
            clock,
            live,
            cancel
        );
        return saved.Fault is { } changed ? Problems.Of(changed) : TypedResults.Ok(View(lane.Value.Lane.Kind, saved.Value));
    }

    /// <summary>Saves a version on top of the one that it was made from; on top of another it is refused.</summary>
    internal static async Task<Outcome<RuleVersion>> SaveVersionAsync(
        OpenLane lane,
        int baseNumber,
        string document,
        GuardLimits? guards,
        string? note,
        Database database,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var id = lane.Lane.Id;
        await using var db = database.CreateDbContext();
        var version = new RuleVersion
        {
            LaneId = id,
            Number = baseNumber + 1,
            Document = document,
            Guards = guards is null ? lane.Rule.Guards : RuleJson.Write(guards),
            Author = await db.Workspaces.Select(w => w.Person).FirstAsync(cancel),
            At = clock.GetUtcNow(),
            Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim(),
        };
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var moved = await db
            .Lanes.Where(l => l.Id == id && l.RuleNumber == baseNumber)
            .ExecuteUpdateAsync(s => s.SetProperty(l => l.RuleNumber, version.Number), cancel);
        if (moved == 0)
        {
            var current = await db
                .RuleVersions.AsNoTracking()
                .Where(v => v.LaneId == id)
                .OrderByDescending(v => v.Number)
                .FirstAsync(cancel);
            return new Fault(
                "rule.changed",
                $"This rule was saved in another window meanwhile: version {current.Number} by "
                    + $"{current.Author}{(current.Note is null ? "" : $", “{current.Note}”")}. Nothing of yours was saved. "
                    + $"Reload to see it; your entries stay here until you do."
            );
        }

        db.RuleVersions.Add(version);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        live.Tell(new LiveEvent("lane", id));
        return version;
    }

    private static async Task<Results<Ok<SeamView>, ProblemHttpResult>> SeamAsync(
        string id,
        string otherKey,
        Database database,
        AdapterSource adapters,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var lane = opened.Value;
        await using var db = database.CreateDbContext();
        var hubKey = await (
            from link in db.Links
            join couple in db.Couples on link.CoupleId equals couple.Id
            where
                couple.HubId == lane.Source.System.Id
                && couple.OtherId == lane.Target.System.Id
                && couple.Kind == RecordKind.Item
                && link.OtherKey == otherKey
                && !link.IsKit
            select link.HubKey
        ).FirstOrDefaultAsync(cancel);
        if (hubKey is null)
            return Problems.NotFound("This listing is not paired, or it is a kit.");

        async Task<SideRecord> SideAsync(string systemId, string? key)
        {
            var record = key is null
                ? null
                : await db
                    .Records.AsNoTracking()
                    .FirstOrDefaultAsync(r => r.SystemId == systemId && r.Kind == RecordKind.Item && r.Key == key, cancel);
            return record is null
                ? new SideRecord("", new Dictionary<string, string>(), [])
                : new SideRecord(record.Key, StoredRecord.Values(record.Values), StoredRecord.Problems(record.Problems));
        }

        var (here, there) = (await SideAsync(lane.Source.System.Id, hubKey), await SideAsync(lane.Target.System.Id, otherKey));
        var rows = Seam.Between(lane.SourceItems, here.Values, lane.TargetItems, there.Values).ToList();
        var levels = await LevelsAsync(db, lane, hubKey, cancel);
        var agreed = await db
            .Agreed.AsNoTracking()
            .Where(a => a.LaneId == id && a.TargetKey == otherKey)
            .ToDictionaryAsync(a => a.Field, StringComparer.Ordinal, cancel);
        var computation = lane.Computation(lane.Rule.Document, clock.GetUtcNow());
        if (computation.Fault is { } broken)
            return Problems.Of(broken);
        var computed = computation.Value.Compute(
            new LanePair(here, there, null, null, levels, agreed.Values.FirstOrDefault(), [])
            {
                Item = new ItemPlace(new MapRecord(here.Values, There: there.Values), agreed, null, null, Presence.Paired),
            }
        );
        foreach (var field in computed.Fields)
        {
            var sign = field.Changes ? SeamSign.WillChange : SeamSign.Same;
            rows.Add(
                new SeamRow(
                    $"{field.Field.Label} by the rule",
                    Seam.Shown(field.Field, field.New),
                    field.Field.Unit,
                    sign,
                    Seam.Shown(field.Field, field.Old),
                    field.Field.Unit
                )
            );
        }

        return TypedResults.Ok(
            new SeamView(rows, computed.Fields.Count > 0 ? computed.Fields[0].Trace : [], computed.Message, computed.Hold)
        );
    }

    private static async Task<IReadOnlyList<StockLevel>> LevelsAsync(
        NarbitContext db,
        OpenLane lane,
        string hubKey,
        CancellationToken cancel
    )
    {
        if (lane.Lane.Kind != LaneKind.Stock)
            return [];
        var fields = lane.Source.Adapter.Kinds.First(k => k.Kind == RecordKind.StockLevel).Fields;
        var stored = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == lane.Source.System.Id && r.Kind == RecordKind.StockLevel && r.Parent == hubKey && r.GoneAt == null)
            .Select(r => r.Values)
            .ToListAsync(cancel);
        return [.. stored.Select(v => fields.StockLevel(StoredRecord.Values(v)))];
    }

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> StartAsync(
        string id,
        RunToStart request,
        Database database,
        RunEngine engine,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var person = await db.Workspaces.Select(w => w.Person).FirstOrDefaultAsync(cancel) ?? "somebody";
        var run = await engine.StartAsync(id, request.Preview, RunTrigger.Person, person, cancel);
        return run.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{run.Value}", new RunStarted(run.Value));
    }
}
