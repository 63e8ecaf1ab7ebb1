using System.Globalization;
using System.Text;
using System.Text.Json;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Describing;

namespace Narbit.Adapters.Describing;

/// <summary>The first rows of a table, with how it is laid out found out or given.</summary>
/// <param name="Form">How it is laid out.</param>
/// <param name="Columns">Its columns with their values.</param>
/// <param name="Rows">How many rows were looked at.</param>
/// <param name="Remarks">What was found out, and what to look at, a sentence each.</param>
internal sealed record TableGlance(TableForm Form, IReadOnlyList<SampleColumn> Columns, int Rows, IReadOnlyList<string> Remarks)
{
    // Titles and blank lines may stand above the names of the columns.
    private const int DeepestHeader = 10;
    private const int MostColumns = SampleTree.MostColumns;

    /// <summary>Looks at a table.</summary>
    /// <param name="content">The file, at its start; it can seek.</param>
    /// <param name="name">What it is called.</param>
    /// <param name="given">How it is laid out, where a person has said so; null: found out.</param>
    public static Outcome<TableGlance> Of(Stream content, string name, TableForm? given) =>
        Path.GetExtension(name).ToLowerInvariant() is ".jsonl" or ".ndjson"
            ? OfObjects(content, name)
            : OfRows(content, name, given ?? Found(content, name), given?.Header);

    private static TableForm Found(Stream content, string name)
    {
        if (Path.GetExtension(name).Equals(".xlsx", StringComparison.OrdinalIgnoreCase))
            return new TableForm();
        var head = new byte[(int)Math.Min(TextEncoding.Looked, content.Length)];
        content.Position = 0;
        content.ReadExactly(head);
        content.Position = 0;
        var encoding = TextEncoding.Of(head);
        // Plain ASCII says nothing of how the next file writes its accents.
        return new TableForm
        {
            Encoding = Ascii.IsValid(head) ? null : encoding.WebName,
            Delimiter = DelimiterReading.Of(encoding.GetString(head)),
        };
    }

    private static Outcome<TableGlance> OfRows(Stream content, string name, TableForm form, int? said)
    {
        var all = Enumerable.Range(1, MostColumns).Select(n => n.ToString(CultureInfo.InvariantCulture)).ToList();
        var shape = new TableShape(all, []) { Form = form with { Header = 0 } };
        var read = Table.All(Table.Read(content, name, shape).Take(SampleTree.MostEntries + DeepestHeader));
        if (read.Fault is { } fault)
            return fault;
        if (read.Value.Count == 0)
            return new Reason("table.empty", $"{name} is empty.");
        var rows = read.Value;
        var (header, why) = said is { } line ? (line, $"line {line} names its columns, as you say") : HeaderReading.Of(rows);
        var names = rows.FirstOrDefault(r => r.Line == header)?.Cells;
        if (header > 0 && names is null)
            return new Reason("table.noHeader", $"{name}: line {header} is empty, so it names no columns.");
        List<TableRow> below = [.. rows.Where(r => r.Line > header).Take(SampleTree.MostEntries)];
        if (below.Count == 0)
            return new Reason("table.noRows", $"{name} names columns in line {header}, but no row stands below it. Give one with some.");
        var remarks = new List<string> { why };
        var columns = names is null ? ByPlace(below) : ByName(names, below, remarks);
        return new TableGlance(form with { Header = header }, columns, below.Count, [.. remarks, .. Said(form)]);
    }

    private static IEnumerable<string> Said(TableForm form)
    {
        var between = form.Delimiter switch
        {
            null => null,
            '\t' => "tabs",
            ';' => "semicolons",
            ',' => "commas",
            var other => $"“{other}”",
        };
        if (between is not null)
            yield return $"{between} between its cells";
        if (form.Encoding is { } encoding)
            yield return $"its text is {encoding}";
    }

    private static List<SampleColumn> ByPlace(List<TableRow> rows) =>
        [
            .. Enumerable
                .Range(0, rows.Max(LastFilled))
                .Select(i => Column((i + 1).ToString(CultureInfo.InvariantCulture), rows.Select(r => r.Cells[i]))),
        ];

    private static int LastFilled(TableRow row) => row.Cells.Select((c, i) => c is null ? 0 : i + 1).Max();

    private static List<SampleColumn> ByName(IReadOnlyList<string?> names, List<TableRow> rows, List<string> remarks)
    {
        var columns = new List<SampleColumn>();
        var twice = names
            .OfType<string>()
            .GroupBy(TableShape.Plain, StringComparer.Ordinal)
            .Where(g => g.Count() > 1)
            .Select(g => g.Key)
            .ToHashSet(StringComparer.Ordinal);
        for (var i = 0; i < names.Count; i++)
            if (names[i] is { } name && !twice.Contains(TableShape.Plain(name)))
                columns.Add(Column(name.Trim(), rows.Select(r => r.Cells[i])));
        foreach (var name in twice)
            remarks.Add($"“{name}” names several columns, which are left out: rename all but one");
        var unnamed = Enumerable.Range(0, names.Count).Count(i => names[i] is null && rows.Exists(r => r.Cells[i] is not null));
        if (unnamed > 0)
            remarks.Add($"left out for want of a name: {unnamed} {(unnamed == 1 ? "column" : "columns")}");
        return columns;
    }

    private static SampleColumn Column(string name, IEnumerable<string?> cells) =>
        new(name, [.. cells.Select(c => c is null ? (SampleValue?)null : new SampleValue(SampleForm.Text, c))]) { Heading = name };

    private static Outcome<TableGlance> OfObjects(Stream content, string name)
    {
        var documents = new List<JsonDocument>();
        try
        {
            using var text = TextEncoding.Open(content);
            while (documents.Count < SampleTree.MostEntries && text.ReadLine() is { } line)
                if (line.Trim().Trim('\uFEFF') is { Length: > 0 } said)
                    documents.Add(JsonDocument.Parse(JsonText.Whole(said)));
            if (documents.Count == 0)
                return new Reason("table.empty", $"{name} is empty.");
            if (documents.Exists(d => d.RootElement.ValueKind != JsonValueKind.Object))
                return new Reason("table.malformed", $"{name}: each line must be a JSON object.");
            var columns = SampleTree.Columns([.. documents.Select(d => d.RootElement)]);
            // A list within an object has no columns in a table.
            return new TableGlance(
                new TableForm(),
                [.. columns.Where(c => documents.Exists(d => IsValue(d.RootElement, c.Path)))],
                documents.Count,
                ["an object a line"]
            );
        }
        catch (JsonException)
        {
            return new Reason("table.malformed", $"{name}: line {documents.Count + 1} is no JSON object.");
        }
        finally
        {
            foreach (var document in documents)
                document.Dispose();
        }
    }

    private static bool IsValue(JsonElement within, string path)
    {
        if (within.ValueKind != JsonValueKind.Object)
            return false;
        if (within.TryGetProperty(path, out var value))
            return value.ValueKind is not (JsonValueKind.Array or JsonValueKind.Object);
        var dot = path.IndexOf('.', StringComparison.Ordinal);
        return dot > 0 && within.TryGetProperty(path[..dot], out var inner) && IsValue(inner, path[(dot + 1)..]);
    }
}
