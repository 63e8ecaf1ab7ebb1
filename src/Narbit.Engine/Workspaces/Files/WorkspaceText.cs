using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>How the files of a workspace are written and read: indented JSON and CSV, in one order, made for version control.</summary>
public static class WorkspaceText
{
    /// <summary>The file with what holds for all.</summary>
    public const string Workspace = "workspace.json";

    private static JsonSerializerOptions Options => LaneJson.Legible;

    // Nothing is said by null where something must be.
    private static readonly JsonSerializerOptions Whole = new(LaneJson.Legible) { RespectNullableAnnotations = true };

    private static readonly JsonSerializerOptions Indented = new()
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private static readonly JsonDocumentOptions WithComments = new() { CommentHandling = JsonCommentHandling.Skip };

    private static readonly TableShape Pairs = new(["hub_key", "other_key", "what", "quantity", "reason"], ["what"]);

    /// <summary>The JSON Schemas (draft 2020-12) of the files, by name.</summary>
    public static IReadOnlyDictionary<string, Func<string>> Schemas { get; } =
        new Dictionary<string, Func<string>>(StringComparer.Ordinal)
        {
            ["workspace"] = () => Schema<WorkspaceDocument>("A Narbit workspace: workspace.json", WorkspaceDocument.CurrentFormat),
            ["workspace-lane"] = () => Schema<WorkspaceLane>("A lane of a workspace: lanes/ID.json", WorkspaceLane.CurrentFormat),
            ["workspace-job"] = () => Schema<WorkspaceJob>("A job of a workspace: jobs/ID.json", WorkspaceJob.CurrentFormat),
            ["workspace-pairs"] = () =>
                Schema<WorkspacePairs>("A pairing of a workspace: pairs/KIND-HUB-OTHER.json", WorkspacePairs.CurrentFormat),
        };

    /// <summary>The file of a system's description.</summary>
    public static string OfSystem(string id) => $"systems/{id}.json";

    /// <summary>The file of a lane.</summary>
    public static string OfLane(string id) => $"lanes/{id}.json";

    /// <summary>The file of a job.</summary>
    public static string OfJob(string id) => $"jobs/{id}.json";

    /// <summary>The file of a pairing; its table is beside it, with another ending.</summary>
    public static string OfPairs(RecordKind kind, string hub, string other) =>
        $"pairs/{kind.ToString().ToLowerInvariant()}-{hub}-{other}.json";

    /// <summary>The table beside the file of a pairing.</summary>
    public static string TableBeside(string file) => Path.ChangeExtension(file, ".csv");

    /// <summary>A document as its file.</summary>
    public static string Write<T>(T document) => JsonSerializer.Serialize(document, Options) + "\n";

    /// <summary>A description as its file: as somebody wrote it, with the address that holds.</summary>
    public static string Description(string document, string address)
    {
        var json = JsonNode.Parse(document, documentOptions: WithComments)!;
        if (json["address"]?.ToString() == address)
            return document.ReplaceLineEndings("\n").TrimEnd() + "\n";
        json["address"] = address;
        return json.ToJsonString(Indented) + "\n";
    }

    /// <summary>Whether two JSON texts say the same, however they are laid out.</summary>
    public static bool SayTheSame(string one, string other) =>
        JsonLeaves.Of(one).Select(l => (l.Path, l.Value)).SequenceEqual(JsonLeaves.Of(other).Select(l => (l.Path, l.Value)));

    /// <summary>Lines of pairs as their file.</summary>
    public static string WriteLines(IEnumerable<WorkspacePairLine> lines)
    {
        var text = new StringBuilder(string.Join(',', Pairs.Columns)).Append('\n');
        foreach (var line in lines)
            text.AppendJoin(
                    ',',
                    TableOut.Cell(line.HubKey),
                    TableOut.Cell(line.OtherKey),
                    Word(line.What),
                    line.Quantity == 1 ? "" : Numbers.Plain(line.Quantity),
                    TableOut.Cell(line.Reason)
                )
                .Append('\n');
        return text.ToString();
    }

