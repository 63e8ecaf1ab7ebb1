using System.Collections.Concurrent;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Narbit.Core;
using Narbit.Core.Records;
using NJsonSchema.Validation;

namespace Narbit.Engine.Lanes;

/// <summary>Reads and writes lanes as files, against the schema that docs/schemas publishes.</summary>
public static class LaneFiles
{
    /// <summary>The longest file that is read, in characters.</summary>
    public const int Longest = 4_000_000;

    /// <summary>The JSON Schema (draft 2020-12) of a lane file.</summary>
    public static string Schema => Made.Value.ToJsonString(SchemaOptions) + "\n";

    private static readonly JsonSerializerOptions SchemaOptions = new()
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private static readonly Lazy<JsonObject> Made = new(MakeSchema);

    // A file is checked against the schema of its own kind: what it lacks of another says nothing.
    private static readonly ConcurrentDictionary<string, NJsonSchema.JsonSchema> Checked = new(StringComparer.Ordinal);

    /// <summary>A lane as a file.</summary>
    public static string Write(LaneFile file) => JsonSerializer.Serialize(file, LaneJson.Legible) + "\n";

    /// <summary>An open lane as a file.</summary>
    public static LaneFile Of(OpenLane lane) =>
        new()
        {
            Format = LaneFile.CurrentFormat,
            Name = lane.Name,
            Source = Side(lane.Source.System.Name, lane.Sides.Source),
            Target = Side(lane.Target.System.Name, lane.Sides.Target),
            SkuStartsWith = lane.Lane.SkuStartsWith,
            PublishedOnly = lane.Lane.PublishedOnly,
            Document = lane.Document,
            Guards = lane.Guards,
        };

    /// <summary>Reads a file of this or the earlier format and checks it against the schema.</summary>
    /// <param name="json">The file's text.</param>
    /// <param name="faults">Every fault, by path.</param>
    /// <returns>The lane, or null where there are faults.</returns>
    public static LaneFile? Read(string json, out IReadOnlyList<RuleFault> faults)
    {
        var found = new List<RuleFault>();
        faults = found;
        if (json.Length > Longest)
        {
            found.Add(new RuleFault("", Severity.Refuse, $"the file has {json.Length:N0} characters; at most {Longest:N0} are read"));
            return null;
        }

        if (Parsed(json, found) is not { } content)
            return null;
        var format = content["format"]?.ToString() ?? LaneFile.CurrentFormat;
        if (format is not (LaneFile.CurrentFormat or LaneFile.EarlierFormat))
        {
            found.Add(new RuleFault("format", Severity.Refuse, $"“{format}” is not {LaneFile.CurrentFormat}"));
            return null;
        }

        var kind = content["kind"]?.ToString();
        var file = Deserialized(format == LaneFile.EarlierFormat ? Renewed(content) : content, found);
        if (file?.Guards is { } guards)
            found.AddRange(guards.Check().Select(f => f with { Path = $"guards.{f.Path}" }));
        if (format == LaneFile.EarlierFormat)
            faults = [.. found.Select(f => f with { Path = Earlier(f.Path, kind) })];
        return found.Exists(f => f.Severity == Severity.Refuse) ? null : file! with { Format = format };
    }

    /// <summary>A finding about a file's document, by its path in the file as it was written.</summary>
    public static RuleFault InFile(LaneFile file, RuleFault fault)
    {
        var work = LaneWorks.Of(file.Document);
        var path =
            fault.Path == LaneJson.Discriminator ? "document.kind"
            : fault.Path.Length == 0 ? $"document.{work.Part}"
            : $"document.{work.Part}.{fault.Path}";
        return fault with { Path = file.Format == LaneFile.EarlierFormat ? Earlier(path, work.Kind) : path };
    }

    private static JsonObject? Parsed(string json, List<RuleFault> found)
    {
        try
        {
            if (JsonText.Read(json) is JsonObject content)
                return content;
            found.Add(new RuleFault("", Severity.Refuse, "this is no JSON object"));
        }
        catch (JsonException error)
        {
            var where = $"(line {error.LineNumber + 1}, column {error.BytePositionInLine + 1})";
            found.Add(new RuleFault("", Severity.Refuse, $"this is no JSON: {error.Message.Split(" LineNumber")[0].TrimEnd('.')} {where}"));
        }
        return null;
    }

    // In the earlier format the rule stood beside its kind.
    private static JsonObject Renewed(JsonObject content)
    {
        if (content["kind"] is not JsonValue kind)
            return content;
        var (part, name) = kind.ToString() switch
        {
            "item" => ("map", "map"),
            var other => (other, "rule"),
        };
        var document = new JsonObject { [LaneJson.Discriminator] = kind.ToString() };
        if (content[part] is { } rule)
            document[name] = rule.DeepClone();
        foreach (var earlier in new[] { "kind", "map", "price", "stock" })
            content.Remove(earlier);
        content["format"] = LaneFile.CurrentFormat;
        content["document"] = document;
        return content;
    }

    private static string Earlier(string path, string? kind)
    {
        var parts = path.Split('.');
        if (parts is not ["document", var part, ..])
            return path;
        return string.Join('.', [part == "rule" ? kind ?? part : part, .. parts[2..]]);
    }

