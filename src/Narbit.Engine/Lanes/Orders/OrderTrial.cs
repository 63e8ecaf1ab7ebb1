namespace Narbit.Engine.Lanes.Orders;

/// <summary>What an order rule would do to the orders of the last sixty days.</summary>
public sealed record OrderTrial : TrialResult
{
    /// <summary>From when on orders are counted.</summary>
    public DateTimeOffset Since { get; init; }

    /// <summary>By the rule on trial.</summary>
    public required OrderSums Trial { get; init; }

    /// <summary>By the version in force.</summary>
    public required OrderSums InForce { get; init; }

    /// <summary>How many orders are held or wait by each cause on trial.</summary>
    public IReadOnlyList<OrderCauseCount> Causes { get; init; } = [];

    /// <summary>The store's words that the orders have, so that each can be given a meaning.</summary>
    public required MetWords Met { get; init; }

    /// <summary>Some of those that change.</summary>
    public IReadOnlyList<ChangedOrder> Changed { get; init; } = [];
}
