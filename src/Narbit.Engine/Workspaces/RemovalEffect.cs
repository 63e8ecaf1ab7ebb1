using Narbit.Core;

namespace Narbit.Engine.Workspaces;

/// <summary>What depends on a system, told before it is removed.</summary>
/// <param name="Lanes">The lanes that go with it, by name.</param>
/// <param name="Records">How many of its records are in the mirror.</param>
/// <param name="Pairs">How many of them are paired.</param>
/// <param name="Waiting">How many change sets wait that will not be sent.</param>
/// <param name="InTheWay">Why it cannot be removed now; null: it can.</param>
public sealed record RemovalEffect(IReadOnlyList<string> Lanes, int Records, int Pairs, int Waiting, Reason? InTheWay);
