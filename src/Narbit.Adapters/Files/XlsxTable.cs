using System.Globalization;
using System.IO.Compression;
using System.Xml;
using MiniExcelLibs;
using Narbit.Core;

namespace Narbit.Adapters.Files;

/// <summary>The first sheet of a workbook (Office Open XML, ISO/IEC 29500). Formulas are not computed; what was stored is read.</summary>
internal static class XlsxTable
{
    public static IEnumerable<Outcome<TableRow>> Read(Stream stream, string name, TableShape shape, TableLimits limits)
    {
        using (stream)
        {
            if (Unpackable(stream, name, limits) is { } bomb)
            {
                yield return bomb;
                yield break;
            }

            stream.Position = 0;
            var header = shape.Form.Header;
            var places = header == 0 ? shape.Place(name, []).Value : null;
            var line = 0;
            using var rows = stream
                .Query(useHeaderRow: false, excelType: ExcelType.XLSX)
                .Cast<IDictionary<string, object?>>()
                .GetEnumerator();
            while (true)
            {
                IDictionary<string, object?>? cells = null;
                Reason? fault = null;
                try
                {
                    line++;
                    if (rows.MoveNext())
                        cells = rows.Current;
                }
                catch (Exception error)
                    when (error
                            is InvalidDataException
                                or XmlException
                                or IOException
                                or NotSupportedException
                                or FormatException
                                or ArgumentException
                                or NullReferenceException
                                or KeyNotFoundException
                                or InvalidOperationException
                    )
                {
                    fault = new Reason(
                        "table.malformed",
                        $"{name}: row {line} cannot be read; the workbook is damaged or of another kind."
                    );
                }

                if (fault is not null)
                    yield return fault;
                if (cells is null)
                {
                    if (places is null && fault is null)
                        yield return new Reason(
                            "table.empty",
                            $"{name}: line {header} should name the columns, but the first sheet ends before it."
                        );
                    yield break;
                }

                if (line < header)
                    continue;
                if (places is null)
                {
                    var placed = shape.Place(name, [.. cells.Values.Select(v => Text(v) ?? "")]);
                    if (placed.Fault is { } missing)
                    {
                        yield return missing;
                        yield break;
                    }

                    places = placed.Value;
                    continue;
                }

                if (line > limits.Rows)
                {
                    yield return new Reason("table.tooLong", $"{name}: more than {limits.Rows} rows. Split it.");
                    yield break;
                }

                var values = cells.Values.ToList();
                string?[] row = [.. places.Select(p => p >= 0 && p < values.Count ? Text(values[p]) : null)];
                if (row.Any(c => c is not null))
                    yield return new TableRow(line, row);
            }
        }
    }

    // A workbook is a zip archive; a few kilobytes can unpack to terabytes. Everything is unpacked once, into nothing, and counted.
    private static Reason? Unpackable(Stream stream, string name, TableLimits limits)
    {
        try
        {
            using var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
            if (zip.Entries.Count > 2000)
                return TooLarge();
            if (zip.GetEntry("xl/workbook.xml") is null)
                return new Reason("table.malformed", $"{name} is no workbook.");
            long unpacked = 0;
            var buffer = new byte[1 << 16];
            foreach (var entry in zip.Entries)
            {
                using var content = entry.Open();
                int read;
                while ((read = content.Read(buffer)) > 0)
                    if ((unpacked += read) > limits.Unpacked)
                        return TooLarge();
            }

            return null;
        }
        catch (InvalidDataException)
        {
            return new Reason("table.malformed", $"{name} is no workbook, or it is damaged.");
        }

        Reason TooLarge() => new("table.tooLarge", $"{name} unpacks to more than {limits.Unpacked >> 20} MiB, so it was not opened.");
    }

    private static string? Text(object? value) =>
        value switch
        {
            null => null,
            string text => text.Length == 0 ? null : text,
            double number => number is > -1e15 and < 1e15
                ? ((decimal)number).ToString(CultureInfo.InvariantCulture)
                : number.ToString("R", CultureInfo.InvariantCulture),
            bool truth => truth ? "true" : "false",
            DateTime day => day.ToString("yyyy-MM-dd'T'HH:mm:ss", CultureInfo.InvariantCulture),
            _ => Convert.ToString(value, CultureInfo.InvariantCulture),
        };
}
