using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Orders;

namespace Narbit.Cli;

/// <summary>
/// Reads a line with a rule, an order and what the hub knows. A file has many orders and few rules, so what was read before under the same
/// bytes is not read again, and what was expected is passed over. A line with anything wrong in it is left to the serializer, which has
/// the words for it.
/// </summary>
internal static class OrderCaseLine
{
    // So many places that the few rules of a file seldom share one and read each other's bytes anew.
    private const int Places = 1 << 14;

    [ThreadStatic]
    private static (byte[] Bytes, object Value)[]? t_known;

    /// <summary>The parts of a line, or false where it cannot be read so.</summary>
    public static bool TryRead(ReadOnlySpan<byte> line, out OrderCase read)
    {
        read = new OrderCase(null, null, null);
        try
        {
            var json = new Utf8JsonReader(line);
            if (!json.Read() || json.TokenType != JsonTokenType.StartObject)
                return false;
            while (json.Read() && json.TokenType == JsonTokenType.PropertyName)
            {
                if (json.ValueTextEquals("rule"u8))
                    read = read with { Rule = Again<OrderRule>(ref json, line) };
                else if (json.ValueTextEquals("known"u8))
                    read = read with { Known = Again<KnownToHub>(ref json, line) };
                else if (json.ValueTextEquals("order"u8))
                {
                    if (OrderReader.Read(ref json) is not { } order)
                        return false;
                    read = read with { Order = order };
                }
                else if (json.ValueTextEquals("expect"u8))
                {
                    if (IsLast(line[(int)json.BytesConsumed..]))
                        return read is { Rule: not null, Order: not null };
                    json.Skip();
                }
                else
                    return false;
            }

            return !json.Read() && read is { Rule: not null, Order: not null };
        }
        catch (JsonException)
        {
            return false;
        }
    }

    // Whether what follows is one object and the end of the line: its braces are counted, and what is in texts is passed over.
    private static bool IsLast(ReadOnlySpan<byte> rest)
    {
        var depth = 0;
        while (rest.IndexOfAny("{}\""u8) is >= 0 and var at)
        {
            var mark = rest[at];
            rest = rest[(at + 1)..];
            if (mark == '"')
            {
                if (EndOfText(rest) is not { } end)
                    return false;
                rest = rest[(end + 1)..];
            }
            else if (mark == '{')
                depth++;
            else if (--depth <= 0)
                break;
        }

        return depth == 0 && rest.Trim(" \t\r"u8).SequenceEqual("}"u8);
    }

    private static int? EndOfText(ReadOnlySpan<byte> text)
    {
        for (var from = 0; text[from..].IndexOfAny((byte)'"', (byte)'\\') is >= 0 and var at; from += at + 2)
        {
            if (text[from + at] == '"')
                return from + at;
            if (from + at + 2 > text.Length)
                return null;
        }

        return null;
    }

    private static T? Again<T>(ref Utf8JsonReader json, ReadOnlySpan<byte> line)
        where T : class
    {
        json.Read();
        var from = (int)json.TokenStartIndex;
        json.Skip();
        var bytes = line[from..(int)json.BytesConsumed];
        var hash = new HashCode();
        hash.AddBytes(bytes);
        ref var known = ref (t_known ??= new (byte[], object)[Places])[hash.ToHashCode() & (Places - 1)];
        if (known.Value is T same && bytes.SequenceEqual(known.Bytes))
            return same;
        var value = JsonSerializer.Deserialize<T>(bytes, RuleJson.Options);
        if (value is not null)
            known = (bytes.ToArray(), value);
        return value;
    }
}
