using System.Globalization;
using Narbit.Adapters.Files;

namespace Narbit.Adapters.Describing;

/// <summary>Which line of a table names its columns.</summary>
internal static class HeaderReading
{
    private const int Deepest = 10;

    /// <summary>The line, 0 where there is none, and why.</summary>
    /// <param name="rows">The first rows with all their cells; there is at least one.</param>
    public static (int Line, string Why) Of(IReadOnlyList<TableRow> rows)
    {
        var width = rows.Max(Filled);
        var first = rows.Take(Deepest).FirstOrDefault(r => Filled(r) * 3 >= width * 2);
        if (first is null || !CouldName(first))
            return (0, "no line names its columns, so they are called by their place");
        if (rows.Take(Deepest + 1).FirstOrDefault(r => r.Line > first.Line) is { } next && NamesNumbers(next, rows))
            return (next.Line, $"lines {first.Line} and {next.Line} both look like names of columns; {next.Line} was taken, so choose");
        return first.Line == 1
            ? (1, "line 1 names its columns")
            : (first.Line, $"line {first.Line} names its columns; what stands above it is left out");
    }

    private static int Filled(TableRow row) => row.Cells.Count(c => c is not null);

    // Names are words, and most of them different.
    private static bool CouldName(TableRow row)
    {
        var cells = row.Cells.OfType<string>().ToList();
        return cells.TrueForAll(c => c.Any(char.IsLetter) && c.Length <= 60 && !IsValue(c))
            && cells.Distinct(StringComparer.OrdinalIgnoreCase).Count() * 2 > cells.Count;
    }

    // A row of words, one of which stands above nothing but numbers.
    private static bool NamesNumbers(TableRow row, IReadOnlyList<TableRow> rows)
    {
        var below = rows.Where(r => r.Line > row.Line).ToList();
        return CouldName(row) && Enumerable.Range(0, row.Cells.Count).Any(i => row.Cells[i] is not null && AreNumbers(below, i));
    }

    private static bool AreNumbers(List<TableRow> rows, int column)
    {
        var cells = rows.Select(r => r.Cells[column]).OfType<string>().ToList();
        return cells.Count > 1 && cells.TrueForAll(c => !c.Any(char.IsLetter) && c.Any(char.IsAsciiDigit));
    }

    private static bool IsValue(string cell) =>
        cell.Contains('@', StringComparison.Ordinal)
        || cell.StartsWith("http", StringComparison.OrdinalIgnoreCase)
        || bool.TryParse(cell, out _)
        || DateTimeOffset.TryParse(cell, CultureInfo.InvariantCulture, DateTimeStyles.None, out _);
}
