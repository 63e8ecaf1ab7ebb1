using Narbit.Data.Mirror;

namespace Narbit.Engine.Searching;

/// <summary>What some words have found.</summary>
/// <param name="Records">The records, the best first.</param>
/// <param name="IsLike">Whether none has all of the words, so that they are only like it.</param>
public sealed record FoundRecords(IReadOnlyList<MirrorRecord> Records, bool IsLike);
