using System.Globalization;
using System.Text.Json;

namespace Narbit.Adapters.Rest;

/// <summary>
/// A path into a JSON value: names joined by dots; a number is a place in a list, from 0. The empty path is the value itself; no path
/// (null) leads nowhere.
/// </summary>
internal readonly struct JsonAt(string? path)
{
    private readonly string[]? _names = path?.TrimStart('^').Split('.', StringSplitOptions.RemoveEmptyEntries);

    /// <summary>Whether the path starts at the entry around a nested record.</summary>
    public bool FromParent { get; } = path?.StartsWith('^') ?? false;

    /// <summary>The value at the path; null where there is none or it is a JSON null.</summary>
    public JsonElement? In(JsonElement root)
    {
        if (_names is null)
            return null;
        var here = root;
        foreach (var name in _names)
            if (!Step(ref here, name))
                return null;
        return here.ValueKind is JsonValueKind.Null or JsonValueKind.Undefined ? null : here;
    }

    private static bool Step(ref JsonElement here, string name)
    {
        if (here.ValueKind == JsonValueKind.Object)
            return here.TryGetProperty(name, out here);
        if (here.ValueKind != JsonValueKind.Array || !int.TryParse(name, CultureInfo.InvariantCulture, out var place))
            return false;
        if (place < 0 || place >= here.GetArrayLength())
            return false;
        here = here[place];
        return true;
    }

    /// <summary>The values at the path: the entries of a list there, or the single object.</summary>
    public IEnumerable<JsonElement> AllIn(JsonElement root) =>
        In(root) switch
        {
            { ValueKind: JsonValueKind.Array } several => several.EnumerateArray(),
            { ValueKind: JsonValueKind.Object } single => [single],
            _ => [],
        };

    /// <summary>The value as text: a string's content, a number's digits.</summary>
    public string? TextIn(JsonElement root) => In(root) is { } value ? Text(value) : null;

    /// <summary>The same for a path that may start at the entry around a nested record.</summary>
    public string? TextIn(JsonElement record, JsonElement parent) => TextIn(FromParent ? parent : record);

    /// <summary>A string's content, or the JSON of anything else.</summary>
    /// <exception cref="FormatException">It holds bytes or half characters that are no text.</exception>
    public static string Text(JsonElement value)
    {
        try
        {
            return value.ValueKind == JsonValueKind.String ? value.GetString()! : value.GetRawText();
        }
        catch (InvalidOperationException error)
        {
            throw new FormatException("it holds what is no valid text", error);
        }
    }
}
