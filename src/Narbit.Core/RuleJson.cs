using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;

namespace Narbit.Core;

/// <summary>The JSON of rules, items and results: camelCase, amounts as numbers or strings, unknown keys refused by name.</summary>
public static partial class RuleJson
{
    /// <summary>The options of every rule document.</summary>
    public static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        NumberHandling = JsonNumberHandling.AllowReadingFromString,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>A rule, or a part of one, as a document.</summary>
    public static string Write<T>(T part) => JsonSerializer.Serialize(part, Options);

    /// <summary>Reads a document that a person may have written.</summary>
    public static Outcome<T> Read<T>(string json)
        where T : class
    {
        try
        {
            return JsonSerializer.Deserialize<T>(json, Options) is { } value ? value : new Reason("rule.unreadable", "The rule is empty.");
        }
        catch (JsonException error)
        {
            return new Reason("rule.unreadable", $"The rule could not be read: {Explain(error)}.");
        }
    }

    /// <summary>Reads a stored trace.</summary>
    public static IReadOnlyList<TraceStep> ReadTrace(string json) => JsonSerializer.Deserialize<List<TraceStep>>(json, Options)!;

    /// <summary>Reads what a stored reason speaks of.</summary>
    public static IReadOnlyDictionary<string, string> ReadValues(string json) =>
        JsonSerializer.Deserialize<Dictionary<string, string>>(json, Options)!;

    /// <summary>Says in plain words, with the path, why a document could not be read.</summary>
    public static string Explain(JsonException error)
    {
        var path = (error.Path ?? "$").TrimStart('$').TrimStart('.');
        var unknown = UnknownKey().Match(error.Message);
        if (unknown.Success)
        {
            var key = unknown.Groups["key"].Value;
            var parent =
                path.EndsWith("." + key, StringComparison.Ordinal) ? path[..^(key.Length + 1)]
                : path == key ? ""
                : path;
            return parent.Length == 0 ? $"unknown key “{key}”" : $"unknown key “{key}” in {parent}";
        }

        // The serializer names what is missing in its message alone.
        var missing = MissingKeys().Match(error.Message);
        if (missing.Success)
        {
            var keys = missing.Groups["keys"].Value.Split(", ").Select(k => $"“{k.Trim('\'')}”");
            return $"{(path.Length == 0 ? "it" : path)} lacks {string.Join(", ", keys)}";
        }

        return path.Length == 0
            ? $"not a JSON object of this kind ({error.Message.Split(". Path", 2)[0].Split(" LineNumber", 2)[0].TrimEnd('.', ' ')})"
            : $"{path} cannot be read: it is missing, of the wrong type or not one of the allowed words";
    }

    [GeneratedRegex("missing required properties including: (?<keys>[^.]*)")]
    private static partial Regex MissingKeys();

    [GeneratedRegex("property '(?<key>[^']*)' could not be mapped")]
    private static partial Regex UnknownKey();
}
