using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core.Records;

namespace Narbit.Core.Mapping;

/// <summary>What kind of value is in a chain between two steps.</summary>
[Flags]
[JsonConverter(typeof(CamelCaseEnum<Shape>))]
public enum Shape
{
    /// <summary>Plain text.</summary>
    Text = 1,

    /// <summary>HTML.</summary>
    Html = 2,

    /// <summary>A number.</summary>
    Number = 4,

    /// <summary>True or false.</summary>
    Truth = 8,

    /// <summary>A point in time.</summary>
    Instant = 16,

    /// <summary>A calendar day.</summary>
    Day = 32,

    /// <summary>Several texts in order.</summary>
    List = 64,
}

/// <summary>Shapes and field types.</summary>
public static class Shapes
{
    /// <summary>The shape of a field's values.</summary>
    public static Shape Of(FieldType type) =>
        type switch
        {
            FieldType.Html => Shape.Html,
            FieldType.Integer or FieldType.Decimal or FieldType.Money or FieldType.Percent or FieldType.Weight or FieldType.Length =>
                Shape.Number,
            FieldType.Boolean => Shape.Truth,
            FieldType.Instant => Shape.Instant,
            FieldType.Date => Shape.Day,
            FieldType.List => Shape.List,
            _ => Shape.Text,
        };

    /// <summary>A shape with its article, as a person reads it.</summary>
    public static string Words(this Shape shape) =>
        shape switch
        {
            Shape.Text => "text",
            Shape.Html => "HTML",
            Shape.Number => "a number",
            Shape.Truth => "true or false",
            Shape.Instant => "a date with time",
            Shape.Day => "a date",
            Shape.List => "a list",
            _ => string.Join(" or ", Enum.GetValues<Shape>().Where(s => shape.HasFlag(s)).Select(Words)),
        };
}

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

/// <summary>Everything that a chain may look at.</summary>
/// <param name="Own">The source's record.</param>
/// <param name="Parent">The first record of its group; null where it is that record itself, or has no group.</param>
/// <param name="There">The paired record at the target; empty where there is none.</param>
/// <param name="Levels">The stock levels that belong to it.</param>
/// <param name="Paired">The target's key for a key or SKU of the source; null where it is not paired.</param>
/// <param name="Key">The source's key of the record; null: it is of no matter.</param>
/// <param name="ParentKey">The source's key of <paramref name="Parent"/>.</param>
public sealed record MapRecord(
    IReadOnlyDictionary<string, string> Own,
    IReadOnlyDictionary<string, string>? Parent = null,
    IReadOnlyDictionary<string, string>? There = null,
    IReadOnlyList<IReadOnlyDictionary<string, string>>? Levels = null,
    Func<string, string?>? Paired = null,
    string? Key = null,
    string? ParentKey = null
)
{
    private static readonly IReadOnlyDictionary<string, string> Nothing = new Dictionary<string, string>();

    /// <summary>A field's stored value in one of the records; null where there is none.</summary>
    internal string? Value(SourceRecord record, string field) =>
        (
            record switch
            {
                SourceRecord.Parent => Parent ?? Own,
                SourceRecord.There => There ?? Nothing,
                _ => Own,
            }
        ).GetValueOrDefault(field);
}
