using Narbit.Core;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>How many orders stand somewhere, and the money in them.</summary>
/// <param name="Stage">Where, see <see cref="OrderFilter.Stage"/>.</param>
/// <param name="Count">How many.</param>
/// <param name="Worth">Their totals, gross, by currency.</param>
public sealed record StageSum(string Stage, int Count, IReadOnlyList<Amount> Worth);
