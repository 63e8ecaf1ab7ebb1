using System.Globalization;
using System.Text;
using Narbit.Core;

namespace Narbit.Adapters.Files;

/// <summary>How a table is laid out, as far as it is not found out.</summary>
public sealed record TableForm
{
    /// <summary>
    /// The line that names the columns, from 1, in a workbook its row; what stands above it is left out. 0: there is none, and columns are
    /// called 1, 2, 3 by their place. JSON Lines name their values themselves.
    /// </summary>
    public int Header { get; init; } = 1;

    /// <summary>What stands between the cells of a CSV file; null: found out.</summary>
    public char? Delimiter { get; init; }

    /// <summary>The encoding of a text file by its IANA name; null: found out.</summary>
    public string? Encoding { get; init; }
}

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

/// <summary>A row of a table.</summary>
/// <param name="Line">Its first line in the file, from 1; in a workbook its row.</param>
/// <param name="Cells">The cells in the order of the shape's columns; null where there is nothing.</param>
public sealed record TableRow(int Line, IReadOnlyList<string?> Cells);

/// <summary>What a table may hold, so that no file takes the machine down.</summary>
public sealed record TableLimits
{
    /// <summary>The most characters in a row of text; 1 Mi unless told otherwise.</summary>
    public int RowLength { get; init; } = 1 << 20;

    /// <summary>The most columns; 4,000 unless told otherwise.</summary>
    public int Columns { get; init; } = 4_000;

    /// <summary>The most rows; 2,000,000 unless told otherwise.</summary>
    public int Rows { get; init; } = 2_000_000;

    /// <summary>The most bytes of a text file; 1 GiB unless told otherwise.</summary>
    public long Length { get; init; } = 1L << 30;

    /// <summary>The most bytes that a workbook may unpack to; 400 MiB unless told otherwise.</summary>
    public long Unpacked { get; init; } = 400L << 20;
}

/// <summary>Reads tables from CSV (RFC 4180 and what spreadsheets make of it), XLSX and JSON Lines.</summary>
public static class Table
{
    /// <summary>The endings that are understood.</summary>
    public static readonly IReadOnlyList<string> Endings = [".csv", ".tsv", ".txt", ".xlsx", ".jsonl", ".ndjson"];

    /// <summary>
    /// Reads a file row by row, by its ending. The last element is a fault where something is wrong; rows before it are good.
    /// </summary>
    /// <param name="path">The file.</param>
    /// <param name="shape">The columns to read.</param>
    /// <param name="limits">What it may hold.</param>
    public static IEnumerable<Outcome<TableRow>> Read(string path, TableShape shape, TableLimits? limits = null)
    {
        var name = Path.GetFileName(path);
        FileStream? stream = null;
        Reason? unreadable = null;
        try
        {
            stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite, 1 << 16, FileOptions.SequentialScan);
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            unreadable = new Reason("table.unreadable", $"{name}: {error.Message}");
        }

        if (unreadable is not null)
            return [unreadable];
        return Read(stream!, name, shape, limits);
    }

    /// <summary>Reads a stream that can seek. The stream is closed at the end.</summary>
    /// <param name="stream">The stream.</param>
    /// <param name="name">What it is called, with its ending.</param>
    /// <param name="shape">The columns to read.</param>
    /// <param name="limits">What it may hold.</param>
    public static IEnumerable<Outcome<TableRow>> Read(Stream stream, string name, TableShape shape, TableLimits? limits = null) =>
        Path.GetExtension(name).ToLowerInvariant() switch
        {
            ".csv" or ".tsv" or ".txt" or ".jsonl" or ".ndjson" when TooLong(stream, name, limits ?? new()) is { } fault => Refused(
                stream,
                fault
            ),
            ".csv" or ".tsv" or ".txt" => CsvTable.Read(stream, name, shape, limits ?? new()),
            ".xlsx" => XlsxTable.Read(stream, name, shape, limits ?? new()),
            ".jsonl" or ".ndjson" => JsonLinesTable.Read(stream, name, shape, limits ?? new()),
            _ => [new Reason("table.ending", $"{name}: what it holds is told by its ending; {string.Join(", ", Endings)} are understood.")],
        };

    // A file may go on growing while it is read, but no faster than its rows are counted.
    private static Reason? TooLong(Stream stream, string name, TableLimits limits) =>
        stream.CanSeek && stream.Length > limits.Length
            ? new Reason(
                "table.tooLarge",
                $"{name} has {stream.Length >> 20:N0} MiB; at most {limits.Length >> 20:N0} MiB are read. Split it."
            )
            : null;

    private static IEnumerable<Outcome<TableRow>> Refused(Stream stream, Reason fault)
    {
        stream.Dispose();
        return [fault];
    }

    /// <summary>Reads text that was pasted from a spreadsheet or typed: cells between tabs, semicolons or commas.</summary>
    /// <param name="text">The text.</param>
    /// <param name="shape">The columns to read.</param>
    public static IEnumerable<Outcome<TableRow>> ReadText(string text, TableShape shape) =>
        CsvTable.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), "pasted text", shape, new());

    /// <summary>All rows, or the first fault.</summary>
    public static Outcome<IReadOnlyList<TableRow>> All(IEnumerable<Outcome<TableRow>> rows)
    {
        var all = new List<TableRow>();
        foreach (var row in rows)
        {
            if (row.Fault is { } fault)
                return fault;
            all.Add(row.Value);
        }

        return all;
    }
}
