namespace Narbit.Adapters.Files;

/// <summary>A row of a table.</summary>
/// <param name="Line">Its first line in the file, from 1; in a workbook its row.</param>
/// <param name="Cells">The cells in the order of the shape's columns; null where there is nothing.</param>
public sealed record TableRow(int Line, IReadOnlyList<string?> Cells);
