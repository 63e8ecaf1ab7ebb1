using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>Both sides of a couple with what the readiness check found.</summary>
/// <param name="Hub">The hub.</param>
/// <param name="Other">The other side.</param>
/// <param name="OfHub">What was found there.</param>
/// <param name="OfOther">What was found on the other side.</param>
public sealed record CheckedCouple(
    PairSide Hub,
    PairSide Other,
    IReadOnlyList<ReadinessFinding> OfHub,
    IReadOnlyList<ReadinessFinding> OfOther
);
