using Narbit.Core;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>How many orders have an outcome, and the money in them.</summary>
/// <param name="Count">Orders.</param>
/// <param name="Worth">Their totals, gross, by currency.</param>
public sealed record OrderSum(int Count, IReadOnlyList<Amount> Worth);
