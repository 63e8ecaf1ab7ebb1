using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>A candidate as it is kept with a proposal.</summary>
/// <param name="Key">Its key on the other side.</param>
/// <param name="Confidence">From 0 to 1.</param>
/// <param name="Taken">Whether it is paired already, so that the listing could share it.</param>
/// <param name="Evidence">The reasons.</param>
public sealed record KeptCandidate(string Key, double Confidence, bool Taken, IReadOnlyList<Evidence> Evidence);
