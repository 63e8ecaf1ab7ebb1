using System.Globalization;
using System.Text;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox.Demo;

/// <summary>The Lanternmoor data: what the back office holds, what the web shop holds, and what is wrong with them.</summary>
public sealed record Catalogue(
    IReadOnlyList<Article> Articles,
    IReadOnlyList<Product> Products,
    FurtherStores Further,
    IReadOnlyList<Trouble> Troubles
)
{
    /// <summary>The day on which the data stands; fixed, so that the same seed gives the same bytes.</summary>
    public static readonly DateTimeOffset Day = new(2026, 11, 24, 6, 0, 0, TimeSpan.Zero);

    /// <summary>How many items the demo has unless told otherwise.</summary>
    public const int DefaultItems = 600;

    public static Catalogue Generate(int items = DefaultItems, ulong seed = 20_261_124)
    {
        var dice = new Dice(seed);
        var troubles = new List<Trouble>();
        var articles = Stocked(items, dice);
        Describe(articles);
        SpoilArticles(articles, troubles);
        var products = Listed(articles, dice);
        SpoilProducts(products, troubles);
        var further = FurtherStores.Generate(articles, seed + 1);
        return new Catalogue(articles, products, further, [.. troubles, .. further.Troubles]);
    }

    private static List<Article> Stocked(int items, Dice dice)
    {
        var articles = new List<Article>(items);
        var number = 10_000;
        for (var edition = 1; articles.Count < items; edition++)
        {
            var before = articles.Count;
            foreach (var range in Range.All)
            {
                var used = new HashSet<string>(StringComparer.Ordinal);
                foreach (var name in range.Names)
                {
                    var group = GroupCode(range, name, edition, used);
                    var basePrice = dice.Between(range.From, range.To);
                    foreach (var size in range.Sizes)
                    {
                        if (articles.Count == items)
                            return articles;
                        articles.Add(Article(range, name, size, group, edition, ++number, basePrice, dice));
                    }
                }
            }

            if (articles.Count == before)
                break;
        }

        return articles;
    }

    private static string GroupCode(Range range, string name, int edition, HashSet<string> used)
    {
        var letters = new string([.. name.Where(char.IsLetterOrDigit)]).ToUpperInvariant();
        var code = $"{range.Code}-{letters[..Math.Min(3, letters.Length)]}";
        for (var n = 2; !used.Add(code); n++)
            code = $"{range.Code}-{letters[..Math.Min(3, letters.Length)]}{n}";
        return edition == 1 ? code : $"{code}-E{edition}";
    }

    private static Article Article(Range range, string name, Size size, string group, int edition, int number, decimal basePrice, Dice dice)
    {
        var studio = Math.Round(basePrice * size.Factor, 2);
        var title = new StringBuilder(name);
        if (range.Noun.Length > 0)
            title.Append(' ').Append(range.Noun);
        if (edition > 1)
            title.Append(", series ").Append(edition);
        if (size.Label.Length > 0)
            title.Append(' ').Append(size.Label);
        var article = new Article
        {
            Number = number.ToString(CultureInfo.InvariantCulture),
            Sku = size.Code.Length == 0 ? group : $"{group}-{size.Code}",
            GroupCode = group,
            Name = title.ToString(),
            Option = size.Label,
            Barcode = Gtin(number),
            Picture = $"pictures/{number}.jpg",
            WeightGrams = size.Weight,
            Category = range.Category,
            TaxCode = range.TaxCode,
            Cost = Math.Round(studio * dice.Between(0.48m, 0.62m), 2),
            Studio = studio,
            School = Math.Round(studio * 0.9m, 2),
            Counter = Math.Round(studio * 1.06m, 2),
            ChangedAt = Day.AddMinutes(-dice.Below(60 * 24 * 60)),
        };
        if (dice.Chance(6))
        {
            article.SaleStudio = Math.Round(studio * 0.85m, 2);
            article.SaleFrom = Day.AddDays(-4);
            article.SaleTo = Day.AddDays(40);
        }

        foreach (var location in Locations.All)
        {
            var most =
                location == Locations.Overflow ? 60
                : range.Code is "KLN" or "WHL" ? 6
                : 45;
            var onHand = dice.Chance(location == Locations.Overflow ? 55 : 12) ? 0 : dice.Below(most) + 1;
            article.Stock[location] = new Shelf(
                onHand,
                Math.Min(onHand, dice.Chance(35) ? dice.Below(5) : 0),
                dice.Chance(12) ? (dice.Below(4) + 1) * 6 : 0
            );
        }

        return article;
    }

    // Texts, pictures and what goes with what. They follow from the article alone, so that the dice fall as before.
    private static void Describe(List<Article> articles)
    {
        var groups = articles.GroupBy(a => a.GroupCode, StringComparer.Ordinal).Select(g => g.ToList()).ToList();
        for (var g = 0; g < groups.Count; g++)
        {
            foreach (var (a, i) in groups[g].Select((a, i) => (a, i)))
            {
                var of = a.Category.Split(" › ")[0].ToLowerInvariant();
                a.LongText =
                    $"{a.Name} from the Lanternmoor shelves. Mixed and packed at Kilnyard in small lots, and tried in our own "
                    + $"kilns before it goes out.";
                a.UsageText = a.Category switch
                {
                    var c when c.StartsWith("Glazes", StringComparison.Ordinal) =>
                        "Stir well. Three even coats on bisque ware. Fire to 1,220–1,260 °C.",
                    var c when c.StartsWith("Clays", StringComparison.Ordinal) => "Wedge before use. Keep it wrapped and away from frost.",
                    _ => "",
                };
                a.WebText =
                    $"<p>{System.Net.WebUtility.HtmlEncode(a.Name)} from the Lanternmoor "
                    + $"shelves.</p><ul><li>{System.Net.WebUtility.HtmlEncode(of)}</li><li>{a.WeightGrams} g with packing</li></ul>";
                a.Pictures =
                    a.Category == "Kilns" ? [a.Picture!, $"pictures/{a.Number}-2.jpg", $"pictures/{a.Number}-3.jpg"] : [a.Picture!];
                // The next product of the same range, and the one before.
                a.Related =
                [
                    .. new[] { g + 1, g - 1 }
                        .Where(n => n >= 0 && n < groups.Count && groups[n][0].Category == a.Category)
                        .Select(n => groups[n][Math.Min(i, groups[n].Count - 1)].Number),
                ];
            }
        }
    }

    /// <summary>GTIN-13 with the GS1 demonstration prefix 952 and its check digit.</summary>
    public static string Gtin(int number)
    {
        var digits = $"952{number + 884_000_000:D9}";
        var sum = digits.Select((c, i) => (c - '0') * (i % 2 == 0 ? 1 : 3)).Sum();
        return digits + (10 - sum % 10) % 10;
    }

    private static void SpoilArticles(List<Article> articles, List<Trouble> troubles)
    {
        if (articles.Count < 200)
            return;
        void Spoil(string name, int[] which, Action<Article> spoil)
        {
            foreach (var i in which)
                spoil(articles[i]);
            troubles.Add(new(name, "back-office", [.. which.Select(i => articles[i].Number)]));
        }

        Spoil("sku missing", [17, 98], a => a.Sku = "");
        Spoil(
            "sku used twice",
            [30, 31, 140, 143],
            a =>
                a.Sku =
                    a == articles[31] ? articles[30].Sku
                    : a == articles[143] ? articles[140].Sku
                    : a.Sku
        );
        Spoil(
            "barcode with a wrong check digit",
            [44, 101],
            a => a.Barcode = a.Barcode[..12] + (char)('0' + (a.Barcode[12] - '0' + 1) % 10)
        );
        Spoil("tax code unknown", [52, 109], a => a.TaxCode = "X");
        Spoil("item without weight", [61, 118], a => a.WeightGrams = null);
        Spoil("item without cost", [63, 121, 180], a => a.Cost = null);
        Spoil("item without image", [64, 122], a => a.Picture = null);
        Spoil("price of zero", [66, 125], a => a.Studio = 0);
        Spoil("no price in the studio list", [69, 128], a => a.Studio = null);
        Spoil("negative price", [71, 131], a => a.Studio = -4);
        Spoil(
            "comma, quote, line break or leading = in text",
            [74, 134, 135],
            a =>
                a.Name =
                    a == articles[74] ? $"=\"{a.Name}\""
                    : a == articles[134] ? $"{a.Name}, 5\" wide"
                    : $"{a.Name}\n(new)"
        );
        Spoil("not tracked", [77, 137], a => a.Tracked = false);
        Spoil("related to itself", [80, 150], a => a.Related = [a.Number, .. a.Related]);
        Spoil(
            "script in a text",
            [84, 155],
            a => a.WebText = $"{a.WebText}<script>document.title='gone'</script><p onclick=\"buy()\">Now.</p>"
        );
        Spoil("picture in the local network", [88, 160], a => a.Pictures = [$"http://192.168.4.20/{a.Number}.jpg"]);
        Spoil("picture that is no picture", [90, 165], a => a.Pictures = [$"pictures/{a.Number}.pdf"]);
        Spoil("no longer sold", [93, 168], a => a.Active = false);
    }

    private static List<Product> Listed(List<Article> articles, Dice dice)
    {
        var products = new List<Product>();
        var variantId = 90_000L;
        foreach (var group in articles.GroupBy(a => a.GroupCode).Where(_ => !dice.Chance(4)))
        {
            var first = group.First();
            var name =
                first.Option.Length > 0 && first.Name.EndsWith(first.Option, StringComparison.Ordinal)
                    ? first.Name[..^first.Option.Length].TrimEnd()
                    : first.Name;
            var product = new Product
            {
                Id = 500 + products.Count,
                Title = name,
                BodyHtml =
                    $"<p>{System.Net.WebUtility.HtmlEncode(name)} from the Lanternmoor "
                    + $"shelves.</p><ul><li>{first.Category.Replace("›", "&rsaquo;", StringComparison.Ordinal)}</li></ul>",
                Category = first.Category,
                Published = !dice.Chance(3),
                UpdatedAt = Day.AddMinutes(-dice.Below(60 * 24 * 20)),
            };
            foreach (var article in group)
            {
                var available = article.Stock.Values.Sum(s => s.OnHand - s.Allocated);
                product.Variants.Add(
                    new Variant
                    {
                        Id = ++variantId,
                        Sku = article.Sku,
                        Barcode = article.Barcode,
                        Option = article.Option,
                        // The shop was last priced by hand: Studio plus tax, to the next five cents, and some have gone stale since.
                        PriceCents =
                            article.Studio > 0
                                ? (int)(
                                    Math.Ceiling(
                                        article.Studio.Value * (article.TaxCode == "R" ? 1.05m : 1.2m) * (dice.Chance(9) ? 0.93m : 1m) * 20
                                    ) * 5
                                )
                                : 995,
                        Quantity = Math.Max(0, dice.Chance(12) ? available + dice.Below(9) - 5 : available),
                        WeightKg = article.WeightGrams / 1000m,
                    }
                );
            }

            products.Add(product);
        }

        return products;
    }

    private static void SpoilProducts(List<Product> products, List<Trouble> troubles)
    {
        var variants = products.SelectMany(p => p.Variants).ToList();
        if (variants.Count < 200)
            return;
        void Spoil(string name, IEnumerable<int> which, Func<Variant, int, string> sku)
        {
            var keys = which.ToList();
            foreach (var i in keys)
                variants[i].Sku = sku(variants[i], i);
            troubles.Add(new(name, "web-shop", [.. keys.Select(i => variants[i].Id.ToString(CultureInfo.InvariantCulture))]));
        }

        Spoil("sku missing", [5, 150], (_, _) => "");
        Spoil("sku differs by case", [9, 54, 83, 160], (v, _) => v.Sku.ToLowerInvariant());
        Spoil(
            "sku differs by spaces or separators",
            [12, 57, 88, 163],
            (v, i) => i % 2 == 0 ? v.Sku.Replace('-', ' ') : v.Sku.Replace("-", "", StringComparison.Ordinal)
        );
        Spoil("sku differs by leading zeros", [15, 91], (v, _) => "00" + v.Sku);
        Spoil("sku used twice", [20, 21], (_, _) => variants[20].Sku);
        Spoil("listing unknown to the hub", [24, 170], (v, _) => "OLD-" + v.Sku);
    }
}
