using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Reading;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Orders;

/// <summary>Why an order is held or waits, and what the cause is about.</summary>
public sealed record OrderCauseView(string Cause, OrderOutcome Outcome, string Words, string? Line, string? Subject, decimal? By);

/// <summary>A line of the hub's document with the name of its item.</summary>
public sealed record DocumentLineView
{
    public DocumentLineKind Kind { get; init; }

    public string? Item { get; init; }

    public string? ItemName { get; init; }

    public string? Sku { get; init; }

    public long Quantity { get; init; }

    public decimal Net { get; init; }

    public decimal Tax { get; init; }

    public decimal Gross { get; init; }

    /// <summary>In percent.</summary>
    public decimal TaxRate { get; init; }
}

/// <summary>The hub's document as it would be, or would have been, made.</summary>
public sealed record DocumentView
{
    public required string Number { get; init; }

    public required string As { get; init; }

    /// <summary>The customer's key; null: there is none yet.</summary>
    public string? CustomerKey { get; init; }

    public string? CustomerName { get; init; }

    /// <summary>Whether the customer is created with it.</summary>
    public bool CreatesCustomer { get; init; }

    public required string PaidBy { get; init; }

    public decimal Net { get; init; }

    public decimal Tax { get; init; }

    public decimal Gross { get; init; }
}

/// <summary>A line of an order and what it became.</summary>
public sealed record OrderLineView(OrderLine Line, decimal Amount, IReadOnlyList<DocumentLineView> Became);

/// <summary>A customer of the hub that the buyer could be.</summary>
public sealed record BuyerCandidate(string Key, string? Name, string? Email, string? Postcode, IReadOnlyList<string> Alike);

/// <summary>A refund and its credit note.</summary>
public sealed record RefundView(string Refund, DateTimeOffset? At, decimal Total, OrderOutcome? Outcome, string? Words, string? CreditNote);

/// <summary>What was decided about an order.</summary>
public sealed record OrderDecisionView(long Id, OrderChoice Choice, bool ForAll, string By, DateTimeOffset At);

/// <summary>What an order earned.</summary>
/// <param name="Net">What was paid for it, net.</param>
/// <param name="Cost">What its goods cost, where all costs are known.</param>
/// <param name="Margin">The share of the net that is left, in percent.</param>
public sealed record Earned(decimal Net, decimal? Cost, decimal? Margin);

/// <summary>The write that posted an order.</summary>
/// <param name="Run">The run.</param>
/// <param name="Write">The write.</param>
public sealed record Posting(long Run, long Write);

/// <summary>What has changed of an order since it was posted, and what may be done with its document.</summary>
public sealed record AfterView(
    IReadOnlyList<OrderPart> Parts,
    string Subject,
    string? Cause,
    string? Words,
    IReadOnlyList<AfterPosting> Choices
);

/// <summary>One order on the seam.</summary>
public sealed record OrderView
{
    public required string Lane { get; init; }

    public required SystemTag Store { get; init; }

    public required SystemTag Hub { get; init; }

    public required string Key { get; init; }

    /// <summary>Where it stands.</summary>
    public OrderStage Stage { get; init; }

    /// <summary>The order as it was read; null: it could not be.</summary>
    /// <summary>The currency of all its amounts, ISO 4217.</summary>
    public string Currency { get; init; } = "";

    public Order? Order { get; init; }

    /// <summary>Why it could not be read.</summary>
    public string? Unreadable { get; init; }

    public IReadOnlyList<OrderCauseView> Causes { get; init; } = [];

    public IReadOnlyList<string> Remarks { get; init; } = [];

    public IReadOnlyList<OrderLineView> Lines { get; init; } = [];

    /// <summary>What has changed in the store since it was posted; null: nothing.</summary>
    public AfterView? After { get; init; }

    /// <summary>What the document has beside the goods.</summary>
    public IReadOnlyList<DocumentLineView> Beside { get; init; } = [];

    /// <summary>The document; null: the order is skipped.</summary>
    public DocumentView? Document { get; init; }

    /// <summary>By how much the lines are off the total.</summary>
    public decimal Off { get; init; }

    /// <summary>The hub's document as it is there; null: there is none.</summary>
    public string? HubKey { get; init; }

    /// <summary>The hub's own state of it.</summary>
    public string? HubState { get; init; }

    /// <summary>What was sent, by the hub.</summary>
    public IReadOnlyList<string> Shipments { get; init; } = [];

    public IReadOnlyList<BuyerCandidate> Candidates { get; init; } = [];

    public IReadOnlyList<RefundView> Refunds { get; init; } = [];

    public IReadOnlyList<TraceStep> Trace { get; init; } = [];

    public IReadOnlyList<OrderDecisionView> Decisions { get; init; } = [];

    public Earned? Earned { get; init; }

    /// <summary>What posted it and can be taken back; null: nothing did.</summary>
    public Posting? Posting { get; init; }
}

/// <summary>A decision about an order.</summary>
/// <param name="Choice">What is decided.</param>
/// <param name="ForAll">Whether it holds for all orders of the lane that wait for the same.</param>
public sealed record OrderToDecide(OrderChoice Choice, bool ForAll);

/// <summary>What a decision did.</summary>
/// <param name="Moved">How many orders stand otherwise than before.</param>
public sealed record OrderDecided(int Moved);

/// <summary>One order: both sides of it, and what is decided about it.</summary>
public static class OrderApi
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
        Database database,
        CancellationToken cancel
    )
    {
        var look = await desk.LookAsync(id, key, cancel);
        if (look.Fault is { } fault)
            return Problems.Of(fault);
        await using var db = database.CreateDbContext();
        return TypedResults.Ok(await new OrderSight(db, look.Value).ViewAsync(cancel));
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
