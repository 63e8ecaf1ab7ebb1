using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>A way of writing SKUs that the decided pairs of a system show.</summary>
/// <param name="Habit">The way.</param>
/// <param name="Shown">How many pairs show it.</param>
/// <param name="Of">Of how many whose SKUs differ.</param>
/// <param name="WouldHelp">How many records without partner are written like that.</param>
public sealed record LearnedHabit(SkuHabit Habit, int Shown, int Of, int WouldHelp);
