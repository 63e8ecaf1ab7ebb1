using Narbit.Core.Pairing;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>A way of writing SKUs that was taken as a rule.</summary>
/// <param name="Couple">The couple.</param>
/// <param name="Older">What held before; null: nothing.</param>
public sealed record HabitTaken(long Couple, SkuHabit? Older);
