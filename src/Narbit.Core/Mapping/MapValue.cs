using System.Text.Json;

namespace Narbit.Core.Mapping;

/// <summary>A value in a chain: one text in canonical form, a list of texts, or nothing.</summary>
/// <param name="Text">The canonical text; null where there is a list or nothing.</param>
/// <param name="List">The list; null where there is a text or nothing.</param>
public readonly record struct MapValue(string? Text, IReadOnlyList<string>? List = null)
{
    private static readonly JsonSerializerOptions Legible = new()
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>Nothing.</summary>
    public static MapValue Missing => default;

    /// <summary>Whether there is nothing: no text, an empty text, or an empty list.</summary>
    public bool IsMissing => string.IsNullOrEmpty(Text) && (List is null || List.Count == 0);

    /// <summary>The canonical form: the text itself, or a JSON array of strings; null for nothing.</summary>
    public string? Canonical => IsMissing ? null : Text ?? Write(List!);

    /// <summary>A stored value.</summary>
    /// <param name="shape">Its shape.</param>
    /// <param name="stored">Its canonical form, or null.</param>
    public static MapValue Of(Shape shape, string? stored) =>
        stored is null ? Missing
        : shape == Shape.List ? new MapValue(null, ReadList(stored))
        : new MapValue(stored);

    /// <summary>The canonical form of a list.</summary>
    public static string Write(IReadOnlyList<string> list) => JsonSerializer.Serialize(list, Legible);

    /// <summary>A list from its canonical form; a text that is no JSON array is a list of one.</summary>
    public static IReadOnlyList<string> ReadList(string stored)
    {
        if (!stored.StartsWith('['))
            return [stored];
        try
        {
            return JsonSerializer.Deserialize<List<string>>(stored)!;
        }
        catch (JsonException)
        {
            return [stored];
        }
    }
}
