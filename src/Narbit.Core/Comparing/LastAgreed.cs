namespace Narbit.Core.Comparing;

/// <summary>What both sides last agreed on, in the target's terms.</summary>
/// <param name="Value">The value, or null for none.</param>
public sealed record LastAgreed(string? Value);
