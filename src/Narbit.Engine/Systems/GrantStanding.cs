using Narbit.Core;

namespace Narbit.Engine.Systems;

/// <summary>How a request for access stands.</summary>
/// <param name="State">How far it is.</param>
/// <param name="Why">Why it failed; null: it did not.</param>
public sealed record GrantStanding(GrantState State, Reason? Why);
