namespace Narbit.Data;

/// <summary>A piece of a list.</summary>
/// <param name="Total">How many rows the whole list has under its filter.</param>
/// <param name="Offset">The first row's place.</param>
/// <param name="Rows">The rows.</param>
public sealed record Slice<T>(int Total, int Offset, IReadOnlyList<T> Rows);
