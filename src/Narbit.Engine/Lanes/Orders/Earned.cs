namespace Narbit.Engine.Lanes.Orders;

/// <summary>What an order earned.</summary>
/// <param name="Net">What was paid for it, net.</param>
/// <param name="Cost">What its goods cost, where all costs are known.</param>
/// <param name="Margin">The share of the net that is left, in percent.</param>
public sealed record Earned(decimal Net, decimal? Cost, decimal? Margin);
