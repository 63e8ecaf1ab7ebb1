namespace Narbit.Data.Mirror;

/// <summary>A value and how many records have it.</summary>
public sealed record ValueCount(string Value, int Records);
