using System.Buffers;
using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using MiniExcelLibs;

namespace Narbit.Adapters.Files;

/// <summary>Writes tables for people and programs: CSV, XLSX or JSON Lines.</summary>
public static class TableOut
{
    private static readonly SearchValues<char> Quoted = SearchValues.Create(",\"\r\n;\t");
    private static readonly JsonWriterOptions Plain = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Writes rows to a stream, which stays open.</summary>
    /// <param name="stream">Where to.</param>
    /// <param name="ending">.csv, .xlsx or .jsonl.</param>
    /// <param name="columns">The columns' names.</param>
    /// <param name="rows">The rows; a null cell is left empty.</param>
    /// <exception cref="ArgumentException">The ending is another.</exception>
    public static void Write(Stream stream, string ending, IReadOnlyList<string> columns, IEnumerable<IReadOnlyList<string?>> rows)
    {
        switch (ending.ToLowerInvariant())
        {
            case ".csv":
                WriteCsv(stream, columns, rows);
                break;
            case ".xlsx":
                // Text cells: a workbook tells text from formulas by itself.
                stream.SaveAs(
                    rows.Select(row => Apart(columns).Zip(row).ToDictionary(c => c.First, c => (object?)c.Second)),
                    excelType: ExcelType.XLSX
                );
                break;
            case ".jsonl" or ".ndjson":
                WriteJsonLines(stream, columns, rows);
                break;
            default:
                throw new ArgumentException($"{ending} is none of .csv, .xlsx, .jsonl", nameof(ending));
        }
    }

    /// <summary>
    /// A cell of a CSV file (RFC 4180). What a spreadsheet would take for a formula (text that starts with = + - @, a tab or a line break,
    /// and is no number)
    /// gets an apostrophe before it, which spreadsheets show as text.
    /// </summary>
    public static string Cell(string? value)
    {
        if (value is null)
            return "";
        if (
            value.Length > 0
            && value[0] is '=' or '+' or '-' or '@' or '\t' or '\r' or '\n'
            && !decimal.TryParse(value, NumberStyles.Number, CultureInfo.InvariantCulture, out _)
        )
            value = "'" + value;
        return value.AsSpan().ContainsAny(Quoted) ? $"\"{value.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : value;
    }

    private static void WriteCsv(Stream stream, IReadOnlyList<string> columns, IEnumerable<IReadOnlyList<string?>> rows)
    {
        using var text = new StreamWriter(stream, new UTF8Encoding(false), 1 << 16, leaveOpen: true) { NewLine = "\r\n" };
        text.WriteLine(string.Join(',', columns.Select(Cell)));
        foreach (var row in rows)
        {
            for (var i = 0; i < row.Count; i++)
            {
                if (i > 0)
                    text.Write(',');
                text.Write(Cell(row[i]));
            }

            text.WriteLine();
        }
    }

    // A workbook's columns are told apart by their names.
    private static List<string> Apart(IReadOnlyList<string> columns)
    {
        var names = new List<string>(columns.Count);
        foreach (var column in columns)
            names.Add(Enumerable.Range(1, columns.Count).Select(n => n == 1 ? column : $"{column} ({n})").First(n => !names.Contains(n)));
        return names;
    }

    private static void WriteJsonLines(Stream stream, IReadOnlyList<string> columns, IEnumerable<IReadOnlyList<string?>> rows)
    {
        foreach (var row in rows)
        {
            using (var json = new Utf8JsonWriter(stream, Plain))
            {
                json.WriteStartObject();
                for (var i = 0; i < columns.Count; i++)
                    json.WriteString(columns[i], row[i]);
                json.WriteEndObject();
            }

            stream.WriteByte((byte)'\n');
        }
    }
}
