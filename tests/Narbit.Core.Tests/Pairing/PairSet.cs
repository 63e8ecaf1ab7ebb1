using Narbit.Core.Pairing;

namespace Narbit.Core.Tests.Pairing;

/// <summary>
/// Two sides of which it is known who belongs to whom: 70 % with a clean SKU, 10 % with the SKU written another way, 5 % without SKU on
/// one side but with a barcode,
/// 5 % with neither and a rewritten title, 3 % with a SKU used twice, 2 % whose SKU stands for another product there, 5 % on the left
/// only, 5 % on the right only.
/// </summary>
public sealed record PairSet(IReadOnlyList<ItemToPair> Left, IReadOnlyList<ItemToPair> Right, IReadOnlyDictionary<string, string> Truth)
{
    private static readonly string[] Lines =
    [
        "Kilnyard",
        "Harbour",
        "Overflow",
        "Millrace",
        "Lantern",
        "Quayside",
        "Saltmarsh",
        "Headland",
        "Ropewalk",
        "Tidemill",
        "Granary",
        "Boathouse",
        "Limekiln",
        "Ferryman",
        "Causeway",
        "Breakwater",
    ];

    private static readonly string[] Finishes =
    [
        "celadon",
        "tenmoku",
        "shino",
        "oatmeal",
        "ember",
        "chestnut",
        "rust",
        "kelp",
        "honey",
        "speckle",
        "plum",
        "slate",
        "butter",
        "copper",
        "storm",
        "nutmeg",
        "fern",
        "lagoon",
        "parchment",
        "amber",
        "bracken",
        "smoke",
        "dove",
        "marigold",
        "clover",
        "sandbar",
        "pebble",
        "saffron",
        "midnight",
        "frost",
        "terra",
        "linen",
        "juniper",
        "rhubarb",
        "walnut",
        "heather",
        "thistle",
        "sorrel",
        "tallow",
        "barley",
    ];

    private static readonly string[] Things =
    [
        "stoneware glaze",
        "dipping glaze",
        "brush-on glaze",
        "underglaze pencil",
        "casting slip",
        "earthenware clay",
        "porcelain body",
        "raku clay",
        "oxide powder",
        "body stain",
        "wax resist",
        "engobe",
        "trimming tool",
        "banding wheel",
        "throwing bat",
        "kiln shelf",
        "cutting wire",
        "rubber kidney",
        "texture roller",
        "glaze sieve",
        "sponge",
        "ribbon tool",
        "slip trailer",
        "stamp set",
    ];

    private static readonly string[] Sizes =
    [
        "100 g",
        "250 g",
        "1 kg",
        "5 kg",
        "12.5 kg",
        "60 ml",
        "250 ml",
        "500 ml",
        "1 l",
        "5 l",
        "10 cm",
        "18 cm",
        "22 cm",
        "30 cm",
    ];

    private static readonly (string Long, string Short)[] Shortened =
    [
        ("stoneware", "stnwr"),
        ("earthenware", "earthw"),
        ("porcelain", "porc"),
        ("underglaze", "undergl"),
        ("trimming", "trim"),
        ("brush", "br"),
        ("texture", "text"),
        ("rubber", "rub"),
        ("casting", "cast"),
    ];

