using Narbit.Core;
using Sylvan.Data.Csv;

namespace Narbit.Adapters.Files;

/// <summary>CSV as in RFC 4180, with the encoding, the delimiter and the line ends found out.</summary>
internal static class CsvTable
{
    public static IEnumerable<Outcome<TableRow>> Read(Stream stream, string name, TableShape shape, TableLimits limits)
    {
        var header = shape.Form.Header;
        using var text = TextEncoding.Open(stream, shape.Form.Encoding);
        CsvDataReader? csv = null;
        Reason? fault = null;
        try
        {
            for (var above = 1; above < header; above++)
                text.ReadLine();
            var bounded = new WidthReader(text, shape.Form.Delimiter, limits.Columns, Math.Max(0, header - 1));
            csv = CsvDataReader.Create(
                bounded,
                new CsvDataReaderOptions
                {
                    HasHeaders = header > 0,
                    Delimiter = bounded.Delimiter,
                    MaxBufferSize = limits.RowLength,
                    BufferSize = Math.Min(1 << 16, limits.RowLength),
                    CsvStyle = CsvStyle.Standard,
                }
            );
        }
        catch (Exception error) when (Explained(error, name, header, limits) is not null)
        {
            fault = Explained(error, name, header, limits);
        }

        if (fault is not null)
        {
            yield return fault;
            yield break;
        }

        using (csv)
        {
            var places = shape.Place(name, [.. Enumerable.Range(0, csv!.FieldCount).Select(csv.GetName)]);
            if (places.Fault is { } missing)
            {
                yield return missing;
                yield break;
            }

            var line = header == 0 ? 0 : header + Enumerable.Range(0, csv.FieldCount).Sum(i => Breaks(csv.GetName(i)));
            var rows = 0;
            while (true)
            {
                TableRow? row = null;
                try
                {
                    line++;
                    if (csv.Read())
                        row = Row(csv, places.Value, ref line);
                }
                catch (Exception error) when (Explained(error, name, line, limits) is not null)
                {
                    fault = Explained(error, name, line, limits);
                }

                if (fault is not null)
                    yield return fault;
                if (row is null)
                    yield break;
                if (++rows > limits.Rows)
                {
                    yield return new Reason("table.tooLong", $"{name}: more than {limits.Rows} rows. Split it.");
                    yield break;
                }

                // A line without anything on it is no row.
                if (row.Cells.Any(c => c is not null))
                    yield return row;
            }
        }
    }

    private static TableRow Row(CsvDataReader csv, int[] places, ref int line)
    {
        // A line without anything on it is very common at the end, and cheap.
        if (csv.RowFieldCount == 0 || (csv.RowFieldCount == 1 && csv.GetFieldSpan(0).IsEmpty))
            return new TableRow(line, []);
        var first = line;
        for (var i = 0; i < csv.RowFieldCount; i++)
            line += Breaks(csv.GetFieldSpan(i));
        var cells = new string?[places.Length];
        for (var i = 0; i < places.Length; i++)
            if (places[i] >= 0 && places[i] < csv.RowFieldCount && csv.GetString(places[i]) is { Length: > 0 } cell)
                cells[i] = cell;
        return new TableRow(first, cells);
    }

    private static int Breaks(ReadOnlySpan<char> cell) => cell.Contains('\n') ? cell.Count('\n') : cell.Count('\r');

    private static Reason? Explained(Exception error, string name, int line, TableLimits limits) =>
        error switch
        {
            CsvRecordTooLargeException => new Reason(
                "table.lineTooLong",
                $"{name}: line {line} is longer than {limits.RowLength / 1024} Ki characters. A quotation mark may be open, or "
                    + $"this is no CSV file."
            ),
            CsvMissingHeadersException => new Reason("table.empty", $"{name}: line {line} should name the columns, but the file is empty."),
            CsvFormatException => new Reason("table.malformed", $"{name}: line {line} is no CSV: a quotation mark stands where none may."),
            TooManyCellsException wide => new Reason("table.tooWide", $"{name}: {wide.Message}."),
            IOException or System.Text.DecoderFallbackException => new Reason(
                "table.unreadable",
                $"{name}: line {line} cannot be read: {error.Message}"
            ),
            _ => null,
        };
}
