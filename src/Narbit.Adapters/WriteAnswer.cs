using Narbit.Core;

namespace Narbit.Adapters;

/// <summary>The target's answer to a write.</summary>
/// <param name="Key">The record's key.</param>
/// <param name="Fate">What became of it.</param>
/// <param name="Why">Why it was refused, or why there was no answer, with the target's own words; null: it was accepted.</param>
/// <param name="NewKey">For one that was created: the key it has now.</param>
public sealed record WriteAnswer(string Key, WriteFate Fate, Reason? Why = null, string? NewKey = null)
{
    /// <summary>How often the request that the write was in was sent.</summary>
    public int Requests { get; init; } = 1;

    /// <summary>What went wrong before the answer came; null: nothing did.</summary>
    public Reason? Trouble { get; init; }
}
