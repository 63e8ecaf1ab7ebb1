namespace Narbit.Core.Orders;

/// <summary>What was given back of an order.</summary>
public sealed record OrderRefund
{
    /// <summary>Its id within the store.</summary>
    public required string Id { get; init; }

    /// <summary>When.</summary>
    public DateTimeOffset? At { get; init; }

    /// <summary>How many of which lines.</summary>
    public IReadOnlyList<RefundedLine> Lines { get; init; } = [];

    /// <summary>How much of the shipping, gross.</summary>
    public decimal Shipping { get; init; }

    /// <summary>What was paid back, gross.</summary>
    public decimal Total { get; init; }

    /// <summary>Whether the goods come back into stock.</summary>
    public bool Restock { get; init; }
}
