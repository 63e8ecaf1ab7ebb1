namespace Narbit.Engine.Mismatches.Orders;

/// <summary>A decision about an order, or about all of a lane, that an act has made.</summary>
/// <param name="Lane">The lane.</param>
/// <param name="Decision">The decision.</param>
public sealed record OrderDecided(string Lane, long Decision);