    /// <summary>Reads a document.</summary>
    /// <param name="file">The file, for faults.</param>
    /// <param name="text">What it holds.</param>
    /// <param name="format">The format that is read.</param>
    /// <param name="faults">Where faults go.</param>
    public static T? Read<T>(string file, string text, string format, ICollection<WorkspaceFault> faults)
        where T : class
    {
        try
        {
            if (JsonText.Read(text)?["format"]?.ToString() is var written && written != format)
            {
                faults.Add(new WorkspaceFault(file, null, Other(written, format)));
                return null;
            }

            if (!JsonText.HasNothingInAList(text))
                return JsonSerializer.Deserialize<T>(text, Whole);
            faults.Add(new WorkspaceFault(file, null, "a list has nothing (null) where a value should be"));
        }
        catch (JsonException error)
        {
            faults.Add(new WorkspaceFault(file, (int?)error.LineNumber + 1, RuleJson.Explain(error)));
        }
        catch (Exception error) when (error is InvalidOperationException or ArgumentException or NotSupportedException)
        {
            faults.Add(new WorkspaceFault(file, null, $"this is not {format}: {error.Message}"));
        }

        return null;
    }

    /// <summary>Reads lines of pairs, each with its number in the file.</summary>
    public static IReadOnlyList<(int Number, WorkspacePairLine Line)> ReadPairs(
        string file,
        string text,
        ICollection<WorkspaceFault> faults
    )
    {
        var lines = new List<(int, WorkspacePairLine)>();
        foreach (var row in Table.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), file, Pairs))
        {
            if (row.Fault is { } fault)
                faults.Add(new WorkspaceFault(file, null, fault.Words));
            else if (Line(row.Value.Cells) is not { } line)
                faults.Add(new WorkspaceFault(file, row.Value.Line, "what: one of pair, part, aside, create; with the keys that it needs"));
            else
                lines.Add((row.Value.Line, line));
        }

        return lines;
    }

    private static string Schema<T>(string title, string format)
    {
        var options = new JsonSerializerOptions(LaneJson.Options);
        options.MakeReadOnly(populateMissingResolver: true);
        var schema = SchemaNodes.Of(options, typeof(T));
        schema.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        schema.Insert(1, "title", title);
        ((JsonObject)schema["properties"]!)["format"] = new JsonObject { ["type"] = "string", ["enum"] = new JsonArray(format) };
        return schema.ToJsonString(Indented) + "\n";
    }

    private static string Other(string? written, string format)
    {
        if (written is null)
            return $"it does not say its format; {format} is read";
        var mine = format.LastIndexOf('/') + 1;
        return written.StartsWith(format[..mine], StringComparison.Ordinal)
            ? $"it was written by a newer Narbit ({written}); this one reads {format}. Bring this one up to date first"
            : $"“{written}” is not {format}";
    }

    private static WorkspacePairLine? Line(IReadOnlyList<string?> cells)
    {
        var (hub, other) = (Key(cells[0]), Key(cells[1]));
        var quantity = 1m;
        if (
            !Enum.TryParse<PairLineKind>(cells[2], ignoreCase: true, out var what)
            || (
                cells[3] is { Length: > 0 } many && !decimal.TryParse(many, NumberStyles.Number, CultureInfo.InvariantCulture, out quantity)
            )
            || quantity <= 0
        )
            return null;
        var complete = what is PairLineKind.Pair or PairLineKind.Part ? hub is not null && other is not null : hub is null != other is null;
        return complete ? new WorkspacePairLine(hub, other, what, quantity, Key(cells[4])) : null;
    }

    // What a spreadsheet would take for a formula was written with an apostrophe before it.
    private static string? Key(string? cell) =>
        cell is not { Length: > 0 } ? null
        : cell.Length > 1 && cell[0] == '\'' && TableOut.Cell(cell[1..]).TrimStart('"') == cell ? cell[1..]
        : cell;

    private static string Word(PairLineKind what) => what.ToString().ToLowerInvariant();
}
