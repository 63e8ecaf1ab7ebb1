namespace Narbit.Core.Records;

/// <summary>A value that a person puts right in a system.</summary>
/// <param name="Key">The record.</param>
/// <param name="Field">The field's name.</param>
/// <param name="Value">The right value, canonical; null empties the field.</param>
public sealed record Correction(string Key, string Field, string? Value);
