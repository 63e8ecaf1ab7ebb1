using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>A record across the seam that may be the partner.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is, in words.</param>
/// <param name="Option">Which variant it is; null: it says none.</param>
/// <param name="Confidence">How sure pairing is, 0 to 1.</param>
/// <param name="Taken">Whether it has a partner already.</param>
/// <param name="Evidence">What speaks for and against it.</param>
public sealed record CandidateView(
    string Key,
    string? Reference,
    string? Caption,
    string? Option,
    double Confidence,
    bool Taken,
    IReadOnlyList<Evidence> Evidence
);
