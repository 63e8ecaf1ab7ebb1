using System.Globalization;
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

internal sealed record SendStarted(int Count);

/// <summary>The writes that a filter leaves to be seen.</summary>
/// <param name="Plain">Those that go when nothing else is said.</param>
/// <param name="ByName">Those that go only where they are named: held, guarded, or not chosen the last time.</param>
internal sealed record WriteIds(IReadOnlyList<long> Plain, IReadOnlyList<long> ByName);

/// <summary>Which writes of a run to take back; null: all that were confirmed.</summary>
internal sealed record WritesToTakeBack(IReadOnlyList<long>? Only);

/// <summary>Which writes that were changed on both sides to decide; null: every one that is held.</summary>
internal sealed record WritesToDecide(IReadOnlyList<long>? Only);

public sealed record Decided(int Count);

/// <summary>Runs: what they would write, wrote and could not write.</summary>
internal static class RunsApi
{
    private static readonly string[] ExportColumns =
    [
        "kind",
        "way",
        "reference",
        "caption",
        "source key",
        "target key",
        "state",
        "field",
        "old",
        "new",
        "move",
        "unit",
        "held because",
        "guards",
        "what became of it",
    ];

    public static void Map(RouteGroupBuilder api)
    {
        var runs = api.MapGroup("/runs").WithTags("Runs");
        runs.MapGet("/", ListAsync).WithName("listRuns");
        runs.MapGet("/people", PeopleAsync).WithName("listRunStarters");
        runs.MapGet("/{id:long}", GetAsync).WithName("getRun");
        runs.MapGet("/{id:long}/writes", WritesAsync).WithName("listWrites");
        runs.MapGet("/{id:long}/writes/ids", IdsAsync).WithName("listWriteIds");
        runs.MapGet("/{id:long}/writes/{writeId:long}", WriteAsync).WithName("getWrite");
        runs.MapGet("/{id:long}/writes.{form:regex(^(csv|xlsx)$)}", ExportAsync).WithName("exportWrites");
        runs.MapGet("/{id:long}/troubles", TroublesAsync).WithName("listTroubles");
        runs.MapGet("/{id:long}/remarks", RemarksAsync).WithName("listRemarks");
        runs.MapPost("/{id:long}/send", SendAsync).WithName("sendRun");
        runs.MapPost("/{id:long}/again", AgainAsync).WithName("tryRunAgain");
        runs.MapPost("/{id:long}/stop", StopAsync).WithName("stopRun");
        runs.MapPost("/{id:long}/rollback", RollBackAsync).WithName("rollBackRun");
        runs.MapPost("/{id:long}/there", ThereAsync).WithName("letThereCount");
        runs.MapPost("/{id:long}/dismiss", DismissAsync).WithName("dismissRun");
    }

    private static async Task<Ok<Slice<RunSummary>>> ListAsync(
        [AsParameters] RunFilter filter,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var runs = filter.Of(db, db.Runs.AsNoTracking());
        var total = await runs.CountAsync(cancel);
        var page = await runs.OrderByDescending(r => r.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(new Slice<RunSummary>(total, window.From, await RunViews.AllAsync(db, page, cancel)));
    }

    // Who has started runs, whatever became of them.
    private static async Task<Ok<IReadOnlyList<string>>> PeopleAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return TypedResults.Ok<IReadOnlyList<string>>(
            await db
                .Runs.Where(r => r.Trigger != RunTrigger.Timetable)
                .Select(r => r.StartedBy)
                .Distinct()
                .OrderBy(n => n)
                .ToListAsync(cancel)
        );
    }

    private static async Task<Results<Ok<RunDetail>, ProblemHttpResult>> GetAsync(
        long id,
        Database database,
        AdapterSource adapters,
        RunDesk desk,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var run = await db.Runs.AsNoTracking().FirstOrDefaultAsync(r => r.Id == id, cancel);
        if (run is null)
            return Problems.NotFound($"There is no run {id}.");
        return TypedResults.Ok(
            new RunDetail(
                (await RunViews.AllAsync(db, [run], cancel))[0],
                await RunViews.RemarksAsync(db, id, cancel),
                await RunViews.HoldsAsync(db, id, cancel),
                TrippedGuard.Read(run.Tripped),
                await FieldsAsync(run, database, adapters, cancel),
                await LeadingAsync(db, id, cancel),
                await db.Troubles.CountAsync(t => t.RunId == id, cancel),
                await desk.StaleAsync(id, cancel)
            )
        );
    }

