using System.Text.Json.Nodes;
using Narbit.Core;
using YamlDotNet.Serialization;

namespace Narbit.Adapters.Describing;

/// <summary>An OpenAPI document (3.0 or 3.1), in JSON or YAML, whose references are followed as they are met.</summary>
internal sealed class Contract
{
    /// <summary>The most characters that are read.</summary>
    public const int Longest = 16 * 1024 * 1024;

    private const int MostReferences = 32;
    private const int MostNodes = 2_000_000;
    private const int DeepestYaml = 60;

    private readonly JsonObject _root;
    private readonly Dictionary<JsonNode, JsonObject?> _resolved = [];

    private Contract(JsonObject root) => _root = root;

    /// <summary>The document, or why it is none.</summary>
    public static Outcome<Contract> Read(string text)
    {
        if (text.Length > Longest)
            return new Reason(
                "contract.tooLong",
                $"The document has more than {Longest / 1024 / 1024} MB. Give the part that is about your lists."
            );
        if (Parsed(text) is not { } root)
            return new Reason("contract.unreadable", "The document is neither JSON nor YAML with names and values.");
        if (root["swagger"] is not null)
            return new Reason(
                "contract.old",
                "The document is of version 2, which was called Swagger. Narbit reads OpenAPI 3.0 and 3.1; most systems offer both."
            );
        if (root["openapi"] is null || root["paths"] is not JsonObject { Count: > 0 })
            return new Reason("contract.none", "This is no OpenAPI document: it names no version (openapi) or has no paths.");
        var contract = new Contract(root);
        contract.Paths = [.. contract.Found()];
        return contract;
    }

    public string? Title => Text(In(_root["info"], "title"));

    /// <summary>The address that its first server has, without variables; null: it names none of its own.</summary>
    public string? Server =>
        Text(In((_root["servers"] as JsonArray)?.FirstOrDefault(), "url")) is { } url
        && url.StartsWith("http", StringComparison.Ordinal)
        && !url.Contains('{', StringComparison.Ordinal)
            ? url
            : null;

    /// <summary>Its paths, with what can be done there.</summary>
    public IReadOnlyList<(string Path, JsonObject Item)> Paths { get; private set; } = [];

    private IEnumerable<(string Path, JsonObject Item)> Found()
    {
        foreach (var (path, item) in _root["paths"]!.AsObject())
            if (Resolve(item) is { } found)
                yield return (path, found);
    }

    /// <summary>The first way to sign in that it names.</summary>
    public JsonObject? SignIn =>
        (In(_root["components"], "securitySchemes") as JsonObject)?.Select(s => Resolve(s.Value)).FirstOrDefault(s => s is not null);

    /// <summary>The object itself, wherever references lead; null: to nothing, or in a circle.</summary>
    public JsonObject? Resolve(JsonNode? node)
    {
        if (node is not JsonObject first || Text(first["$ref"]) is null)
            return node as JsonObject;
        if (!_resolved.TryGetValue(first, out var known))
            _resolved[first] = known = Followed(first);
        return known;
    }

    private JsonObject? Followed(JsonNode? node)
    {
        for (var i = 0; i < MostReferences; i++)
        {
            if (node is not JsonObject here)
                return null;
            if (Text(here["$ref"]) is not { } reference)
                return here;
            node = Follow(reference);
        }

        return null;
    }

    /// <summary>The parameters of a call, with those of its path.</summary>
    public List<JsonObject> Parameters(JsonObject path, JsonObject call) =>
        [.. new[] { path["parameters"], call["parameters"] }.OfType<JsonArray>().SelectMany(p => p).Select(Resolve).OfType<JsonObject>()];

    /// <summary>The schema of a call's reply when all goes well.</summary>
    public JsonObject? Reply(JsonObject call, out JsonObject? response)
    {
        response = (call["responses"] as JsonObject)
            ?.Where(r => r.Key.StartsWith('2') || r.Key == "default")
            .OrderBy(r => r.Key, StringComparer.Ordinal)
            .Select(r => Resolve(r.Value))
            .FirstOrDefault(r => r is not null);
        return Content(response);
    }

    /// <summary>The schema of what a call takes.</summary>
    public JsonObject? Request(JsonObject call) => Content(Resolve(call["requestBody"]));

    private JsonObject? Content(JsonObject? holder) =>
        (holder?["content"] as JsonObject)
            ?.Where(c => c.Key.Contains("json", StringComparison.OrdinalIgnoreCase))
            .Select(c => Resolve(In(c.Value, "schema")))
            .FirstOrDefault();

    private JsonNode? Follow(string reference)
    {
        if (!reference.StartsWith("#/", StringComparison.Ordinal))
            return null;
        JsonNode? here = _root;
        foreach (var part in reference[2..].Split('/'))
            here = (here as JsonObject)?[
                Uri.UnescapeDataString(part).Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal)
            ];
        return here;
    }

    /// <summary>What stands under a name; null: nothing does, or nothing can.</summary>
    public static JsonNode? In(JsonNode? node, string name) => (node as JsonObject)?[name];

    public static string? Text(JsonNode? node) => node is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;

    public static bool IsTrue(JsonNode? node) => node is JsonValue value && value.TryGetValue<bool>(out var truth) && truth;

    private static JsonObject? Parsed(string text)
    {
        try
        {
            if (text.AsSpan().TrimStart().StartsWith("{"))
                return JsonText.Read(JsonText.Whole(text)) as JsonObject;
            if (IsTooDeep(text))
                return null;
            var yaml = new DeserializerBuilder().WithAttemptingUnquotedStringTypeDeserialization().Build().Deserialize<object?>(text);
            var left = MostNodes;
            return System.Text.Json.JsonSerializer.SerializeToNode(Plain(yaml, 0, ref left)) as JsonObject;
        }
        catch (Exception error) when (IsOfTheText(error))
        {
            return null;
        }
    }

    // The reader of YAML has no one fault for what is no YAML: a tag that is no address is an argument that does not fit.
    private static bool IsOfTheText(Exception error) =>
        error
            is System.Text.Json.JsonException
                or YamlDotNet.Core.YamlException
                or InvalidOperationException
                or ArgumentException
                or FormatException
                or OverflowException;

    // What is nested deeper than any document is would take the whole process down where it is put together.
    private static bool IsTooDeep(string text)
    {
        var events = new YamlDotNet.Core.Parser(new StringReader(text));
        for (var depth = 0; events.MoveNext(); )
        {
            depth += events.Current!.NestingIncrease;
            if (depth > DeepestYaml)
                return true;
        }

        return false;
    }

    // YAML's maps may have keys of any kind, and its anchors may be circles, or stand for more than any machine holds.
    private static object? Plain(object? node, int depth, ref int left)
    {
        if (--left < 0 || depth > DeepestYaml)
            throw new InvalidOperationException("The document stands for more than it has.");
        switch (node)
        {
            case IDictionary<object, object?> map:
                var plain = new Dictionary<string, object?>(StringComparer.Ordinal);
                foreach (var (key, value) in map)
                    plain[$"{key}"] = Plain(value, depth + 1, ref left);
                return plain;
            case IList<object?> list:
                var all = new List<object?>(list.Count);
                foreach (var value in list)
                    all.Add(Plain(value, depth + 1, ref left));
                return all;
            // JSON has no number without an end; what looks like one is text.
            case double number when !double.IsFinite(number):
            case float small when !float.IsFinite(small):
                return string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{node}");
            default:
                return node;
        }
    }
}
