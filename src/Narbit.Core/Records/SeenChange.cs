namespace Narbit.Core.Records;

/// <summary>A value that was seen to have changed.</summary>
/// <param name="At">When it was seen.</param>
/// <param name="Old">The value before; null: there was none.</param>
/// <param name="New">The value from then on; null: there was none.</param>
public sealed record SeenChange(DateTimeOffset At, string? Old, string? New);
