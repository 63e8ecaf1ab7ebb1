namespace Narbit.Core.Pairing;

/// <summary>A record that may be the partner.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Confidence">From 0 to 1.</param>
/// <param name="Evidence">The reasons, weightiest first.</param>
public sealed record Candidate(string Key, double Confidence, IReadOnlyList<Evidence> Evidence);
