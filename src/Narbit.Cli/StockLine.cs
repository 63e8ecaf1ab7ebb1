using System.Buffers;
using System.Text;
using Narbit.Core;
using Narbit.Core.Stock;

namespace Narbit.Cli;

/// <summary>
/// Reads the ordinary form of a stock line without the serializer, which is what lets a core compute 100,000 lines a second.
/// Anything out of the ordinary (an unknown key, a number as text, a wrong type) is left to the serializer, which also knows the words for
/// what is wrong.
/// </summary>
internal static class StockLine
{
    /// <summary>The rule and the item, or false where the line is not of the ordinary form.</summary>
    public static bool TryRead(ReadOnlySpan<byte> line, out StockRule rule, out StockItem item)
    {
        (rule, item) = (null!, null!);
        var json = new JsonCursor(line);
        if (!json.Open('{'))
            return false;
        while (json.Member(out var name))
        {
            if (name.SequenceEqual("rule"u8))
            {
                if (!KnownRule(ref json, out rule))
                    return false;
            }
            else if (name.SequenceEqual("item"u8))
            {
                if (!Item(ref json, out item))
                    return false;
            }
            else if (!name.SequenceEqual("expect"u8) || !json.Skip())
                return false;
        }

        return json.AtEnd && rule is not null && item is not null;
    }

    /// <summary>Writes what <see cref="RuleJson"/> would write.</summary>
    public static void Write(StockQuote quote, IBufferWriter<byte> results)
    {
        var line = new JsonLine(results);
        line.Raw("{\"quantity\":"u8);
        line.Number(quote.Quantity);
        line.Raw(",\"source\":"u8);
        if (quote.Source is { } source)
            line.Number(source);
        else
            line.Raw("null"u8);
        line.Trace(quote.Trace);
        line.Raw("}"u8);
        line.End();
    }

    // A file has many lines and few rules: what was read before under the same bytes is the same rule.
    [ThreadStatic]
    private static (byte[] Bytes, StockRule Rule)[]? t_known;

    private static bool KnownRule(ref JsonCursor json, out StockRule rule)
    {
        rule = null!;
        var bytes = json.Object();
        if (json.Broken)
            return false;
        var hash = new HashCode();
        hash.AddBytes(bytes);
        ref var known = ref (t_known ??= new (byte[], StockRule)[256])[hash.ToHashCode() & 255];
        if (known.Bytes is null || !bytes.SequenceEqual(known.Bytes))
        {
            var inside = new JsonCursor(bytes);
            if (!Rule(ref inside, out rule))
                return false;
            known = (bytes.ToArray(), rule);
        }

        rule = known.Rule;
        return true;
    }

