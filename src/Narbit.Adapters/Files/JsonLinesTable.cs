using System.Text;
using System.Text.Json;
using Narbit.Core;

namespace Narbit.Adapters.Files;

/// <summary>JSON Lines: an object a line. A value within objects has a column of its own, its names joined by dots.</summary>
internal static class JsonLinesTable
{
    public static IEnumerable<Outcome<TableRow>> Read(Stream stream, string name, TableShape shape, TableLimits limits)
    {
        using var text = TextEncoding.Open(stream);
        var places = shape.Columns.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i, StringComparer.Ordinal);
        var buffer = new StringBuilder();
        for (var line = 1; ; line++)
        {
            var more = NextLine(text, buffer, limits.RowLength);
            if (buffer.Length > limits.RowLength)
            {
                yield return new Reason(
                    "table.lineTooLong",
                    $"{name}: line {line} is longer than {limits.RowLength / 1024} Ki characters. Is this a file of JSON lines?"
                );
                yield break;
            }

            if (line > limits.Rows)
            {
                yield return new Reason("table.tooLong", $"{name}: more than {limits.Rows} rows. Split it.");
                yield break;
            }

            var content = buffer.ToString().Trim().Trim('\uFEFF');
            if (content.Length > 0)
            {
                var row = Row(content, name, line, shape, places);
                yield return row;
                if (!row.Ok)
                    yield break;
            }

            if (!more)
                yield break;
        }
    }

    private static Outcome<TableRow> Row(string content, string name, int line, TableShape shape, Dictionary<string, int> places)
    {
        try
        {
            using var json = JsonDocument.Parse(content);
            if (json.RootElement.ValueKind != JsonValueKind.Object)
                return new Reason("table.malformed", $"{name}: line {line} is no JSON object.");
            var cells = new string?[shape.Columns.Count];
            Take(json.RootElement, "", places, cells);
            foreach (var required in shape.Required)
                if (cells[places[required]] is null)
                    return new Reason("table.columnMissing", $"{name}: line {line} has no “{required}”.");
            return new TableRow(line, cells);
        }
        catch (JsonException)
        {
            return new Reason("table.malformed", $"{name}: line {line} is no JSON.");
        }
        catch (InvalidOperationException)
        {
            return new Reason("table.malformed", $"{name}: line {line} holds half a character (\\ud800 to \\udfff by itself).");
        }
    }

    private static void Take(JsonElement within, string before, Dictionary<string, int> places, string?[] cells)
    {
        foreach (var property in within.EnumerateObject())
        {
            var column = before + TableShape.Plain(property.Name);
            if (property.Value.ValueKind == JsonValueKind.Object)
                Take(property.Value, column + ".", places, cells);
            else if (places.TryGetValue(column, out var place))
                cells[place] = Cell(property.Value);
        }
    }

    private static string? Cell(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.String => value.GetString() is { Length: > 0 } text ? text : null,
            JsonValueKind.Null or JsonValueKind.Array => null,
            _ => value.GetRawText(),
        };

    // StreamReader.ReadLine would take a line of any length into memory.
    private static bool NextLine(StreamReader text, StringBuilder buffer, int most)
    {
        buffer.Clear();
        while (text.Read() is >= 0 and var c)
        {
            if (c == '\n')
                return true;
            if (c == '\r')
            {
                if (text.Peek() == '\n')
                    text.Read();
                return true;
            }

            buffer.Append((char)c);
            if (buffer.Length > most)
                return false;
        }

        return false;
    }
}
