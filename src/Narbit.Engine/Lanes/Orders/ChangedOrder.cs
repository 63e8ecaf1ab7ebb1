using Narbit.Core;
using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>An order that a rule on trial would treat otherwise than the one in force.</summary>
public sealed record ChangedOrder
{
    /// <summary>Its key.</summary>
    public required string SourceKey { get; init; }

    /// <summary>Its number.</summary>
    public string? Number { get; init; }

    /// <summary>Whose it is.</summary>
    public string? Buyer { get; init; }

    /// <summary>What the buyer pays.</summary>
    public required Amount Total { get; init; }

    /// <summary>By the version in force.</summary>
    public OrderOutcome? InForce { get; init; }

    /// <summary>On trial.</summary>
    public OrderOutcome? Trial { get; init; }

    /// <summary>Why, in words.</summary>
    public string? Words { get; init; }
}
