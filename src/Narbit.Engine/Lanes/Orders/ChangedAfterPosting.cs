using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What has changed of an order since it was posted.</summary>
/// <param name="Parts">What the store changed.</param>
/// <param name="Subject">What a decision about this change is known by.</param>
/// <param name="Held">Why a person decides; none: nobody has to.</param>
/// <param name="Choices">What may be decided.</param>
public sealed record ChangedAfterPosting(
    IReadOnlyList<OrderPart> Parts,
    string Subject,
    IReadOnlyList<CauseOfOrder> Held,
    IReadOnlyList<AfterPosting> Choices
);