    private static LaneFile? Deserialized(JsonObject content, List<RuleFault> found)
    {
        try
        {
            if (content["document"]?[LaneJson.Discriminator]?.ToString() is not { } kind || LaneWorks.All.All(w => w.Kind != kind))
            {
                var kinds = string.Join(", ", LaneWorks.Between.Select(w => w.Kind));
                found.Add(new RuleFault("document.kind", Severity.Refuse, $"says what the lane is about: {kinds}"));
                return null;
            }

            return content.Deserialize<LaneFile>(LaneJson.Options);
        }
        catch (Exception error) when (error is JsonException or InvalidOperationException)
        {
            // The reader stops at the first fault; the schema finds all of them.
            found.AddRange(EveryFault(content));
            if (found.Count == 0)
                found.Add(new RuleFault("", Severity.Refuse, error is JsonException json ? RuleJson.Explain(json) : error.Message));
            return null;
        }
    }

    private static List<RuleFault> EveryFault(JsonObject content)
    {
        var found = new List<RuleFault>();
        if (content["document"] is not JsonObject document || document[LaneJson.Discriminator] is not JsonValue kind)
            return found;
        if (LaneWorks.All.All(w => w.Kind != kind.ToString()))
            return found;
        var schema = Checked.GetOrAdd(
            kind.ToString(),
            k => NJsonSchema.JsonSchema.FromJsonAsync(SchemaOf(k).ToJsonString()).GetAwaiter().GetResult()
        );
        foreach (var error in schema.Validate(content.ToJsonString()))
            Flatten(error, found);
        return found;
    }

    private static LaneFileSide Side(string system, FieldSet fields) =>
        new()
        {
            System = system,
            Key = fields.Find(FieldRole.Sku)?.Name ?? "key",
            Fields = [.. fields.Fields.Select(LaneFileField.Of)],
        };

    private static void Flatten(ValidationError error, List<RuleFault> found)
    {
        var path = (error.Path ?? "#").TrimStart('#').TrimStart('/').Replace('/', '.');
        var inner = (error as ChildSchemaValidationError)?.Errors.Values.SelectMany(e => e).ToList() ?? [];
        if (error.Kind is ValidationErrorKind.ArrayItemNotValid && inner.Count > 0)
        {
            foreach (var one in inner)
                Flatten(one, found);
            return;
        }

        var name = error.Property?.Trim('[', ']');
        var message = error.Kind switch
        {
            ValidationErrorKind.PropertyRequired => "is missing",
            ValidationErrorKind.NoAdditionalPropertiesAllowed => $"unknown key “{name}”",
            ValidationErrorKind.NotInEnumeration => "is not one of the allowed words",
            ValidationErrorKind.NoTypeValidates
            or ValidationErrorKind.StringExpected
            or ValidationErrorKind.NumberExpected
            or ValidationErrorKind.IntegerExpected
            or ValidationErrorKind.BooleanExpected
            or ValidationErrorKind.ArrayExpected
            or ValidationErrorKind.ObjectExpected => "is of the wrong type",
            ValidationErrorKind.PatternMismatch => "is not written as it should be",
            _ => $"does not fit the schema ({error.Kind})",
        };
        found.Add(new RuleFault(path, Severity.Refuse, message));
    }

    private static JsonObject MakeSchema()
    {
        var options = new JsonSerializerOptions(LaneJson.Options);
        options.MakeReadOnly(populateMissingResolver: true);
        var schema = SchemaNodes.Of(options, typeof(LaneFile));
        schema.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        schema.Insert(1, "title", "A Narbit lane");
        schema.Insert(
            2,
            "description",
            "A whole lane as a file: what it takes, its map or rule, its guards, and what the two sides look like. "
                + "Unknown keys are refused."
        );
        ((JsonObject)schema["properties"]!)["format"] = new JsonObject
        {
            ["type"] = "string",
            ["enum"] = new JsonArray(LaneFile.CurrentFormat),
        };
        return schema;
    }

    // The schema with nothing but one kind's document.
    private static JsonObject SchemaOf(string kind)
    {
        const string Kinds = "#/properties/document/anyOf";
        const string Apart = "#/definitions/kinds/anyOf";
        var schema = (JsonObject)JsonNode.Parse(Made.Value.ToJsonString().Replace(Kinds, Apart, StringComparison.Ordinal))!;
        var properties = (JsonObject)schema["properties"]!;
        if (properties["document"] is JsonObject all && all["anyOf"] is JsonArray kinds)
        {
            // The other kinds stay where what they share with this one is referred to.
            var at = kinds.ToList().FindIndex(k => k!["properties"]?[LaneJson.Discriminator]?["const"]?.ToString() == kind);
            properties.Remove("document");
            schema["definitions"] = new JsonObject { ["kinds"] = all };
            properties["document"] = new JsonObject { ["$ref"] = $"{Apart}/{at}" };
        }

        WithoutAnything(schema);
        return schema;
    }

    // What may be anything is “true” in a schema, which the checker does not know; it means the same as one that asks for nothing.
    private static void WithoutAnything(JsonObject schema)
    {
        if (schema["properties"] is JsonObject properties)
            foreach (var name in properties.Where(p => p.Value?.GetValueKind() == JsonValueKind.True).Select(p => p.Key).ToList())
                properties[name] = new JsonObject();
        foreach (var (_, part) in schema)
        foreach (var inner in part is JsonArray list ? list : (IEnumerable<JsonNode?>)[part])
            if (inner is JsonObject below)
                WithoutAnything(below);
    }
}
