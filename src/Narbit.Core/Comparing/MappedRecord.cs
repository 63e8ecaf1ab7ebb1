namespace Narbit.Core.Comparing;

/// <summary>A pair, mapped and compared; or why it cannot be.</summary>
/// <param name="Fields">The fields in the map's order; empty where there is a failure.</param>
/// <param name="Failure">Why it cannot be mapped, with the target <c>field</c>; null: it can.</param>
public sealed record MappedRecord(IReadOnlyList<MappedField> Fields, Reason? Failure = null);
