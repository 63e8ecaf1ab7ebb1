namespace Narbit.Engine.Pairing;

/// <summary>A run that wrote records by the pairs of a batch.</summary>
/// <param name="RunId">The run.</param>
/// <param name="Records">How many records it wrote by them that were not taken back since.</param>
public sealed record RunByPairs(long RunId, int Records);
