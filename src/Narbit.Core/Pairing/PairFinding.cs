namespace Narbit.Core.Pairing;

/// <summary>What pairing found out about a record, or about two that belong together.</summary>
/// <param name="LeftKey">The left record; null for a right record without partner.</param>
/// <param name="RightKey">The right record of a certain or likely pair; null otherwise.</param>
/// <param name="Verdict">The verdict.</param>
/// <param name="Confidence">From 0 to 1; of the best candidate where there is no partner.</param>
/// <param name="Evidence">The reasons, weightiest first.</param>
/// <param name="Candidates">The other records worth a look, best first, at most five.</param>
public sealed record PairFinding(
    string? LeftKey,
    string? RightKey,
    Verdict Verdict,
    double Confidence,
    IReadOnlyList<Evidence> Evidence,
    IReadOnlyList<Candidate> Candidates
);
