using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

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
