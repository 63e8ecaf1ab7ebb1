using Narbit.Core;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>One order, looked at as a lane looks at it.</summary>
/// <param name="Lane">The lane.</param>
/// <param name="Judged">The order with what the hub knows, and what the rule makes of it.</param>
public sealed record OrderLook(OpenLane Lane, JudgedOrder Judged)
{
    /// <summary>What has changed since the order was posted; null: nothing.</summary>
    public ChangedAfterPosting? After { get; init; }

    /// <summary>Of one that the hub has: how it would become a document now; null: the judgement says it.</summary>
    public IReadOnlyList<TraceStep>? Trace { get; init; }
}
