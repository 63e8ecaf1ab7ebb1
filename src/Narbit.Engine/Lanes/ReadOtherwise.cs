namespace Narbit.Engine.Lanes;

/// <summary>A value that another description reads otherwise.</summary>
/// <param name="Key">The record's key.</param>
/// <param name="Before">The canonical value as it is kept; null: none.</param>
/// <param name="After">As it would be read; null: none.</param>
public sealed record ReadOtherwise(string Key, string? Before, string? After);
