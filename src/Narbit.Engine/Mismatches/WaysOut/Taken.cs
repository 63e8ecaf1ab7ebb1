namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>What taking ways out did.</summary>
/// <param name="Words">What was done, for people.</param>
/// <param name="Settled">The mismatches that are settled by it.</param>
/// <param name="NotTaken">Those that are not.</param>
/// <param name="RunId">A run that shows what would be written and waits for a person; null: there is none.</param>
public sealed record Taken(string Words, IReadOnlyList<long> Settled, IReadOnlyList<NotTaken> NotTaken, long? RunId = null);