    /// <summary>A set; the same seed gives the same one.</summary>
    public static PairSet Make(int count, int seed)
    {
        var dice = new Random(seed);
        var (left, right, truth) = (
            new List<ItemToPair>(count),
            new List<ItemToPair>(count),
            new Dictionary<string, string>(StringComparer.Ordinal)
        );
        // Every product is another one; sisters differ in a single word or size.
        var products = Enumerable.Range(0, Lines.Length * Finishes.Length * Things.Length * Sizes.Length).ToArray();
        dice.Shuffle(products);
        var next = 0;
        ItemToPair Product()
        {
            var n = next++;
            var p = products[n % products.Length];
            var series = n / products.Length;
            var (line, finish, thing, size) = (Lines[p % 16], Finishes[p / 16 % 40], Things[p / 640 % 24], Sizes[p / 15360]);
            var title = $"{line} {finish} {thing}, {size}{(series > 0 ? $" series {series}" : "")}";
            return new ItemToPair
            {
                Key = "",
                Sku = $"{line[..3].ToUpperInvariant()}-{n:D6}",
                Barcode = Barcode(n),
                Title = title,
                Brand = dice.Next(3) == 0 ? null : line,
                Price = 2 + dice.Next(9000) / 100m,
                PartNumber = dice.Next(4) == 0 ? $"P{n * 7}" : null,
            };
        }

        void Pair(ItemToPair here, ItemToPair there)
        {
            here = here with { Key = $"L{left.Count:D6}" };
            there = there with
            {
                Key = $"R{dice.Next(1_000_000):D6}{right.Count}",
                PartNumber = null,
                Price = Math.Round(here.Price!.Value * (dice.Next(2) == 0 ? 1.2m : 1m), 2),
                Brand = dice.Next(2) == 0 ? null : there.Brand,
            };
            left.Add(here);
            right.Add(there);
            truth[here.Key] = there.Key;
        }

        ItemToPair Bare(ItemToPair item) => dice.Next(2) == 0 ? item with { Barcode = null } : item;
        string Reordered(string title) => dice.Next(3) == 0 ? title : Rewritten(title, dice, typing: false);

        for (var i = 0; i < count * 70 / 100; i++)
        {
            var p = Product();
            Pair(Bare(p), Bare(p) with { Title = Reordered(p.Title!) });
        }

        for (var i = 0; i < count / 10; i++)
        {
            var p = Product();
            Pair(Bare(p), Bare(p) with { Sku = Otherwise(p.Sku!, dice), Title = Reordered(p.Title!) });
        }

        for (var i = 0; i < count / 20; i++)
        {
            var p = Product();
            var there = p with
            {
                Title = Reordered(p.Title!),
                Barcode =
                    dice.Next(2) == 0
                        ? p.Barcode![1..] is var b && p.Barcode.StartsWith('0')
                            ? b
                            : p.Barcode
                        : p.Barcode,
            };
            if (dice.Next(2) == 0)
                Pair(p with { Sku = null }, there);
            else
                Pair(p, there with { Sku = null });
        }

        for (var i = 0; i < count / 20; i++)
        {
            var p = Product();
            Pair(
                p with
                {
                    Sku = dice.Next(2) == 0 ? null : p.Sku,
                    Barcode = null,
                },
                p with
                {
                    Sku = null,
                    Barcode = null,
                    Title = Rewritten(p.Title!, dice, typing: true),
                }
            );
        }

        for (var i = 0; i < count * 3 / 200; i++)
        {
            var (p, q) = (Product(), Product());
            Pair(Bare(p), Bare(p) with { Title = Reordered(p.Title!) });
            Pair(Bare(q), Bare(q) with { Sku = p.Sku, Title = Reordered(q.Title!) });
        }

        for (var i = 0; i < count / 100; i++)
        {
            // The SKU here stands for another product there; every second time the right one is there too, under a SKU of its own.
            var (p, q, other) = (Product(), Product(), Product());
            left.Add(Bare(q) with { Key = $"L{left.Count:D6}", Sku = p.Sku });
            right.Add(Bare(p) with { Key = $"R{right.Count:D6}t" });
            Pair(Bare(other), Bare(other) with { Sku = $"N{other.Sku}", Title = Reordered(other.Title!) });
        }

        for (var i = 0; i < count / 20; i++)
        {
            left.Add(Product() with { Key = $"L{left.Count:D6}" });
            right.Add(Bare(Product()) with { Key = $"R{right.Count:D6}o" });
        }

        return new PairSet(left, right, truth);
    }

    private static string Barcode(int n)
    {
        var thirteen = $"0952{n + 400_000_000:D9}";
        return thirteen[1..] + Gtin.CheckDigit(thirteen);
    }

    private static string Otherwise(string sku, Random dice) =>
        dice.Next(5) switch
        {
            0 => sku.ToLowerInvariant(),
            1 => sku.Replace("-", "", StringComparison.Ordinal),
            2 => sku.Replace('-', ' '),
            3 => "00" + sku,
            _ => sku.ToLowerInvariant().Replace("-", "_", StringComparison.Ordinal),
        };

    private static string Rewritten(string title, Random dice, bool typing)
    {
        var parts = title.Split(", ");
        var words = parts[0].Split(' ');
        dice.Shuffle(words);
        var size = parts[1]
            .Replace("500 ml", "0.5 l", StringComparison.Ordinal)
            .Replace("1 kg", "1000g", StringComparison.Ordinal)
            .Replace(" ", dice.Next(2) == 0 ? "" : " ", StringComparison.Ordinal);
        var text = string.Join(' ', words);
        if (typing)
        {
            foreach (var (whole, cut) in Shortened)
                if (dice.Next(2) == 0)
                    text = text.Replace(whole, cut + (dice.Next(2) == 0 ? "." : ""), StringComparison.Ordinal);
            text = Mistyped(text, dice);
        }

        return dice.Next(2) == 0 ? $"{text} ({size})" : $"{size} {text}";
    }

    private static string Mistyped(string text, Random dice)
    {
        var at = dice.Next(1, text.Length - 1);
        return dice.Next(4) switch
        {
            0 => text.Remove(at, 1),
            1 => text.Insert(at, ((char)('a' + dice.Next(26))).ToString()),
            2 => text[..at] + (char)('a' + dice.Next(26)) + text[(at + 1)..],
            _ => text[..at] + text[at + 1 < text.Length ? at + 1 : at] + text[at] + (at + 2 < text.Length ? text[(at + 2)..] : ""),
        };
    }

    /// <summary>What the findings are worth against the truth.</summary>
    /// <returns>The share of certain pairs that are right, and the share of true pairs that certain and likely ones find, from 0 to 1;
    /// then the share of likely pairs that are right.</returns>
    public (double CertainRight, double Found, double LikelyRight) Score(IReadOnlyList<PairFinding> findings)
    {
        int certain = 0,
            certainRight = 0,
            likely = 0,
            likelyRight = 0;
        foreach (var finding in findings)
        {
            if (finding.LeftKey is null || finding.RightKey is null)
                continue;
            var right = Truth.TryGetValue(finding.LeftKey, out var partner) && partner == finding.RightKey;
            if (finding.Verdict == Verdict.Certain)
                (certain, certainRight) = (certain + 1, certainRight + (right ? 1 : 0));
            else
                (likely, likelyRight) = (likely + 1, likelyRight + (right ? 1 : 0));
        }

        return (
            certain == 0 ? 1 : (double)certainRight / certain,
            (double)(certainRight + likelyRight) / Truth.Count,
            likely == 0 ? 1 : (double)likelyRight / likely
        );
    }
}
