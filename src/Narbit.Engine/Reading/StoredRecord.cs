using System.Buffers;
using System.IO.Hashing;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Narbit.Core.Records;
using Narbit.Data.Mirror;

namespace Narbit.Engine.Reading;

/// <summary>How records are kept in the mirror, and read from it again.</summary>
public static class StoredRecord
{
    private static readonly JsonWriterOptions Legible = new()
    {
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        SkipValidation = true,
    };
    private static readonly JsonSerializerOptions ProblemJson = new(JsonSerializerDefaults.Web)
    {
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>XXH64 of a key (xxHash specification, seed 0).</summary>
    internal static ulong KeyHash(string key) => XxHash64.HashToUInt64(Encoding.UTF8.GetBytes(key));

    /// <summary>The records with their hashes and looked-up columns.</summary>
    internal static List<MirrorEntry> Entries(IReadOnlyList<ReadRecord> records, FieldSet fields)
    {
        var shown = new ShownBy(fields);
        var buffer = new ArrayBufferWriter<byte>(1024);
        using var json = new Utf8JsonWriter(buffer, Legible);
        var hash = new XxHash128();
        var entries = new List<MirrorEntry>(records.Count);
        foreach (var record in records)
        {
            var values = Written(record, static (r, into) => WriteValues(r, into));
            var children = record.Children.IsEmpty ? null : Written(record, static (r, into) => r.Children.WriteTo(into));
            hash.Append(record.Raw.Span);
            hash.Append(values);
            // A record and what is in it are one: a line that changes is a change of its order.
            hash.Append(children.AsSpan());
            entries.Add(
                new MirrorEntry
                {
                    Key = record.Key,
                    KeyHash = KeyHash(record.Key),
                    Parent = record.Parent,
                    Group = record.Group,
                    Reference = shown.Reference(record),
                    Caption = shown.Caption(record),
                    Hash = hash.GetHashAndReset(),
                    Raw = record.Raw,
                    Values = values,
                    Children = children,
                    Problems = record.Problems.Count == 0 ? null : JsonSerializer.Serialize(record.Problems, ProblemJson),
                    RawParent = record.RawParent,
                }
            );
        }

        return entries;

        byte[] Written(ReadRecord record, Action<ReadRecord, Utf8JsonWriter> write)
        {
            buffer.ResetWrittenCount();
            json.Reset();
            write(record, json);
            json.Flush();
            return buffer.WrittenSpan.ToArray();
        }
    }

    private static void WriteValues(ReadRecord record, Utf8JsonWriter json)
    {
        json.WriteStartObject();
        foreach (var (name, value) in record.Values)
            json.WriteString(name, value);
        json.WriteEndObject();
    }

    // By which fields a person knows a record.
    private sealed class ShownBy(FieldSet fields)
    {
        // An item by its SKU, an order by its number, a customer by the account or else the mail address.
        private readonly string[] _references =
        [
            .. new[] { FieldRole.Sku, FieldRole.Number, FieldRole.Account, FieldRole.Email }
                .Select(role => fields.Find(role)?.Name)
                .OfType<string>(),
        ];

        private readonly string[] _captions =
        [
            .. new[] { FieldRole.Title, FieldRole.Company, FieldRole.Email }.Select(role => fields.Find(role)?.Name).OfType<string>(),
        ];

        private readonly string? _option = fields.Find(FieldRole.Option)?.Name;

        public string? Reference(ReadRecord record) => First(record, _references);

        // A variant is told from its sisters by its option, where the title does not say it already.
        public string? Caption(ReadRecord record)
        {
            var caption = First(record, _captions);
            return
                _option is not null
                && caption is not null
                && record.Values.TryGetValue(_option, out var option)
                && !caption.EndsWith(option, StringComparison.Ordinal)
                ? $"{caption}, {option}"
                : caption;
        }

        private static string? First(ReadRecord record, string[] fields)
        {
            foreach (var field in fields)
                if (record.Values.TryGetValue(field, out var value))
                    return value;
            return null;
        }
    }

    /// <summary>Reads stored problems.</summary>
    public static IReadOnlyList<FieldProblem> Problems(string? stored) =>
        stored is null ? [] : JsonSerializer.Deserialize<List<FieldProblem>>(stored, ProblemJson)!;

    /// <summary>
    /// Reads stored values. A mirror's records have the same few names in the same order, so each name is made into a string once a
    /// thread.
    /// </summary>
    public static Dictionary<string, string> Values(string stored)
    {
        var bytes = ArrayPool<byte>.Shared.Rent(Encoding.UTF8.GetMaxByteCount(stored.Length));
        try
        {
            return Values(bytes.AsSpan(0, Encoding.UTF8.GetBytes(stored, bytes)));
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(bytes);
        }
    }

    /// <summary>Reads stored values from UTF-8.</summary>
    public static Dictionary<string, string> Values(ReadOnlySpan<byte> stored)
    {
        var reader = new Utf8JsonReader(stored);
        var names = _names ??= [];
        var values = new Dictionary<string, string>(_usual, StringComparer.Ordinal);
        if (!reader.Read() || reader.TokenType != JsonTokenType.StartObject)
            throw new JsonException("Stored values are an object.");
        for (var at = 0; reader.Read() && reader.TokenType == JsonTokenType.PropertyName; at++)
        {
            var name = Name(names, ref reader, ref at);
            reader.Read();
            values[name] = reader.GetString()!;
        }

        _usual = values.Count;
        return values;
    }

    [ThreadStatic]
    private static List<(byte[] Bytes, string Text)>? _names;

    [ThreadStatic]
    private static int _usual;

    // From where the last one was found on, and then from the start.
    private static string Name(List<(byte[] Bytes, string Text)> names, ref Utf8JsonReader reader, ref int at)
    {
        for (var i = 0; i < names.Count; i++)
        {
            var n = at + i < names.Count ? at + i : at + i - names.Count;
            if (n < 0 || n >= names.Count || !reader.ValueTextEquals(names[n].Bytes))
                continue;
            at = n;
            return names[n].Text;
        }

        // Names are those of fields; more than a few hundred would be none.
        if (names.Count > 400)
            names.Clear();
        var text = reader.GetString()!;
        names.Add((Encoding.UTF8.GetBytes(text), text));
        at = names.Count - 1;
        return text;
    }
}
