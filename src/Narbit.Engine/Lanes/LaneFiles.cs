using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data.Lanes;
using NJsonSchema.Validation;

namespace Narbit.Engine.Lanes;

/// <summary>Reads and writes lanes as files, against the schema that docs/schemas publishes.</summary>
public static class LaneFiles
{
    /// <summary>The longest file that is read, in characters.</summary>
    public const int Longest = 4_000_000;

    private static readonly JsonSerializerOptions Legible = new(RuleJson.Options)
    {
        WriteIndented = true,
        DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>The JSON Schema (draft 2020-12) of a lane file.</summary>
    public static string Schema => Made.Value;

    private static readonly Lazy<string> Made = new(MakeSchema);

    private static readonly Lazy<NJsonSchema.JsonSchema> Checked = new(() =>
        NJsonSchema.JsonSchema.FromJsonAsync(Schema).GetAwaiter().GetResult()
    );

    /// <summary>A lane as a file.</summary>
    public static string Write(LaneFile file) => JsonSerializer.Serialize(file, Legible) + "\n";

    /// <summary>An open lane as a file.</summary>
    public static LaneFile Of(OpenLane lane) =>
        new()
        {
            Format = LaneFile.CurrentFormat,
            Kind = lane.Lane.Kind switch
            {
                LaneKind.Price => LaneFileKind.Price,
                LaneKind.Stock => LaneFileKind.Stock,
                _ => LaneFileKind.Item,
            },
            Name = lane.Name,
            Source = Side(lane.Source.System.Name, lane.SourceItems),
            Target = Side(lane.Target.System.Name, lane.TargetItems),
            SkuStartsWith = lane.Lane.SkuStartsWith,
            PublishedOnly = lane.Lane.PublishedOnly,
            Map = lane.Lane.Kind == LaneKind.Item ? RuleJson.ReadMap(lane.Rule.Document).Value : null,
            Price = lane.Lane.Kind == LaneKind.Price ? RuleJson.ReadPriceRule(lane.Rule.Document).Value : null,
            Stock = lane.Lane.Kind == LaneKind.Stock ? RuleJson.ReadStockRule(lane.Rule.Document).Value : null,
            Guards = lane.Guards,
        };

    /// <summary>Reads a file and checks it against the schema.</summary>
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

        LaneFile? file = null;
        try
        {
            file = JsonSerializer.Deserialize<LaneFile>(json, RuleJson.Options);
        }
        catch (JsonException error)
        {
            // The reader stops at the first fault; the schema finds all of them.
            found.AddRange(EveryFault(json));
            if (found.Count == 0)
                found.Add(new RuleFault("", Severity.Refuse, RuleJson.Explain(error)));
        }

        if (file is null)
            return null;
        if (file.Format != LaneFile.CurrentFormat)
            found.Add(new RuleFault("format", Severity.Refuse, $"“{file.Format}” is not {LaneFile.CurrentFormat}"));
        if (
            file.Kind switch
            {
                LaneFileKind.Price => file.Price is null,
                LaneFileKind.Stock => file.Stock is null,
                _ => file.Map is null,
            }
        )
            found.Add(
                new RuleFault(
                    file.Kind switch
                    {
                        LaneFileKind.Price => "price",
                        LaneFileKind.Stock => "stock",
                        _ => "map",
                    },
                    Severity.Refuse,
                    "is missing, and a lane of this kind has nothing to go by without it"
                )
            );
        if (file.Guards is { } guards)
            found.AddRange(guards.Check().Select(f => f with { Path = $"guards.{f.Path}" }));
        return found.Exists(f => f.Severity == Severity.Refuse) ? null : file;
    }

    private static List<RuleFault> EveryFault(string json)
    {
        try
        {
            using var whole = JsonDocument.Parse(json);
        }
        catch (JsonException error)
        {
            return
            [
                new RuleFault(
                    "",
                    Severity.Refuse,
                    $"this is no JSON: {error.Message.Split(" LineNumber")[0].TrimEnd('.')} (line {error.LineNumber + 1}, "
                        + $"column {error.BytePositionInLine + 1})"
                ),
            ];
        }

        var found = new List<RuleFault>();
        foreach (var error in Checked.Value.Validate(json))
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

    private static string MakeSchema()
    {
        var options = new JsonSerializerOptions(RuleJson.Options);
        options.MakeReadOnly(populateMissingResolver: true);
        var schema = (JsonObject)
            options.GetJsonSchemaAsNode(typeof(LaneFile), new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true });
        schema.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        schema.Insert(1, "title", "A Narbit lane");
        schema.Insert(
            2,
            "description",
            "A whole lane as a file: what it takes, its map or rule, its guards, and what the two sides look like. Unknown keys "
                + "are refused."
        );
        ((JsonObject)schema["properties"]!)["format"] = new JsonObject
        {
            ["type"] = "string",
            ["enum"] = new JsonArray(LaneFile.CurrentFormat),
        };
        return schema.ToJsonString(
                new JsonSerializerOptions
                {
                    WriteIndented = true,
                    Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
                }
            ) + "\n";
    }
}
