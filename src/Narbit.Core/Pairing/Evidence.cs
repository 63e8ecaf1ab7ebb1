namespace Narbit.Core.Pairing;

/// <summary>One reason, in words a person can check.</summary>
/// <param name="Kind">What it is about.</param>
/// <param name="Effect">Which way it points.</param>
/// <param name="Words">The reason.</param>
public sealed record Evidence(EvidenceKind Kind, EvidenceEffect Effect, string Words);