    private static bool Rule(ref JsonCursor json, out StockRule rule)
    {
        rule = null!;
        var (basis, incoming, negative) = (StockBasis.Available, false, false);
        IReadOnlyList<string> locations = [];
        IReadOnlyList<StockBand> bands = [];
        var replenish = NoReplenish;
        decimal untracked = 1,
            holdBack = 0;
        decimal? share = null,
            zeroBelow = null,
            cap = null,
            firstPublish = null;
        if (!json.Open('{'))
            return false;
        while (json.Member(out var name))
        {
            decimal number;
            if (name.SequenceEqual("basis"u8))
            {
                if (!json.Text(out var word))
                    return false;
                if (word.SequenceEqual("onHand"u8))
                    basis = StockBasis.OnHand;
                else if (!word.SequenceEqual("available"u8))
                    return false;
            }
            else if (name.SequenceEqual("locations"u8))
            {
                if (!Texts(ref json, out locations))
                    return false;
            }
            else if (name.SequenceEqual("includeIncoming"u8))
            {
                if (!json.Truth(out incoming))
                    return false;
            }
            else if (name.SequenceEqual("untracked"u8))
            {
                if (!json.Number(out untracked))
                    return false;
            }
            else if (name.SequenceEqual("bands"u8))
            {
                if (!Bands(ref json, out bands))
                    return false;
            }
            else if (name.SequenceEqual("share"u8))
            {
                if (!json.Number(out number))
                    return false;
                share = number;
            }
            else if (name.SequenceEqual("holdBack"u8))
            {
                if (!json.Number(out holdBack))
                    return false;
            }
            else if (name.SequenceEqual("zeroBelow"u8))
            {
                if (!json.Number(out number))
                    return false;
                zeroBelow = number;
            }
            else if (name.SequenceEqual("cap"u8))
            {
                if (!json.Number(out number))
                    return false;
                cap = number;
            }
            else if (name.SequenceEqual("allowNegative"u8))
            {
                if (!json.Truth(out negative))
                    return false;
            }
            else if (name.SequenceEqual("firstPublish"u8))
            {
                if (!json.Number(out number))
                    return false;
                firstPublish = number;
            }
            else if (name.SequenceEqual("replenish"u8))
            {
                if (!Replenish(ref json, out replenish))
                    return false;
            }
            else
                return false;
        }

        if (json.Broken)
            return false;
        rule = new StockRule
        {
            Basis = basis,
            Locations = locations,
            IncludeIncoming = incoming,
            Untracked = untracked,
            Bands = bands,
            Share = share,
            HoldBack = holdBack,
            ZeroBelow = zeroBelow,
            Cap = cap,
            AllowNegative = negative,
            FirstPublish = firstPublish,
            Replenish = replenish,
        };
        return true;
    }

    private static readonly Replenish NoReplenish = new();

    private static bool Replenish(ref JsonCursor json, out Replenish replenish)
    {
        replenish = NoReplenish;
        var kind = ReplenishKind.Mirror;
        decimal? limit = null,
            atOrBelow = null,
            to = null;
        if (!json.Open('{'))
            return false;
        while (json.Member(out var name))
        {
            decimal number;
            if (name.SequenceEqual("kind"u8))
            {
                if (!json.Text(out var word))
                    return false;
                if (word.SequenceEqual("followIncrease"u8))
                    kind = ReplenishKind.FollowIncrease;
                else if (word.SequenceEqual("topUp"u8))
                    kind = ReplenishKind.TopUp;
                else if (!word.SequenceEqual("mirror"u8))
                    return false;
            }
            else if (name.SequenceEqual("limit"u8))
            {
                if (!json.Number(out number))
                    return false;
                limit = number;
            }
            else if (name.SequenceEqual("atOrBelow"u8))
            {
                if (!json.Number(out number))
                    return false;
                atOrBelow = number;
            }
            else if (name.SequenceEqual("to"u8))
            {
                if (!json.Number(out number))
                    return false;
                to = number;
            }
            else
                return false;
        }

        if (json.Broken)
            return false;
        replenish = new Replenish
        {
            Kind = kind,
            Limit = limit,
            AtOrBelow = atOrBelow,
            To = to,
        };
        return true;
    }

    private static bool Bands(ref JsonCursor json, out IReadOnlyList<StockBand> bands)
    {
        var list = new List<StockBand>(4);
        bands = list;
        if (!json.Open('['))
            return false;
        while (json.Element())
        {
            if (!json.Open('{'))
                return false;
            decimal? from = null,
                to = null,
                add = null,
                set = null;
            while (json.Member(out var name))
            {
                decimal number;
                if (name.SequenceEqual("from"u8))
                {
                    if (!json.Number(out number))
                        return false;
                    from = number;
                }
                else if (name.SequenceEqual("to"u8))
                {
                    if (!json.Number(out number))
                        return false;
                    to = number;
                }
                else if (name.SequenceEqual("add"u8))
                {
                    if (!json.Number(out number))
                        return false;
                    add = number;
                }
                else if (name.SequenceEqual("set"u8))
                {
                    if (!json.Number(out number))
                        return false;
                    set = number;
                }
                else
                    return false;
            }

            if (json.Broken)
                return false;
            list.Add(
                new StockBand
                {
                    From = from,
                    To = to,
                    Add = add,
                    Set = set,
                }
            );
        }

        return !json.Broken;
    }

