using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Engine;
using Narbit.Engine.Pairing;
using Narbit.Web.Api;

namespace Narbit.Web.Pairing;

internal sealed record DecisionsToMake(IReadOnlyList<DecisionToMake> Decisions);

/// <summary>One act for every open record of a filter; the number is what the person was told.</summary>
internal sealed record DecideAll(DecisionAct Act, string? Reason, string? Show, string? Cause, string? Side, string? Search, int Expected);

internal sealed record CommitRequest(IReadOnlyList<long>? Only, string? Note);

/// <param name="ThrownAt">When what is to be brought back was thrown away.</param>
internal sealed record BringBack(DateTimeOffset ThrownAt);

/// <summary>The pair desk: what is open, the seam with its evidence, candidates, decisions and their batches.</summary>
internal static class DeskApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var desk = api.MapGroup("/couples/{id:long}").WithTags("Pairing");
        desk.MapGet("/rows", RowsAsync).WithName("deskRows");
        desk.MapGet("/causes", CausesAsync).WithName("deskCauses");
        desk.MapGet("/seam", SeamAsync).WithName("deskSeam");
        desk.MapGet("/search", SearchAsync).WithName("deskSearch");
        desk.MapGet("/decisions", DecisionsAsync).WithName("listDecisions");
        desk.MapPost("/decisions", DecideAsync).WithName("decide");
        desk.MapPost("/decisions/all", DecideAllAsync).WithName("decideAll");
        desk.MapPost("/decisions/withdraw", WithdrawAsync).WithName("withdrawDecision");
        desk.MapDelete("/decisions", ThrowAwayAsync).WithName("throwDecisionsAway");
        desk.MapPost("/commit", CommitAsync).WithName("commitDecisions");
        desk.MapGet("/batches", BatchesAsync).WithName("listBatches");
        desk.MapPost("/batches/{batchId:long}/undo", UndoAsync).WithName("undoBatch");
        desk.MapPost("/batches/{batchId:long}/redo", RedoAsync).WithName("redoBatch");
        desk.MapGet("/batches/{batchId:long}/used", UsedAsync).WithName("batchUsedBy");
        desk.MapGet("/thrown", ThrownAsync).WithName("listThrown");
        desk.MapPost("/thrown/back", BringBackAsync).WithName("bringBack");
    }

    private static async Task<Ok<Slice<DeskRow>>> RowsAsync(
        long id,
        string? show,
        string? cause,
        string? side,
        string? search,
        int? offset,
        int? limit,
        DeskList list,
        CancellationToken cancel
    ) => TypedResults.Ok(await list.RowsAsync(id, new DeskFilter(show, cause, side, search), new Window(offset, limit), cancel));

    private static async Task<Ok<IReadOnlyList<DeskCause>>> CausesAsync(long id, DeskList list, CancellationToken cancel) =>
        TypedResults.Ok(await list.CausesAsync(id, cancel));

    private static async Task<Results<Ok<DeskSeam>, ProblemHttpResult>> SeamAsync(
        long id,
        string? hub,
        string? other,
        DeskSeams seams,
        CancellationToken cancel
    )
    {
        var seam = await seams.SeamAsync(id, hub, other, cancel);
        return seam.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(seam.Value);
    }

    private static async Task<Results<Ok<Slice<FoundRecord>>, ProblemHttpResult>> SearchAsync(
        long id,
        string side,
        string? text,
        int? offset,
        int? limit,
        DeskSeams seams,
        CancellationToken cancel
    )
    {
        var found = await seams.SearchAsync(id, side == "hub", text, new Window(offset, limit ?? 30), cancel);
        return found.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(found.Value);
    }

    private static async Task<Ok<IReadOnlyList<DecisionView>>> DecisionsAsync(
        long id,
        long? batch,
        string? key,
        DeskHistory history,
        CancellationToken cancel
    ) => TypedResults.Ok(await history.DecisionsAsync(id, batch, key, cancel));

    private static async Task<Results<Ok<Decided>, ProblemHttpResult>> DecideAsync(
        long id,
        DecisionsToMake request,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (request.Decisions.Count is 0 or > 500)
            return Problems.Of(new Core.Reason("decision.incomplete", "Give 1 to 500 decisions at a time."));
        var made = await desk.DecideAsync(id, request.Decisions, await People.AtWorkAsync(database, cancel), cancel);
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new Decided(made.Value));
    }

    private static async Task<Results<Ok<Accepted>, ProblemHttpResult>> DecideAllAsync(
        long id,
        DecideAll request,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var filter = new DeskFilter(request.Show, request.Cause, request.Side, request.Search);
        var accepted = await desk.DecideAllAsync(
            id,
            request.Act,
            request.Reason,
            filter.Narrow,
            request.Expected,
            await People.AtWorkAsync(database, cancel),
            cancel
        );
        if (accepted.Fault is { } fault)
            return Problems.Of(fault);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new Accepted(accepted.Value.Count));
    }

    private static async Task<Ok<Withdrawn>> WithdrawAsync(
        long id,
        long? decision,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var withdrawn = await desk.WithdrawAsync(id, decision, await People.AtWorkAsync(database, cancel), cancel);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new Withdrawn(withdrawn is null ? null : DeskHistory.View(withdrawn)));
    }

    private static async Task<Ok<ThrownAway>> ThrowAwayAsync(
        long id,
        DecisionDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        var (count, at) = await desk.ThrowAwayAsync(id, by, cancel);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(new ThrownAway(at, by, count, ""));
    }

    private static async Task<Ok<IReadOnlyList<ThrownAway>>> ThrownAsync(long id, DeskHistory history, CancellationToken cancel) =>
        TypedResults.Ok(await history.ThrownAsync(id, cancel));

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> BringBackAsync(
        long id,
        BringBack request,
        DecisionDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var back = await desk.BringBackAsync(id, request.ThrownAt, cancel);
        if (back.Fault is { } fault)
            return Problems.Of(fault);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(back.Value);
    }

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> CommitAsync(
        long id,
        CommitRequest request,
        DecisionDesk decisions,
        PairDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var result = await decisions.CommitAsync(id, request.Only, await People.AtWorkAsync(database, cancel), request.Note, cancel);
        if (result.Fault is { } fault)
            return Problems.Of(fault);
        // What is committed stays so, even where pairing the rest anew cannot be done now.
        await desk.PairAsync(id, read: false, CancellationToken.None);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(result.Value);
    }

    private static async Task<Ok<IReadOnlyList<BatchView>>> BatchesAsync(long id, DeskHistory history, CancellationToken cancel) =>
        TypedResults.Ok(await history.BatchesAsync(id, cancel));

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> UndoAsync(
        long id,
        long batchId,
        DecisionDesk decisions,
        PairDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var result = await decisions.UndoAsync(batchId, await People.AtWorkAsync(database, cancel), cancel);
        if (result.Fault is { } fault)
            return Problems.Of(fault);
        await desk.PairAsync(id, read: false, CancellationToken.None);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(result.Value);
    }

    private static async Task<Results<Ok<CommitResult>, ProblemHttpResult>> RedoAsync(
        long id,
        long batchId,
        DecisionDesk decisions,
        PairDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var result = await decisions.RedoAsync(batchId, cancel);
        if (result.Fault is { } fault)
            return Problems.Of(fault);
        await desk.PairAsync(id, read: false, CancellationToken.None);
        CouplesApi.Tell(live, id);
        return TypedResults.Ok(result.Value);
    }

    private static async Task<Ok<IReadOnlyList<RunByPairs>>> UsedAsync(long batchId, DecisionDesk decisions, CancellationToken cancel) =>
        TypedResults.Ok(await decisions.UsedByAsync(batchId, cancel));
}
