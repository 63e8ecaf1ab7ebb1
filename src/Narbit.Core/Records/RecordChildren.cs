using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>
/// The lists within a record, by name: each entry is a set of canonical values by field name. A record and its children are one
/// document: they are read, kept, hashed and written together.
/// </summary>
[JsonConverter(typeof(Json))]
public sealed class RecordChildren
{
    private static readonly JsonWriterOptions AsKept = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
    private readonly IReadOnlyDictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> _lists;

    /// <summary>Children by the names of their lists; a list without entries need not be named.</summary>
    public RecordChildren(IReadOnlyDictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> lists) => _lists = lists;

    /// <summary>No children.</summary>
    public static RecordChildren None { get; } = new(new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>>());

    /// <summary>Whether there is none.</summary>
    public bool IsEmpty => _lists.Count == 0;

    /// <summary>The names of the lists.</summary>
    public IEnumerable<string> Lists => _lists.Keys;

    /// <summary>The entries of a list, in order; none where there is no such list.</summary>
    public IReadOnlyList<IReadOnlyDictionary<string, string>> this[string list] => _lists.GetValueOrDefault(list) ?? [];

    /// <summary>These lists and those of another; where both have a list, the other's.</summary>
    public RecordChildren With(RecordChildren other)
    {
        var lists = _lists.ToDictionary(l => l.Key, l => l.Value, StringComparer.Ordinal);
        foreach (var name in other.Lists)
            lists[name] = other[name];
        return new RecordChildren(lists);
    }

    /// <summary>Without the lists about which something holds.</summary>
    public RecordChildren Without(Func<string, bool> holds) =>
        new(_lists.Where(l => !holds(l.Key)).ToDictionary(l => l.Key, l => l.Value, StringComparer.Ordinal));

    /// <summary>As JSON, the form in which they are kept; null where there are none.</summary>
    public string? Write()
    {
        if (IsEmpty)
            return null;
        var bytes = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(bytes, AsKept))
            WriteTo(json);
        return Encoding.UTF8.GetString(bytes.WrittenSpan);
    }

    /// <summary>Writes the form in which they are kept; a reading has very many of them.</summary>
    public void WriteTo(Utf8JsonWriter json)
    {
        json.WriteStartObject();
        foreach (var (name, entries) in _lists)
        {
            json.WriteStartArray(name);
            foreach (var entry in entries)
                WriteTo(json, entry);
            json.WriteEndArray();
        }

        json.WriteEndObject();
    }

    private static void WriteTo(Utf8JsonWriter json, IReadOnlyDictionary<string, string> entry)
    {
        json.WriteStartObject();
        foreach (var (field, value) in entry)
            json.WriteString(field, value);
        json.WriteEndObject();
    }

    /// <summary>Reads the form in which they are kept.</summary>
    public static RecordChildren Read(string? stored) =>
        stored is null
            ? None
            : new RecordChildren(
                JsonSerializer
                    .Deserialize<Dictionary<string, List<Dictionary<string, string>>>>(stored, RuleJson.Options)!
                    .ToDictionary(l => l.Key, l => (IReadOnlyList<IReadOnlyDictionary<string, string>>)l.Value, StringComparer.Ordinal)
            );

    private sealed class Json : JsonConverter<RecordChildren>
    {
        public override RecordChildren Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            using var document = JsonDocument.ParseValue(ref reader);
            return RecordChildren.Read(document.RootElement.GetRawText());
        }

        public override void Write(Utf8JsonWriter writer, RecordChildren value, JsonSerializerOptions options) =>
            writer.WriteRawValue(value.Write() ?? "{}");
    }
}