    private static async Task<IReadOnlyList<ShownField>> FieldsAsync(
        Run run,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var lane = await OpenLane.ForAsync(database, adapters, run.LaneId, cancel);
        if (lane.Fault is not null)
            return [];
        var sides = lane.Value.Sides;
        return [.. sides.Target.Fields.Select(f => ShownField.Of(f)), .. sides.Source.Fields.Select(f => ShownField.Of(f, Way.Back))];
    }

    private static Task<string?> LeadingAsync(NarbitContext db, long runId, CancellationToken cancel) =>
        db
            .Writes.Where(w => w.RunId == runId && w.Way == Way.There)
            .OrderBy(w => w.Id)
            .Select(w => w.Fields.OrderBy(f => f.Position).Select(f => f.Field).FirstOrDefault())
            .FirstOrDefaultAsync(cancel);

    private static async Task<Ok<Slice<WriteRow>>> WritesAsync(
        long id,
        [AsParameters] WriteFilter filter,
        string? sort,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var writes = filter.Of(db, id);
        var total = await writes.CountAsync(cancel);
        writes = sort switch
        {
            "reference" => writes.OrderBy(w => w.Reference).ThenBy(w => w.Id),
            "-reference" => writes.OrderByDescending(w => w.Reference).ThenBy(w => w.Id),
            "move" => writes.OrderBy(w => w.Move).ThenBy(w => w.Id),
            "-move" => writes.OrderByDescending(w => w.Move).ThenBy(w => w.Id),
            "size" => writes.OrderByDescending(w => Math.Abs(w.Move ?? 0)).ThenBy(w => w.Id),
            _ => writes.OrderBy(w => w.Id),
        };
        var rows = await WrittenApi.ReadAsync(db, writes.Select(w => w.Id).Skip(window.From).Take(window.Size), cancel);
        return TypedResults.Ok(new Slice<WriteRow>(total, window.From, [.. rows.Select(WriteRow.Of)]));
    }

