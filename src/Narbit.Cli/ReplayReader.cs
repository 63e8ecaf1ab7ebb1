using System.Text;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Timetables;

namespace Narbit.Cli;

/// <summary>
/// Reads a line with orders that happened without the serializer, several times as fast. It takes what is as it should be, and leaves
/// everything else to the serializer, which has the words for what is wrong.
/// </summary>
internal static class ReplayReader
{
    [ThreadStatic]
    private static Words? t_words;

    // What an order or a delivery says.
    private ref struct Entry
    {
        public DateTimeOffset At;
        public string? Store;
        public string? Sku;
        public int Quantity;
    }

    /// <summary>The replay of a line; null: it is for the serializer.</summary>
    public static StockReplay? Read(ReadOnlySpan<byte> line)
    {
        var json = new JsonCursor(line);
        DateTimeOffset? from = null;
        Dictionary<string, long>? stock = null;
        var (intake, publish) = ((Dictionary<string, int>?)null, (Dictionary<string, int>?)null);
        var (orders, deliveries) = (new List<ReplayedOrder>(), new List<ReplayedDelivery>());
        if (!json.Open('{'))
            return null;
        while (json.Member(out var name))
        {
            if (name.SequenceEqual("from"u8) && json.Instant(out var at))
                from = at;
            else if (name.SequenceEqual("stock"u8))
                stock = Numbers<long>(ref json);
            else if (name.SequenceEqual("intake"u8))
                intake = Numbers<int>(ref json);
            else if (name.SequenceEqual("publish"u8))
                publish = Numbers<int>(ref json);
            else if (name.SequenceEqual("orders"u8))
                Orders(ref json, orders);
            else if (name.SequenceEqual("deliveries"u8))
                Deliveries(ref json, deliveries);
            else if (!name.SequenceEqual("expect"u8) || !json.Skip())
                return null;
        }

        if (!json.AtEnd || from is null || stock is null || intake is null || publish is null)
            return null;
        return new StockReplay
        {
            From = from.Value,
            Stock = stock,
            Intake = intake,
            Publish = publish,
            Orders = orders,
            Deliveries = deliveries,
        };
    }

    private static Dictionary<string, T>? Numbers<T>(ref JsonCursor json)
    {
        var own = json.Object();
        if (json.Broken)
            return null;
        try
        {
            return JsonSerializer.Deserialize<Dictionary<string, T>>(own, RuleJson.Options);
        }
        catch (JsonException)
        {
            json.Break();
            return null;
        }
    }

    private static void Orders(ref JsonCursor json, List<ReplayedOrder> orders)
    {
        json.Open('[');
        while (json.Element())
            if (One(ref json, out var entry) && entry.Store is { } store)
                orders.Add(new ReplayedOrder(entry.At, store, entry.Sku!, entry.Quantity));
            else
                json.Break();
    }

    private static void Deliveries(ref JsonCursor json, List<ReplayedDelivery> deliveries)
    {
        json.Open('[');
        while (json.Element())
            if (One(ref json, out var entry) && entry.Store is null)
                deliveries.Add(new ReplayedDelivery(entry.At, entry.Sku!, entry.Quantity));
            else
                json.Break();
    }

    private static bool One(ref JsonCursor json, out Entry entry)
    {
        entry = default;
        var (isTimed, isCounted) = (false, false);
        json.Open('{');
        while (json.Member(out var name))
        {
            if (name.SequenceEqual("at"u8))
                isTimed = json.Instant(out entry.At);
            else if (name.SequenceEqual("store"u8))
                entry.Store = Word(ref json);
            else if (name.SequenceEqual("sku"u8))
                entry.Sku = Word(ref json);
            else if (name.SequenceEqual("quantity"u8))
                isCounted = json.Whole(out entry.Quantity);
            else
                json.Break();
        }

        return !json.Broken && isTimed && isCounted && entry.Sku is not null;
    }

    private static string? Word(ref JsonCursor json) => json.Text(out var text) ? (t_words ??= new Words()).Of(text) : null;

    /// <summary>A file names few stores and some thousand SKUs again and again: each is made into a string once.</summary>
    private sealed class Words
    {
        private const int Places = 1 << 14;

        private readonly (byte[] Bytes, string Text)[] _known = new (byte[], string)[Places];

        public string Of(ReadOnlySpan<byte> word)
        {
            var hash = 17;
            foreach (var letter in word)
                hash = hash * 31 + letter;
            ref var place = ref _known[hash & (Places - 1)];
            if (place.Text is null || !word.SequenceEqual(place.Bytes))
                place = (word.ToArray(), Encoding.ASCII.GetString(word));
            return place.Text;
        }
    }
}
