namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>What an act has decided of a couple.</summary>
/// <param name="Couple">The couple; null: an earlier version's act, which noted the batch alone.</param>
/// <param name="Number">The act; of an earlier version's act, the batch.</param>
public sealed record PairsDecided(long? Couple, long Number);