    // Everything that a filter leaves, to be chosen in one act: what may be sent, or taken back. What is held counts only where held ones
    // were asked for by name.
    private static async Task<Ok<WriteIds>> IdsAsync(
        long id,
        [AsParameters] WriteFilter filter,
        string to,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var writes = filter.Of(db, id);
        writes =
            to == "takeBack" ? writes.Where(w => w.State == WriteState.Confirmed && w.TakenBackIn == null)
            : filter.Show == "held" ? writes.Where(w => w.State == WriteState.Held)
            : filter.Show == "skipped" ? writes
            : writes.Where(w => w.State == WriteState.Planned);
        var found = await writes
            .OrderBy(w => w.Id)
            .Select(w => new { w.Id, ByName = w.State != WriteState.Planned || w.Guards != "" })
            .ToListAsync(cancel);
        return TypedResults.Ok(
            new WriteIds(
                [.. found.Where(f => to == "takeBack" || !f.ByName).Select(f => f.Id)],
                [.. found.Where(f => to != "takeBack" && f.ByName).Select(f => f.Id)]
            )
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
                WriteRow.Of(write),
                rule,
                write.SentAt,
                write.ConfirmedAt,
                [
                    .. write
                        .Fields.OrderBy(f => f.Position)
                        .Select(f => new FieldChange(f.Field, f.Old, f.New, f.Stays, f.Trace is null ? [] : RuleJson.ReadTrace(f.Trace))),
                ],
                [
                    .. (await db.Tries.AsNoTracking().Where(t => t.WriteId == writeId).OrderBy(t => t.Id).ToListAsync(cancel)).Select(
                        t => new TryRow(t.Number, t.At, t.Why.Reason)
                    ),
                ]
            )
        );
    }

    // A line a field, so that a spreadsheet can filter by it.
    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(
        long id,
        string form,
        [AsParameters] WriteFilter filter,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var writes = await filter.Of(db, id).Include(w => w.Fields).OrderBy(w => w.Id).ToListAsync(cancel);
        var lines = writes.SelectMany(w => w.Fields.OrderBy(f => f.Position).Select(f => Line(w, f)));
        return Sheets.File(form, $"run-{id}", ExportColumns, lines);
    }

    private static IReadOnlyList<string?> Line(PlannedWrite write, PlannedField field) =>
        [
            write.Kind.ToString().ToLowerInvariant(),
            write.Way.ToString().ToLowerInvariant(),
            write.Reference,
            write.Caption,
            write.SourceKey,
            write.TargetKey,
            write.State.ToString().ToLowerInvariant(),
            field.Field,
            field.Old,
            field.New,
            field.Position == 0 ? write.Move?.ToString(CultureInfo.InvariantCulture) : null,
            field.Position == 0 ? write.MoveUnit : null,
            write.Hold?.Words,
            write.Guards,
            field.Stays ? "cannot be emptied there; left as it is" : write.Fate?.Words,
        ];

    private static async Task<Ok<Slice<TroubleRow>>> TroublesAsync(
        long id,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var troubles = db.Troubles.AsNoTracking().Where(t => t.RunId == id);
        var total = await troubles.CountAsync(cancel);
        var rows = await troubles.OrderBy(t => t.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(
            new Slice<TroubleRow>(
                total,
                window.From,
                [.. rows.Select(t => new TroubleRow(t.Id, t.At, t.System, t.Request, t.Attempts, t.Lost, t.Why.Reason, t.Answered))]
            )
        );
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
        var remarks = db.Remarks.AsNoTracking().Where(r => r.RunId == id && (cause == null || r.Why.Code == cause));
        var total = await remarks.CountAsync(cancel);
        var rows = await remarks.OrderBy(r => r.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(
            new Slice<RemarkRow>(
                total,
                window.From,
                [.. rows.Select(r => new RemarkRow(r.Id, r.Reference, r.Caption, r.SourceKey, r.TargetKey, r.Why.Reason))]
            )
        );
    }

    private static async Task<Results<Accepted<SendStarted>, ProblemHttpResult>> SendAsync(
        long id,
        Choice choice,
        Database database,
        RunDesk desk,
        CancellationToken cancel
    )
    {
        var sent = await desk.SendAsync(id, choice, await People.AtWorkAsync(database, cancel), cancel);
        return sent.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{id}", new SendStarted(sent.Value));
    }

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> AgainAsync(
        long id,
        RunDesk desk,
        CancellationToken cancel
    ) => Started(await desk.TryAgainAsync(id, cancel));

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> StopAsync(
        long id,
        Database database,
        RunDesk desk,
        CancellationToken cancel
    ) => Started(await desk.StopAsync(id, await People.AtWorkAsync(database, cancel), cancel));

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> RollBackAsync(
        long id,
        WritesToTakeBack request,
        Database database,
        RunDesk desk,
        CancellationToken cancel
    ) => Started(await desk.RollBackAsync(id, request.Only, await People.AtWorkAsync(database, cancel), cancel));

    private static async Task<Results<Accepted<RunStarted>, ProblemHttpResult>> DismissAsync(
        long id,
        Database database,
        RunDesk desk,
        CancellationToken cancel
    ) => Started(await desk.DismissAsync(id, await People.AtWorkAsync(database, cancel), cancel));

    private static Results<Accepted<RunStarted>, ProblemHttpResult> Started(Outcome<long> run) =>
        run.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted($"/api/runs/{run.Value}", new RunStarted(run.Value));

    private static async Task<Results<Ok<Decided>, ProblemHttpResult>> ThereAsync(
        long id,
        WritesToDecide request,
        Database database,
        RunDesk desk,
        CancellationToken cancel
    )
    {
        var decided = await desk.LetThereCountAsync(id, request.Only, await People.AtWorkAsync(database, cancel), cancel);
        return decided.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(new Decided(decided.Value));
    }
}
