using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Unicode;

namespace Narbit.Core;

/// <summary>
/// JSON from outside. Half a character (RFC 8259, 8.2) and bytes that are no UTF-8 are well formed to a parser and break whoever reads the
/// text. What is only looked at is made whole first, each of them becoming U+FFFD; what is kept of a record is not: there it is that
/// field's fault, or it would be sent on as if it were right.
/// </summary>
public static class JsonText
{
    private const int Escape = 6;
    private static readonly byte[] Unknown = "\\ufffd"u8.ToArray();

    /// <summary>
    /// Reads what somebody wrote, not a system: no name may stand twice in an object, and no half of a character anywhere, as whoever looks
    /// for either would stumble.
    /// </summary>
    /// <param name="json">The text.</param>
    /// <exception cref="JsonException">It is no such JSON; where it is known, the place is told.</exception>
    public static JsonNode? Read(string json)
    {
        if (!string.Equals(Whole(json), json, StringComparison.Ordinal))
            throw new JsonException("It holds half a character (\\ud800 to \\udfff by itself).");
        return JsonNode.Parse(json, documentOptions: new JsonDocumentOptions { AllowDuplicateProperties = false });
    }

    /// <summary>The same text without halves of characters.</summary>
    public static string Whole(string json) =>
        json.Contains("\\ud", StringComparison.OrdinalIgnoreCase) || json.AsSpan().ContainsAnyInRange('\uD800', '\uDFFF')
            ? Encoding.UTF8.GetString(Whole(Encoding.UTF8.GetBytes(json)))
            : json;

    /// <summary>The same bytes without halves of characters and in UTF-8; what is whole already is given back as it is.</summary>
    public static byte[] Whole(byte[] json)
    {
        var text = Utf8.IsValid(json) ? json : Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(json));
        if (text.AsSpan().IndexOf("\\ud"u8) < 0 && text.AsSpan().IndexOf("\\uD"u8) < 0)
            return text;
        byte[] whole = [.. text];
        for (var at = text.AsSpan().IndexOf((byte)'\\'); at >= 0 && at < text.Length - 1; )
        {
            at += Step(whole, at);
            var next = at < text.Length ? text.AsSpan(at).IndexOf((byte)'\\') : -1;
            at = next < 0 ? -1 : at + next;
        }

        return whole;
    }

    /// <summary>Names as a list; null: there is none.</summary>
    public static string? WriteNames(IReadOnlyList<string>? names) => names is { Count: > 0 } ? JsonSerializer.Serialize(names) : null;

    /// <summary>Names that were written as a list.</summary>
    public static IReadOnlyList<string>? ReadNames(string? text) =>
        text is null ? null : JsonSerializer.Deserialize<IReadOnlyList<string>>(text);

    /// <summary>Whether a list in it has nothing where a value should be.</summary>
    /// <exception cref="JsonException">It is no JSON.</exception>
    public static bool HasNothingInAList(string json)
    {
        var options = new JsonReaderOptions { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true };
        var reader = new Utf8JsonReader(Encoding.UTF8.GetBytes(json), options);
        var lists = new Stack<bool>();
        while (reader.Read())
            switch (reader.TokenType)
            {
                case JsonTokenType.StartArray or JsonTokenType.StartObject:
                    lists.Push(reader.TokenType == JsonTokenType.StartArray);
                    break;
                case JsonTokenType.EndArray or JsonTokenType.EndObject:
                    lists.Pop();
                    break;
                case JsonTokenType.Null when lists.TryPeek(out var isList) && isList:
                    return true;
            }

        return false;
    }

    // Over one escape, or over the two of a whole character; how far.
    private static int Step(byte[] text, int at)
    {
        if (Unit(text, at) is not { } unit)
            return 2;
        if (char.IsHighSurrogate(unit) && Unit(text, at + Escape) is { } low && char.IsLowSurrogate(low))
            return 2 * Escape;
        if (char.IsSurrogate(unit))
            Unknown.CopyTo(text, at);
        return Escape;
    }

    private static char? Unit(byte[] text, int at) =>
        at + Escape <= text.Length
        && text[at] == '\\'
        && text[at + 1] == 'u'
        && System.Buffers.Text.Utf8Parser.TryParse(text.AsSpan(at + 2, 4), out ushort unit, out var read, 'x')
        && read == 4
            ? (char)unit
            : null;
}
