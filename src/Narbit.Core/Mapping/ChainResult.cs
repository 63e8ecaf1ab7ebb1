namespace Narbit.Core.Mapping;

/// <summary>What a chain made of a record.</summary>
/// <param name="Value">The canonical value for the target, or null.</param>
/// <param name="Failure">Why the record cannot be mapped; null: it can.</param>
public readonly record struct ChainResult(string? Value, Reason? Failure = null);
