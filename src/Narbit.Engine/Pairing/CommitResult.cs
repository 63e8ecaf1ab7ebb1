namespace Narbit.Engine.Pairing;

/// <summary>What a commit did.</summary>
/// <param name="BatchId">The batch, or null where nothing could be put into force.</param>
/// <param name="Committed">How many decisions are in force.</param>
/// <param name="Faults">Those that are not.</param>
public sealed record CommitResult(long? BatchId, int Committed, IReadOnlyList<CommitFault> Faults);
