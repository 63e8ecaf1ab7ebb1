using System.Globalization;
using Narbit.Core;

namespace Narbit.Adapters.Files;

/// <summary>The columns that a table is read for. Names compare without case; spaces and hyphens count as underscores.</summary>
/// <param name="Columns">All columns of interest; others are left unread.</param>
/// <param name="Required">Those without which the table is of no use.</param>
public sealed record TableShape(IReadOnlyList<string> Columns, IReadOnlyList<string> Required)
{
    /// <summary>How the table is laid out.</summary>
    public TableForm Form { get; init; } = new();

    /// <summary>A column name as it is compared.</summary>
    public static string Plain(string name) => name.Trim().Trim('\uFEFF').ToLowerInvariant().Replace(' ', '_').Replace('-', '_');

    /// <summary>For each column of the shape its place among the columns found, or −1; or a fault that names what is missing.</summary>
    /// <param name="table">What the table is called.</param>
    /// <param name="found">The columns found.</param>
    internal Outcome<int[]> Place(string table, IReadOnlyList<string> found)
    {
        if (Form.Header == 0)
            return Columns.Select(c => int.TryParse(c, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n - 1 : -1).ToArray();
        var names = found.Select(Plain).ToList();
        if (
            names
                .Where(n => n.Length > 0)
                .GroupBy(n => n, StringComparer.Ordinal)
                .FirstOrDefault(g => g.Count() > 1 && Columns.Contains(g.Key)) is
            { } twice
        )
            return new Reason("table.columnTwice", $"{table}: there are {twice.Count()} columns “{twice.Key}”. Keep one.");
        foreach (var column in Required)
            if (!names.Contains(column))
                return new Reason("table.columnMissing", $"{table}: line {Form.Header} has no column “{column}”. {Has(found)}");
        return Columns.Select(c => names.IndexOf(c)).ToArray();
    }

    private static string Has(IReadOnlyList<string> found) =>
        found.Count == 0 ? "It is empty." : $"It has: {string.Join(", ", found.Take(20).Select(Short))}{(found.Count > 20 ? " …" : "")}.";

    internal static string Short(string text) => text.Length <= 40 ? text : text[..39] + "…";
}
