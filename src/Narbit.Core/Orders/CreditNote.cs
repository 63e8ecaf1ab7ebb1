namespace Narbit.Core.Orders;

/// <summary>A credit note for a refund; amounts are positive, those of discounts negative.</summary>
public sealed record CreditNote
{
    /// <summary>The refund.</summary>
    public required string Refund { get; init; }

    /// <summary>Take or hold.</summary>
    public OrderOutcome Outcome { get; init; }

    /// <summary>What is in the way.</summary>
    public IReadOnlyList<OrderCause> Causes { get; init; } = [];

    /// <summary>Whether the goods come back into stock.</summary>
    public bool Restock { get; init; }

    /// <summary>What is credited.</summary>
    public IReadOnlyList<DocumentLine> Lines { get; init; } = [];

    /// <summary>Its sums.</summary>
    public required DocumentTotals Totals { get; init; }
}
