using System.Text;
using Narbit.Core;

namespace Narbit.Adapters.Files;

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
