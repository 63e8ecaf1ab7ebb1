using Narbit.Data;

namespace Narbit.Engine.Mismatches;

/// <summary>
/// A part of Narbit in which things do not match: what can be looked at in it, and what is found there now. Looking changes nothing, and
/// may be done at any time: whatever was missed is found by the next look.
/// </summary>
public interface IMismatchSource
{
    /// <summary>What its origins' names begin with, e.g. <c>lane:</c>.</summary>
    string Family { get; }

    /// <summary>What there is to look at, by what follows the family in an origin's name.</summary>
    Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel);

    /// <summary>What is to be looked at once something has happened.</summary>
    Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel);

    /// <summary>Looks.</summary>
    /// <returns>What is found; null: nothing can be said, so that all stays as it is.</returns>
    Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel);
}
