namespace Narbit.Core.Timetables;

/// <summary>An order with which something would have gone wrong.</summary>
/// <param name="Order">The order.</param>
/// <param name="Short">The pieces that were sold and not there; 0: it was refused though all of it was there.</param>
public readonly record struct ReplayTrouble(ReplayedOrder Order, long Short);
