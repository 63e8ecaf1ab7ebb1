namespace Narbit.Data;

/// <summary>Which piece of a list is asked for, bounded.</summary>
/// <param name="Offset">The first row, from 0; null: 0.</param>
/// <param name="Limit">How many rows, 1 to 500; null: 100.</param>
public readonly record struct Window(int? Offset, int? Limit)
{
    /// <summary>The first row, from 0.</summary>
    public int From => Math.Max(0, Offset ?? 0);

    /// <summary>How many rows.</summary>
    public int Size => Math.Clamp(Limit ?? 100, 1, 500);

    /// <summary>A search text as a LIKE pattern with \ as its escape.</summary>
    public static string Like(string search) => $"%{Escaped(search.Trim())}%";

    /// <summary>A text in which nothing is a pattern to LIKE.</summary>
    public static string Escaped(string text) =>
        text.Replace("\\", @"\\", StringComparison.Ordinal)
            .Replace("%", @"\%", StringComparison.Ordinal)
            .Replace("_", @"\_", StringComparison.Ordinal);
}
