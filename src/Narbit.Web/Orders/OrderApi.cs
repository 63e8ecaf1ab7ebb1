using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Core.Orders;
using Narbit.Data;
using Narbit.Engine;
using Narbit.Engine.Lanes.Orders;
using Narbit.Web.Api;

namespace Narbit.Web.Orders;

/// <summary>A decision about an order.</summary>
/// <param name="Choice">What is decided.</param>
/// <param name="ForAll">Whether it holds for all orders of the lane that wait for the same.</param>
internal sealed record OrderToDecide(OrderChoice Choice, bool ForAll);

/// <summary>What a decision did.</summary>
/// <param name="Moved">How many orders stand otherwise than before.</param>
internal sealed record OrderDecided(int Moved);

/// <summary>One order: both sides of it, and what is decided about it.</summary>
internal static class OrderApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var orders = api.MapGroup("/lanes/{id}/orders").WithTags("Orders");
        orders.MapGet("/{key}", GetAsync).WithName("getOrder");
        orders.MapPost("/{key}/decisions", DecideAsync).WithName("decideOrder");
        orders.MapDelete("/decisions/{decision:long}", UndoAsync).WithName("undoOrderDecision");
    }

    private static async Task<Results<Ok<OrderView>, ProblemHttpResult>> GetAsync(
        string id,
        string key,
        OrderDesk desk,
        CancellationToken cancel
    )
    {
        var view = await desk.ShowAsync(id, key, cancel);
        return view.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(view.Value);
    }

    private static async Task<Results<Ok<OrderDecided>, ProblemHttpResult>> DecideAsync(
        string id,
        string key,
        OrderToDecide decide,
        OrderDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        var moved = await desk.DecideAsync(id, decide.ForAll ? null : key, decide.Choice, by, cancel);
        if (moved.Fault is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(new OrderDecided(moved.Value));
    }

    private static async Task<Results<Ok<OrderDecided>, ProblemHttpResult>> UndoAsync(
        string id,
        long decision,
        OrderDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var moved = await desk.UndoAsync(id, decision, cancel);
        if (moved.Fault is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(new OrderDecided(moved.Value));
    }
}
