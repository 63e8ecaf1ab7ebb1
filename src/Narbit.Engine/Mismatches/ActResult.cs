using Narbit.Engine.Mismatches.WaysOut;

namespace Narbit.Engine.Mismatches;

/// <summary>What an act on mismatches did.</summary>
/// <param name="ActId">By which it is taken back; null: nothing was done.</param>
/// <param name="Count">To how many.</param>
/// <param name="Words">What was done, for people.</param>
/// <param name="NotTaken">Those to which it was not done, with why.</param>
/// <param name="RunId">A run that shows what would be written and waits for a person; null: there is none.</param>
public sealed record ActResult(long? ActId, int Count, string Words, IReadOnlyList<NotTaken> NotTaken, long? RunId = null);
