using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Runs;

public sealed record WriteCounts(
    int Planned,
    int Held,
    int Skipped,
    int Unknown,
    int Sent,
    int Confirmed,
    int Overtaken,
    int Failed,
    int Up,
    int Down,
    int New,
    int Gone,
    int Back,
    int Other,
    int Guarded,
    int TakenBack,
    int Total
);

public sealed record RunSummary(
    long Id,
    string LaneId,
    Data.Lanes.LaneKind LaneKind,
    string LaneName,
    SystemTag Source,
    SystemTag Target,
    bool Preview,
    RunTrigger Trigger,
    string StartedBy,
    RunState State,
    RunPhase Phase,
    int RuleNumber,
    DateTimeOffset StartedAt,
    DateTimeOffset? PlannedAt,
    DateTimeOffset? EndedAt,
    int Paired,
    int InStep,
    int Remarked,
    string? Message,
    bool Stopped,
    long? RollsBack,
    WriteCounts Writes
);

public sealed record CauseCount(string Cause, int Count);

/// <summary>A field of the target as a change set names it.</summary>
public sealed record FieldName(string Name, string Label, string? Unit);

public sealed record RunDetail(
    RunSummary Run,
    IReadOnlyList<CauseCount> Remarks,
    IReadOnlyList<CauseCount> Holds,
    string Unit,
    IReadOnlyList<TrippedGuard> Guards,
    IReadOnlyList<FieldName> Fields
);

public sealed record WriteRow(
    long Id,
    string? Sku,
    string? Title,
    string HubKey,
    string TargetKey,
    ChangeKind Kind,
    WriteState State,
    string? Old,
    string? New,
    double? Move,
    string? HoldReason,
    string? Message,
    int Attempts,
    int Fields,
    string? Field,
    WriteAct Act,
    bool ToSource,
    string Guards,
    long? TakenBackIn,
    bool Asks
);

public sealed record FieldChange(string Field, string? Old, string? New, IReadOnlyList<TraceStep> Trace);

public sealed record WriteDetail(
    WriteRow Write,
    int RuleNumber,
    DateTimeOffset? SentAt,
    DateTimeOffset? ConfirmedAt,
    IReadOnlyList<FieldChange> Fields
);

public sealed record RemarkRow(long Id, string? Sku, string? Title, string? HubKey, string? TargetKey, string Cause, string Message);

public sealed record SendStarted(int Count);

/// <summary>Which writes of a run to take back; null: all that were confirmed.</summary>
public sealed record WritesToTakeBack(IReadOnlyList<long>? Only);

/// <summary>Which writes that were changed on both sides to decide; null: every one that is held.</summary>
public sealed record WritesToDecide(IReadOnlyList<long>? Only);

public sealed record Decided(int Count);

