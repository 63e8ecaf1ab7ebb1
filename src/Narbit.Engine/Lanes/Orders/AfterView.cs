using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What has changed of an order since it was posted, and what may be done with its document.</summary>
public sealed record AfterView(
    IReadOnlyList<OrderPart> Parts,
    string Subject,
    string? Cause,
    string? Words,
    IReadOnlyList<AfterPosting> Choices
);
