using System.Text.Json;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>Reads a field from a record into its canonical text, and writes it back.</summary>
internal sealed class FieldReader(RestField field)
{
    private readonly JsonAt _at = new(field.Path);

    public RestField Field { get; } = field;

    /// <summary>The values of a record, by field; what is missing has no entry.</summary>
    public static Dictionary<string, string> Values(
        FieldReader[] readers,
        JsonElement record,
        JsonElement parent,
        ref List<FieldProblem>? problems
    )
    {
        var values = new Dictionary<string, string>(readers.Length, StringComparer.Ordinal);
        foreach (var reader in readers)
            if (reader.Read(record, parent, ref problems) is { } value)
                values[reader.Field.Name] = value;
        return values;
    }

    /// <summary>The canonical value; null where it is missing; a problem where it is not what the field is.</summary>
    public string? Read(JsonElement record, JsonElement parent, ref List<FieldProblem>? problems)
    {
        try
        {
            return Field.Always ?? Found(record, parent, ref problems);
        }
        catch (Exception error) when (error is FormatException or InvalidOperationException or OverflowException)
        {
            (problems ??= []).Add(new(Field.Name, $"{Label} holds what is no valid text: half a character, or bytes of another encoding"));
            return null;
        }
    }

    private string? Found(JsonElement record, JsonElement parent, ref List<FieldProblem>? problems)
    {
        var found = _at.In(_at.FromParent ? parent : record);
        if (found is not { } value)
        {
            if (Field.Required)
                (problems ??= []).Add(new(Field.Name, $"{Label} is missing"));
            return null;
        }

        if (value.ValueKind == JsonValueKind.String && value.ValueEquals(ReadOnlySpan<byte>.Empty))
            return null;
        if (value.ValueKind == JsonValueKind.Array && value.GetArrayLength() == 0)
            return null;
        if (Field.Codes is { } codes)
        {
            var code = JsonAt.Text(value);
            if (codes.TryGetValue(code, out var meaning))
                return meaning;
            (problems ??= []).Add(
                new(Field.Name, $"{Label}: the code “{Short(code)}” is not known; known are {string.Join(", ", codes.Keys)}")
            );
            return null;
        }

        var canonical = Canonical(value);
        if (canonical is null)
            (problems ??= []).Add(new(Field.Name, $"{Label} is {Kind(value)}, where {Expected} was expected"));
        return canonical;
    }

    /// <summary>Writes a canonical value as the system wants it.</summary>
    /// <param name="json">The object that it becomes a part of.</param>
    /// <param name="name">Its name there.</param>
    /// <param name="canonical">The value; null empties the field.</param>
    public void Write(Utf8JsonWriter json, string name, string? canonical)
    {
        if (canonical is null)
            json.WriteNull(name);
        else if (Field.Codes?.FirstOrDefault(c => c.Value == canonical).Key is { } code)
            json.WriteString(name, code);
        else if (Field.Type == FieldType.List)
        {
            json.WriteStartArray(name);
            foreach (var one in MapValue.ReadList(canonical))
                json.WriteStringValue(one);
            json.WriteEndArray();
        }
        else if (IsNumber && Field.DecimalMark != '.')
            json.WriteString(name, FieldText.Written(Field, canonical));
        else if (IsNumber)
            json.WriteNumber(name, FieldText.Unscaled(canonical, Field.Factor));
        else if (Field.Type == FieldType.Boolean)
            json.WriteBoolean(name, canonical == "true");
        else if (Field.Type == FieldType.Instant && EpochForm.Is(Field.Format))
        {
            json.WritePropertyName(name);
            json.WriteRawValue(FieldText.Written(Field, canonical));
        }
        else
            json.WriteString(name, FieldText.Written(Field, canonical));
    }

    private bool IsNumber => FieldText.IsNumber(Field.Type);

    private string Label => Field.Label ?? Field.Name;

    private string Expected =>
        Field.Type switch
        {
            FieldType.Integer => "a whole number",
            FieldType.Money => "an amount",
            FieldType.Boolean => "true or false",
            FieldType.Instant when EpochForm.Is(Field.Format) => $"{Field.Format} since 1970",
            FieldType.Instant => $"a date with time ({Field.Format ?? "ISO 8601"})",
            FieldType.Date => $"a date ({Field.Format ?? "ISO 8601"})",
            FieldType.List => "a list",
            _ when IsNumber => "a number",
            _ => "text",
        };

    private string? Canonical(JsonElement value)
    {
        switch (Field.Type)
        {
            case FieldType.Boolean:
                return value.ValueKind switch
                {
                    JsonValueKind.True => "true",
                    JsonValueKind.False => "false",
                    JsonValueKind.String => FieldText.Canonical(Field, value.GetString()!),
                    _ => null,
                };
            case FieldType.Instant when EpochForm.Is(Field.Format):
                return value.ValueKind is JsonValueKind.String or JsonValueKind.Number
                    ? FieldText.Canonical(Field, JsonAt.Text(value)!)
                    : null;
            case FieldType.Instant or FieldType.Date:
                return value.ValueKind == JsonValueKind.String ? FieldText.Canonical(Field, value.GetString()!) : null;
            case FieldType.List:
                return
                    value.ValueKind == JsonValueKind.Array
                    && value.EnumerateArray().All(v => v.ValueKind is JsonValueKind.String or JsonValueKind.Number)
                    ? MapValue.Write([.. value.EnumerateArray().Select(JsonAt.Text)])
                    : null;
            case var _ when IsNumber:
                return value.ValueKind switch
                {
                    JsonValueKind.Number => value.TryGetDecimal(out var number) ? FieldText.Scaled(Field.Type, number, Field.Factor) : null,
                    JsonValueKind.String => FieldText.Canonical(Field, value.GetString()!),
                    _ => null,
                };
            default:
                return value.ValueKind is JsonValueKind.String or JsonValueKind.Number ? JsonAt.Text(value) : null;
        }
    }

    private static string Kind(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.String => $"the text “{Short(value.GetString()!)}”",
            JsonValueKind.Number => $"the number {Short(value.GetRawText())}",
            JsonValueKind.True or JsonValueKind.False => $"the truth value {value.GetRawText()}",
            JsonValueKind.Array => "a list",
            _ => "an object",
        };

    private static string Short(string text) => text.Length <= 40 ? text : text[..39] + "…";
}
