using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Orders;

namespace Narbit.Cli;

/// <summary>
/// Reads a line with a rule, an order and what the hub knows. A file has many orders and few rules, so what was read before under the same
/// bytes is not read again, and what was expected is passed over. A line with anything out of the ordinary in it is left to the serializer,
/// which has the words for it.
/// </summary>
internal static class OrderCaseLine
{
    [ThreadStatic]
    private static Met<OrderRule>? t_rules;

    [ThreadStatic]
    private static Met<KnownToHub>? t_known;

    /// <summary>The parts of a line, or false where it cannot be read so.</summary>
    public static bool TryRead(ReadOnlySpan<byte> line, out OrderCase read)
    {
        read = new OrderCase(null, null, null);
        var json = new JsonCursor(line);
        if (!json.Open('{'))
            return false;
        var (rule, known, order) = ((OrderRule?)null, (KnownToHub?)null, (Order?)null);
        while (json.Member(out var name))
        {
            if (name.SequenceEqual("rule"u8))
                rule = (t_rules ??= new Met<OrderRule>()).Read(ref json);
            else if (name.SequenceEqual("known"u8))
                known = (t_known ??= new Met<KnownToHub>()).Read(ref json);
            else if (name.SequenceEqual("order"u8))
                order = OrderReader.Read(ref json);
            else if (!name.SequenceEqual("expect"u8) || !json.Skip())
                return false;
            if (json.Broken)
                return false;
        }

        read = new OrderCase(rule, order, known);
        return json.AtEnd && rule is not null && order is not null;
    }

    /// <summary>What was read of a file so far: each by its bytes.</summary>
    private sealed class Met<T>
        where T : class
    {
        // Few are looked for where they stand; of many, one is found by its hash. So many places that the rules of a file seldom share one.
        private const int Few = 128;
        private const int Places = 1 << 14;

        private readonly List<(byte[] Bytes, T Value)> _few = new(Few);
        private int _next;
        private readonly (byte[] Bytes, T Value)[] _many = new (byte[], T)[Places];

        public T? Read(ref JsonCursor json)
        {
            // Files often repeat what they have in the same order: what came next before is looked at first.
            for (var i = 0; i < _few.Count; i++)
            {
                var at = (_next + i) % _few.Count;
                if (!json.IsSame(_few[at].Bytes))
                    continue;
                _next = at + 1;
                return _few[at].Value;
            }

            var own = json.Object();
            return json.Broken ? null : Value(own, ref json);
        }

        private T? Value(ReadOnlySpan<byte> own, ref JsonCursor json)
        {
            var hash = new HashCode();
            hash.AddBytes(own);
            ref var place = ref _many[hash.ToHashCode() & (Places - 1)];
            if (place.Value is { } met && own.SequenceEqual(place.Bytes))
                return met;
            try
            {
                var value = JsonSerializer.Deserialize<T>(own, RuleJson.Options)!;
                place = (own.ToArray(), value);
                if (_few.Count < Few)
                    _few.Add(place);
                return value;
            }
            catch (JsonException)
            {
                json.Break();
                return null;
            }
        }
    }
}
