namespace Narbit.Core.Mismatches;

/// <summary>Why records do not match: what many mismatches have in common.</summary>
/// <param name="Code">A stable word for programs: a family and a code within it, e.g. <c>pair.likely</c>.</param>
/// <param name="Heading">What it is called, for people.</param>
/// <param name="Harm">What it does.</param>
public sealed record MismatchCause(string Code, string Heading, Harm Harm);
