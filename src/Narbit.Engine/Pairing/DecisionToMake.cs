using Narbit.Core.Pairing;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>A decision that somebody wants to make.</summary>
/// <param name="Act">What to do.</param>
/// <param name="HubKey">The hub's record, where the act has one.</param>
/// <param name="OtherKey">The other side's record, where the act has one.</param>
/// <param name="Parts">For a kit: what it stands for.</param>
/// <param name="Reason">For set aside: why.</param>
public sealed record DecisionToMake(
    DecisionAct Act,
    string? HubKey = null,
    string? OtherKey = null,
    IReadOnlyList<KitItem>? Parts = null,
    string? Reason = null
);