/// <summary>Runs: what they would write, wrote and could not write.</summary>
public static class RunsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var runs = api.MapGroup("/runs").WithTags("Runs");
        runs.MapGet("/", ListAsync).WithName("listRuns");
        runs.MapGet("/{id:long}", GetAsync).WithName("getRun");
        runs.MapGet("/{id:long}/writes", WritesAsync).WithName("listWrites");
        runs.MapGet("/{id:long}/writes/ids", IdsAsync).WithName("listWriteIds");
        runs.MapGet("/{id:long}/writes/{writeId:long}", WriteAsync).WithName("getWrite");
        runs.MapGet("/{id:long}/writes.{form:regex(^(csv|xlsx)$)}", ExportAsync).WithName("exportWrites");
        runs.MapGet("/{id:long}/remarks", RemarksAsync).WithName("listRemarks");
        runs.MapPost("/{id:long}/send", SendAsync).WithName("sendRun");
        runs.MapPost("/{id:long}/again", AgainAsync).WithName("tryRunAgain");
        runs.MapPost("/{id:long}/rollback", RollBackAsync).WithName("rollBackRun");
        runs.MapPost("/{id:long}/there", ThereAsync).WithName("letThereCount");
        runs.MapPost("/{id:long}/dismiss", DismissAsync).WithName("dismissRun");
    }

    private static async Task<Ok<Slice<RunSummary>>> ListAsync(
        string? lane,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var runs = db.Runs.AsNoTracking().Where(r => lane == null || r.LaneId == lane);
        var total = await runs.CountAsync(cancel);
        var page = await runs.OrderByDescending(r => r.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(new Slice<RunSummary>(total, window.From, await SummariesAsync(db, page, cancel)));
    }

    public static async Task<IReadOnlyList<RunSummary>> SummariesAsync(NarbitContext db, IReadOnlyList<Run> runs, CancellationToken cancel)
    {
        var lanes = await LanesApi.SummariesAsync(db, null, cancel);
        var ids = runs.Select(r => r.Id).ToList();
        var counts = await db
            .Writes.Where(w => ids.Contains(w.RunId))
            .GroupBy(w => new
            {
                w.RunId,
                w.State,
                w.Kind,
                Guarded = w.Guards != "",
                Back = w.TakenBackIn != null,
            })
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        return
        [
            .. runs.Select(r =>
            {
                var lane = lanes.First(l => l.Id == r.LaneId);
                int Count(WriteState state) => counts.Where(c => c.Key.RunId == r.Id && c.Key.State == state).Sum(c => c.Count);
                int Kind(ChangeKind kind) => counts.Where(c => c.Key.RunId == r.Id && c.Key.Kind == kind).Sum(c => c.Count);
                return new RunSummary(
                    r.Id,
                    r.LaneId,
                    lane.Kind,
                    lane.Name,
                    lane.Source,
                    lane.Target,
                    r.Preview,
                    r.Trigger,
                    r.StartedBy,
                    r.State,
                    r.Phase,
                    r.RuleNumber,
                    r.StartedAt,
                    r.PlannedAt,
                    r.EndedAt,
                    r.Paired,
                    r.InStep,
                    r.Remarked,
                    r.Message,
                    r is { State: RunState.Ready, Preview: false },
                    r.RollsBack,
                    new WriteCounts(
                        Count(WriteState.Planned),
                        Count(WriteState.Held),
                        Count(WriteState.Skipped),
                        Count(WriteState.Unknown),
                        Count(WriteState.Sent),
                        Count(WriteState.Confirmed),
                        Count(WriteState.Overtaken),
                        Count(WriteState.Failed),
                        Kind(ChangeKind.Up),
                        Kind(ChangeKind.Down),
                        Kind(ChangeKind.New),
                        Kind(ChangeKind.Gone),
                        Kind(ChangeKind.Back),
                        Kind(ChangeKind.Other),
                        counts.Where(c => c.Key.RunId == r.Id && c.Key.Guarded).Sum(c => c.Count),
                        counts.Where(c => c.Key.RunId == r.Id && c.Key.Back).Sum(c => c.Count),
                        counts.Where(c => c.Key.RunId == r.Id).Sum(c => c.Count)
                    )
                );
            }),
        ];
    }

    private static async Task<Results<Ok<RunDetail>, ProblemHttpResult>> GetAsync(
        long id,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var run = await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == id, cancel);
        if (run is null)
            return Problems.NotFound($"There is no run {id}.");
        var summary = (await SummariesAsync(db, [run], cancel))[0];
        var remarks = await db
            .Remarks.Where(r => r.RunId == id)
            .GroupBy(r => r.Cause)
            .Select(g => new CauseCount(g.Key, g.Count()))
            .ToListAsync(cancel);
        var held = await db.Writes.Where(w => w.RunId == id && w.State == WriteState.Held).Select(w => w.HoldReason!).ToListAsync(cancel);
        var holds = held.GroupBy(HoldKind).Select(g => new CauseCount(g.Key, g.Count())).OrderByDescending(c => c.Count).ToList();
        return TypedResults.Ok(
            new RunDetail(
                summary,
                remarks,
                holds,
                summary.LaneKind switch
                {
                    Data.Lanes.LaneKind.Price => "€",
                    Data.Lanes.LaneKind.Stock => "pcs",
                    _ => "",
                },
                RuleJson.ReadTripped(run.Tripped),
                await FieldsAsync(run, database, adapters, cancel)
            )
        );
    }

    private static async Task<IReadOnlyList<FieldName>> FieldsAsync(
        Run run,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var lane = await OpenLane.ForAsync(database, adapters, run.LaneId, cancel);
        if (lane.Fault is not null)
            return [];
        return
        [
            .. lane
                .Value.TargetItems.Fields.Concat(lane.Value.SourceItems.Fields)
                .Select(f => new FieldName(f.Name, f.Label, f.Unit))
                .DistinctBy(f => f.Name),
        ];
    }

    /// <summary>The reason without its figures, so that equal reasons are counted together.</summary>
    public static string HoldKind(string reason) =>
        reason.Split(':')[0] switch
        {
            var r when r.Contains("would rise", StringComparison.Ordinal) => "would rise to more than 3 times what is there",
            var r when r.Contains("on both sides", StringComparison.Ordinal) => "changed on both sides",
            var r when r.Contains("would fall", StringComparison.Ordinal) => "would fall below 40 % of what is there",
            var r => r,
        };

    private static IQueryable<PlannedWrite> Filtered(NarbitContext db, long id, string? show, string? search, string? field, double? least)
    {
        var writes = db.Writes.AsNoTracking().Where(w => w.RunId == id);
        if (least is { } move)
            writes = writes.Where(w => w.Move >= move || w.Move <= -move);
        if (field is not null)
            writes = writes.Where(w => w.Fields.Any(f => f.Field == field));
        writes = show switch
        {
            "up" => writes.Where(w => w.Kind == ChangeKind.Up),
            "down" => writes.Where(w => w.Kind == ChangeKind.Down),
            "new" => writes.Where(w => w.Kind == ChangeKind.New),
            "gone" => writes.Where(w => w.Kind == ChangeKind.Gone),
            "back" => writes.Where(w => w.Kind == ChangeKind.Back),
            "other" => writes.Where(w => w.Kind == ChangeKind.Other),
            "guarded" => writes.Where(w => w.Guards != ""),
            "takenBack" => writes.Where(w => w.TakenBackIn != null),
            "held" => writes.Where(w => w.State == WriteState.Held),
            "failed" => writes.Where(w => w.State == WriteState.Failed || w.State == WriteState.Overtaken),
            "confirmed" => writes.Where(w => w.State == WriteState.Confirmed),
            "open" => writes.Where(w => w.State == WriteState.Planned || w.State == WriteState.Unknown || w.State == WriteState.Sent),
            "skipped" => writes.Where(w => w.State == WriteState.Skipped),
            _ => writes,
        };
        if (string.IsNullOrWhiteSpace(search))
            return writes;
        var like = Window.Like(search);
        return writes.Where(w => EF.Functions.Like(w.Sku!, like, "\\") || EF.Functions.Like(w.Title!, like, "\\"));
    }

    private static async Task<Ok<Slice<WriteRow>>> WritesAsync(
        long id,
        string? show,
        string? search,
        string? field,
        double? least,
        string? sort,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var writes = Filtered(db, id, show, search, field, least);
        var total = await writes.CountAsync(cancel);
        writes = sort switch
        {
            "sku" => writes.OrderBy(w => w.Sku).ThenBy(w => w.Id),
            "-sku" => writes.OrderByDescending(w => w.Sku).ThenBy(w => w.Id),
            "move" => writes.OrderBy(w => w.Move).ThenBy(w => w.Id),
            "-move" => writes.OrderByDescending(w => w.Move).ThenBy(w => w.Id),
            "size" => writes.OrderByDescending(w => Math.Abs(w.Move ?? 0)).ThenBy(w => w.Id),
            _ => writes.OrderBy(w => w.Id),
        };
        var rows = await writes.Include(w => w.Fields).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(new Slice<WriteRow>(total, window.From, [.. rows.Select(Row)]));
    }

    // Everything that a filter leaves, to be chosen in one act: what may be sent, or taken back. What is held counts only where held ones
    // were asked for by name.
    private static async Task<Ok<IReadOnlyList<long>>> IdsAsync(
        long id,
        string? show,
        string? search,
        string? field,
        double? least,
        string to,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var writes = Filtered(db, id, show, search, field, least);
        writes =
            to == "takeBack" ? writes.Where(w => w.State == WriteState.Confirmed && w.TakenBackIn == null)
            : show == "held" ? writes.Where(w => w.State == WriteState.Held)
            : writes.Where(w => w.State == WriteState.Planned);
        return TypedResults.Ok<IReadOnlyList<long>>(await writes.OrderBy(w => w.Id).Select(w => w.Id).ToListAsync(cancel));
    }

    private static WriteRow Row(PlannedWrite w)
    {
        var leading = w.Fields.MinBy(f => f.Position);
        return new WriteRow(
            w.Id,
            w.Sku,
            w.Title,
            w.HubKey,
            w.TargetKey,
            w.Kind,
            w.State,
            leading?.Old,
            leading?.New,
            w.Move,
            w.HoldReason,
            w.Message,
            w.Attempts,
            w.Fields.Count,
            leading?.Field,
            w.Act,
            w.ToSource,
            w.Guards,
            w.TakenBackIn,
            w.State == WriteState.Held && w.Fields.Exists(f => f.Asks)
        );
    }

    private static async Task<Results<Ok<WriteDetail>, ProblemHttpResult>> WriteAsync(
        long id,
        long writeId,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var write = await db
            .Writes.AsNoTracking()
            .Include(w => w.Fields)
            .FirstOrDefaultAsync(w => w.RunId == id && w.Id == writeId, cancel);
        if (write is null)
            return Problems.NotFound($"Run {id} has no write {writeId}.");
        var rule = await db.Runs.Where(r => r.Id == id).Select(r => r.RuleNumber).FirstAsync(cancel);
        return TypedResults.Ok(
            new WriteDetail(
                Row(write),
                rule,
                write.SentAt,
                write.ConfirmedAt,
                [
                    .. write
                        .Fields.OrderBy(f => f.Position)
                        .Select(f => new FieldChange(f.Field, f.Old, f.New, f.Trace is null ? [] : RuleJson.ReadTrace(f.Trace))),
                ]
            )
        );
    }

    // A line a field, so that a spreadsheet can filter by it.
    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(
        long id,
        string form,
        string? show,
        string? search,
        string? field,
        double? least,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var writes = await Filtered(db, id, show, search, field, least).Include(w => w.Fields).OrderBy(w => w.Id).ToListAsync(cancel);
        return Sheets.File(
            form,
            $"run-{id}",
            ["kind", "sku", "title", "hub key", "target key", "state", "field", "old", "new", "move", "held because", "guards", "message"],
            writes.SelectMany(w =>
                w.Fields.OrderBy(f => f.Position)
                    .Select(f =>
                        (IReadOnlyList<string?>)
                            [
                                w.Kind.ToString().ToLowerInvariant(),
                                w.Sku,
                                w.Title,
                                w.HubKey,
                                w.TargetKey,
                                w.State.ToString().ToLowerInvariant(),
                                f.Field,
                                f.Old,
                                f.New,
                                f.Position == 0 ? w.Move?.ToString(CultureInfo.InvariantCulture) : null,
                                w.HoldReason,
                                w.Guards,
                                w.Message,
                            ]
                    )
            )
        );
    }

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> RollBackAsync(
        long id,
        WritesToTakeBack request,
        Database database,
        RunEngine engine,
        CancellationToken cancel
    )
    {
        var run = await engine.RollBackAsync(id, request.Only, await PersonAsync(database, cancel), cancel);
        return run.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{run.Value}", new RunStarted(run.Value));
    }

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> DismissAsync(
        long id,
        Database database,
        RunEngine engine,
        CancellationToken cancel
    )
    {
        var run = await engine.DismissAsync(id, await PersonAsync(database, cancel), cancel);
        return run.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{id}", new RunStarted(run.Value));
    }

    private static async Task<Results<Ok<Decided>, ProblemHttpResult>> ThereAsync(
        long id,
        WritesToDecide request,
        Database database,
        RunEngine engine,
        CancellationToken cancel
    )
    {
        var decided = await engine.LetThereCountAsync(id, request.Only, await PersonAsync(database, cancel), cancel);
        return decided.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(new Decided(decided.Value));
    }

    private static async Task<string> PersonAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db.Workspaces.Select(w => w.Person).FirstOrDefaultAsync(cancel) ?? "somebody";
    }

    private static async Task<Ok<Slice<RemarkRow>>> RemarksAsync(
        long id,
        string? cause,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var remarks = db.Remarks.AsNoTracking().Where(r => r.RunId == id && (cause == null || r.Cause == cause));
        var total = await remarks.CountAsync(cancel);
        var rows = await remarks.OrderBy(r => r.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(
            new Slice<RemarkRow>(
                total,
                window.From,
                [.. rows.Select(r => new RemarkRow(r.Id, r.Sku, r.Title, r.HubKey, r.TargetKey, r.Cause, r.Message))]
            )
        );
    }

    private static async Task<Results<Accepted<SendStarted>, ProblemHttpResult>> SendAsync(
        long id,
        Choice choice,
        Database database,
        RunEngine engine,
        CancellationToken cancel
    )
    {
        var sent = await engine.SendAsync(id, choice, await PersonAsync(database, cancel), cancel);
        return sent.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{id}", new SendStarted(sent.Value));
    }

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> AgainAsync(
        long id,
        RunEngine engine,
        CancellationToken cancel
    )
    {
        var run = await engine.TryAgainAsync(id, cancel);
        return run.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{id}", new RunStarted(run.Value));
    }
}