    private static bool Texts(ref JsonCursor json, out IReadOnlyList<string> texts)
    {
        var list = new List<string>(4);
        texts = list;
        if (!json.Open('['))
            return false;
        while (json.Element())
        {
            if (!json.Text(out var text))
                return false;
            list.Add(Encoding.ASCII.GetString(text));
        }

        return !json.Broken;
    }

    private static bool Item(ref JsonCursor json, out StockItem item)
    {
        item = null!;
        var (tracked, published) = (true, true);
        IReadOnlyList<StockLevel> levels = [];
        IReadOnlyList<KitPart> kit = [];
        decimal target = 0;
        decimal? lastSource = null;
        if (!json.Open('{'))
            return false;
        while (json.Member(out var name))
        {
            if (name.SequenceEqual("levels"u8))
            {
                if (!Levels(ref json, out levels))
                    return false;
            }
            else if (name.SequenceEqual("target"u8))
            {
                if (!json.Number(out target))
                    return false;
            }
            else if (name.SequenceEqual("lastSource"u8))
            {
                if (!json.Number(out var number))
                    return false;
                lastSource = number;
            }
            else if (name.SequenceEqual("tracked"u8))
            {
                if (!json.Truth(out tracked))
                    return false;
            }
            else if (name.SequenceEqual("published"u8))
            {
                if (!json.Truth(out published))
                    return false;
            }
            else if (name.SequenceEqual("kit"u8))
            {
                if (!Kit(ref json, out kit))
                    return false;
            }
            else
                return false;
        }

        if (json.Broken)
            return false;
        item = new StockItem
        {
            Tracked = tracked,
            Levels = levels,
            Kit = kit,
            Published = published,
            Target = target,
            LastSource = lastSource,
        };
        return true;
    }

    private static bool Levels(ref JsonCursor json, out IReadOnlyList<StockLevel> levels)
    {
        var list = new List<StockLevel>(4);
        levels = list;
        if (!json.Open('['))
            return false;
        while (json.Element())
        {
            if (!json.Open('{'))
                return false;
            string? location = null;
            decimal onHand = 0,
                allocated = 0,
                incoming = 0;
            while (json.Member(out var name))
            {
                if (name.SequenceEqual("location"u8))
                {
                    if (!json.Text(out var text))
                        return false;
                    location = Encoding.ASCII.GetString(text);
                }
                else if (name.SequenceEqual("onHand"u8))
                {
                    if (!json.Number(out onHand))
                        return false;
                }
                else if (name.SequenceEqual("allocated"u8))
                {
                    if (!json.Number(out allocated))
                        return false;
                }
                else if (name.SequenceEqual("incoming"u8))
                {
                    if (!json.Number(out incoming))
                        return false;
                }
                else
                    return false;
            }

            if (json.Broken || location is null)
                return false;
            list.Add(new StockLevel(location, onHand, allocated, incoming));
        }

        return !json.Broken;
    }

    private static bool Kit(ref JsonCursor json, out IReadOnlyList<KitPart> kit)
    {
        var list = new List<KitPart>(4);
        kit = list;
        if (!json.Open('['))
            return false;
        while (json.Element())
        {
            if (!json.Open('{'))
                return false;
            decimal? quantity = null;
            IReadOnlyList<StockLevel> levels = [];
            while (json.Member(out var name))
            {
                if (name.SequenceEqual("quantity"u8))
                {
                    if (!json.Number(out var number))
                        return false;
                    quantity = number;
                }
                else if (name.SequenceEqual("levels"u8))
                {
                    if (!Levels(ref json, out levels))
                        return false;
                }
                else
                    return false;
            }

            if (json.Broken || quantity is null)
                return false;
            list.Add(new KitPart(quantity.Value, levels));
        }

        return !json.Broken;
    }
}
