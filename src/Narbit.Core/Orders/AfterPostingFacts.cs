namespace Narbit.Core.Orders;

/// <summary>What has changed since an order and its document agreed.</summary>
/// <param name="Changed">What the store changed.</param>
/// <param name="HubChanged">Whether the hub changed its document.</param>
/// <param name="Alike">Whether the document is what the order would become now.</param>
/// <param name="HubState">The hub's state of the document.</param>
/// <param name="Decided">What a person decided about this very change; null: nothing.</param>
public sealed record AfterPostingFacts(
    IReadOnlyList<OrderPart> Changed,
    bool HubChanged,
    bool Alike,
    string? HubState,
    AfterPosting? Decided = null
);
