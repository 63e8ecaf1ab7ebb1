using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Why an order is held or waits, and what the cause is about.</summary>
public sealed record OrderCauseView(string Cause, OrderOutcome Outcome, string Words, string? Line, string? Subject, decimal? By);

/// <summary>A line of the hub's document with the name of its item.</summary>
public sealed record DocumentLineView
{
    /// <summary>What it is.</summary>
    public DocumentLineKind Kind { get; init; }

    /// <summary>The hub's item; null: none.</summary>
    public string? Item { get; init; }

    /// <summary>What the hub calls the item.</summary>
    public string? ItemName { get; init; }

    /// <summary>The item's SKU.</summary>
    public string? Sku { get; init; }

    /// <summary>How many.</summary>
    public long Quantity { get; init; }

    /// <summary>Net, in the order's currency.</summary>
    public decimal Net { get; init; }

    /// <summary>Tax, in the order's currency.</summary>
    public decimal Tax { get; init; }

    /// <summary>Gross, in the order's currency.</summary>
    public decimal Gross { get; init; }

    /// <summary>In percent.</summary>
    public decimal TaxRate { get; init; }
}

/// <summary>The hub's document as it would be, or would have been, made.</summary>
public sealed record DocumentView
{
    /// <summary>Its number.</summary>
    public required string Number { get; init; }

    /// <summary>What kind of document it is at the hub.</summary>
    public required string As { get; init; }

    /// <summary>The customer's key; null: there is none yet.</summary>
    public string? CustomerKey { get; init; }

    /// <summary>Whose it is, in words.</summary>
    public string? CustomerName { get; init; }

    /// <summary>Whether the customer is created with it.</summary>
    public bool CreatesCustomer { get; init; }

    /// <summary>How it was paid, in words.</summary>
    public required string PaidBy { get; init; }

    /// <summary>Net, in the order's currency.</summary>
    public decimal Net { get; init; }

    /// <summary>Tax, in the order's currency.</summary>
    public decimal Tax { get; init; }

    /// <summary>Gross, in the order's currency.</summary>
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
    /// <summary>The lane that looks at it.</summary>
    public required string Lane { get; init; }

    /// <summary>The store.</summary>
    public required SystemTag Store { get; init; }

    /// <summary>The hub.</summary>
    public required SystemTag Hub { get; init; }

    /// <summary>Its key in the store.</summary>
    public required string Key { get; init; }

    /// <summary>Where it stands.</summary>
    public OrderStage Stage { get; init; }

    /// <summary>The currency of all its amounts, ISO 4217.</summary>
    public string Currency { get; init; } = "";

    /// <summary>The order as it was read; null: it could not be.</summary>
    public Order? Order { get; init; }

    /// <summary>Why it could not be read.</summary>
    public string? Unreadable { get; init; }

    /// <summary>Why it is not taken.</summary>
    public IReadOnlyList<OrderCauseView> Causes { get; init; } = [];

    /// <summary>What is worth knowing of its document, as codes.</summary>
    public IReadOnlyList<string> Remarks { get; init; } = [];

    /// <summary>Its lines, and what each became.</summary>
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

    /// <summary>Customers of the hub that the buyer could be.</summary>
    public IReadOnlyList<BuyerCandidate> Candidates { get; init; } = [];

    /// <summary>What was given back.</summary>
    public IReadOnlyList<RefundView> Refunds { get; init; } = [];

    /// <summary>How it became its document, step by step.</summary>
    public IReadOnlyList<TraceStep> Trace { get; init; } = [];

    /// <summary>What people decided about it.</summary>
    public IReadOnlyList<OrderDecisionView> Decisions { get; init; } = [];

    /// <summary>What it earned; null: that is not known.</summary>
    public Earned? Earned { get; init; }

    /// <summary>What posted it and can be taken back; null: nothing did.</summary>
    public Posting? Posting { get; init; }
}
