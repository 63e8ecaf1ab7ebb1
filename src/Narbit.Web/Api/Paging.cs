namespace Narbit.Web.Api;

/// <summary>A piece of a list.</summary>
/// <param name="Total">How many rows the whole list has under its filter.</param>
/// <param name="Offset">The first row's place.</param>
/// <param name="Rows">The rows.</param>
public sealed record Slice<T>(int Total, int Offset, IReadOnlyList<T> Rows);

/// <summary>Which piece of a list is asked for, bounded.</summary>
public readonly record struct Window(int? Offset, int? Limit)
{
    public int From => Math.Max(0, Offset ?? 0);

    public int Size => Math.Clamp(Limit ?? 100, 1, 500);

    /// <summary>A search text as a LIKE pattern with \ as its escape.</summary>
    public static string Like(string search) => $"%{Escaped(search.Trim())}%";

    /// <summary>A text in which nothing is a pattern to LIKE.</summary>
    public static string Escaped(string text) =>
        text.Replace("\\", @"\\", StringComparison.Ordinal)
            .Replace("%", @"\%", StringComparison.Ordinal)
            .Replace("_", @"\_", StringComparison.Ordinal);
}

/// <summary>A system as it is named on screen.</summary>
public sealed record SystemTag(string Id, string Name, string Mark, Core.Records.SystemKind Kind);
