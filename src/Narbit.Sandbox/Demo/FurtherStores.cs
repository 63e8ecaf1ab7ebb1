using System.Globalization;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.Demo;

/// <summary>
/// What the till, the trade portal and the marketplace sell, and what is wrong with it; and the customers of the back office and the
/// portal.
/// </summary>
public sealed record FurtherStores(
    IReadOnlyList<Listing> Till,
    IReadOnlyList<Listing> Portal,
    IReadOnlyList<Listing> Market,
    IReadOnlyList<Account> Customers,
    IReadOnlyList<Account> Accounts,
    IReadOnlyList<Trouble> Troubles
)
{
    /// <summary>How the trade portal writes SKUs.</summary>
    public const string PortalPrefix = "LM.";

    private const int TillName = 24;

    public static FurtherStores Generate(IReadOnlyList<Article> articles, ulong seed)
    {
        var dice = new Dice(seed);
        var troubles = new List<Trouble>();
        var sold = articles.Where(a => a.Studio > 0 && a.Sku.Length > 0).Take(600).ToList();
        var till = AtTheTill(sold, dice, troubles);
        var portal = InThePortal(sold, dice, troubles);
        var market = AtTheMarket(sold, dice, troubles);
        var (customers, accounts) = Clients(dice, troubles);
        return new FurtherStores(till, portal, market, customers, accounts, troubles);
    }

    /// <summary>The portal's own code for a category: the first two letters of each level.</summary>
    public static string ClassCode(string category) => string.Join('-', category.Split(" › ").Select(c => c[..2].ToUpperInvariant()));

    private static decimal Gross(Article a) => Math.Ceiling(a.Studio!.Value * (a.TaxCode == "R" ? 1.05m : 1.2m) * 20) / 20;

    private static int Available(Article a) => Math.Max(0, a.Stock.Values.Sum(s => s.OnHand - s.Allocated));

    private static List<Listing> AtTheTill(List<Article> sold, Dice dice, List<Trouble> troubles)
    {
        var listings = new List<Listing>();
        var plu = 100;
        foreach (var a in sold)
        {
            if (listings.Count >= 180 || dice.Below(100) >= 34)
                continue;
            var name = a.Name.ToUpperInvariant().Replace("×", "X", StringComparison.Ordinal);
            listings.Add(
                new Listing
                {
                    Id = (++plu).ToString(CultureInfo.InvariantCulture),
                    Sku = a.Sku,
                    Title = name.Length > TillName ? name[..TillName].TrimEnd() : name,
                    Barcode = dice.Chance(80) ? a.Barcode : "",
                    Category = a.Category.Split(' ')[0],
                    Price = dice.Chance(8) ? Gross(a) + 0.5m : Gross(a),
                    Quantity = Math.Max(0, a.Stock.GetValueOrDefault(Locations.QuayStreet, new Shelf(0, 0, 0)).OnHand),
                    ChangedAt = Catalogue.Day,
                }
            );
        }

        if (listings.Count < 60)
            return listings;
        Spoil("sku missing", [4, 30, 51], l => l.Sku = "");
        Spoil("sku differs by case", [7, 18, 40], l => l.Sku = l.Sku.ToLowerInvariant());
        Spoil("sku differs by spaces or separators", [9, 22, 44], l => l.Sku = l.Sku.Replace("-", " ", StringComparison.Ordinal));
        Spoil("sku used twice", [12, 13], l => l.Sku = listings[12].Sku);
        Spoil(
            "barcode with a wrong check digit",
            [15, 33],
            l => l.Barcode = l.Barcode.Length < 13 ? "9528840000001" : l.Barcode[..12] + (char)('0' + (l.Barcode[12] - '0' + 3) % 10)
        );
        foreach (
            var (name, price) in new[] { ("GIFT VOUCHER 20", 20m), ("COFFEE", 3.2m), ("FIRING, SMALL PIECE", 6m), ("=PARKING, 1 DAY", 4m) }
        )
            listings.Add(
                new Listing
                {
                    Id = (++plu).ToString(CultureInfo.InvariantCulture),
                    Title = name,
                    Price = price,
                    Quantity = 0,
                    Category = "Counter",
                    ChangedAt = Catalogue.Day,
                }
            );
        troubles.Add(new("listing unknown to the hub", "till", [.. listings.TakeLast(4).Select(l => l.Id)]));
        troubles.Add(new("comma, quote, line break or leading = in text", "till", [.. listings.TakeLast(2).Select(l => l.Id)]));
        return listings;

        void Spoil(string trouble, int[] which, Action<Listing> spoil)
        {
            foreach (var i in which)
                spoil(listings[i]);
            troubles.Add(new(trouble, "till", [.. which.Select(i => listings[i].Id)]));
        }
    }

    private static List<Listing> InThePortal(List<Article> sold, Dice dice, List<Trouble> troubles)
    {
        var listings = new List<Listing>();
        var families = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var a in sold)
        {
            if (listings.Count >= 260 || Kept(a.GroupCode) >= 52)
                continue;
            if (!families.TryGetValue(a.GroupCode, out var family))
                families[a.GroupCode] = family = $"F{families.Count + 1:D3}";
            var name =
                a.Option.Length > 0 && a.Name.EndsWith(a.Option, StringComparison.Ordinal) ? a.Name[..^a.Option.Length].TrimEnd() : a.Name;
            listings.Add(
                new Listing
                {
                    Id = $"E-{listings.Count + 1:D4}",
                    Parent = family,
                    Sku = PortalPrefix + a.Sku,
                    Title = Turned(name),
                    Option = a.Option.Replace(" ", "", StringComparison.Ordinal),
                    Barcode = dice.Chance(70) ? a.Barcode : "",
                    Category = ClassCode(a.Category),
                    TaxClass = a.TaxCode == "R" ? "B" : "A",
                    Price = Math.Round(a.Studio!.Value * (dice.Chance(10) ? 0.96m : 1m), 2),
                    Quantity = Available(a),
                    ChangedAt = Catalogue.Day,
                }
            );
        }

        if (listings.Count < 60)
            return listings;
        Spoil("sku missing", [6, 37], l => l.Sku = "");
        Spoil("sku used twice", [20, 21], l => l.Sku = listings[20].Sku);
        Spoil("barcode used twice", [25, 26], l => l.Barcode = listings[25].Barcode.Length > 0 ? listings[25].Barcode : "9528840100256");
        Spoil("without tax class", [31, 55], l => l.TaxClass = "");
        foreach (var name in new[] { "Studio hire, half a day", "Kiln firing service, per shelf" })
            listings.Add(
                new Listing
                {
                    Id = $"E-{listings.Count + 1:D4}",
                    Title = name,
                    Sku = $"SRV.{listings.Count}",
                    Price = 60,
                    Quantity = 0,
                    TaxClass = "A",
                    Category = "SE",
                    ChangedAt = Catalogue.Day,
                }
            );
        troubles.Add(new("listing unknown to the hub", "trade-portal", [.. listings.TakeLast(2).Select(l => l.Id)]));
        return listings;

        void Spoil(string trouble, int[] which, Action<Listing> spoil)
        {
            foreach (var i in which)
                spoil(listings[i]);
            troubles.Add(new(trouble, "trade-portal", [.. which.Select(i => listings[i].Id)]));
        }
    }

    // “Celadon glaze, brush-on” as the portal has it: “Brush-on glaze Celadon”.
    private static string Turned(string name) =>
        name.Split(", ", 2) is [var what, var how] && what.Split(' ', 2) is [var colour, var noun]
            ? $"{char.ToUpperInvariant(how[0])}{how[1..]} {noun} {colour}"
            : name;

    private static int Kept(string group) => (int)(group.Aggregate(17u, (h, c) => h * 31 + c) % 100);

    private static List<Listing> AtTheMarket(List<Article> sold, Dice dice, List<Trouble> troubles)
    {
        var listings = new List<Listing>();
        string NextId() => $"CL{7_000 + listings.Count * 3}";
        foreach (var a in sold)
        {
            if (listings.Count >= 120 || dice.Below(100) >= 24)
                continue;
            var name =
                a.Option.Length > 0 && a.Name.EndsWith(a.Option, StringComparison.Ordinal)
                    ? a.Name[..^a.Option.Length].TrimEnd().TrimEnd(',')
                    : a.Name;
            listings.Add(
                new Listing
                {
                    Id = NextId(),
                    Sku =
                        dice.Chance(60) ? a.Sku
                        : dice.Chance(50) ? a.Sku.Replace("-", "", StringComparison.Ordinal).ToLowerInvariant()
                        : "",
                    Title = $"{Turned(name)}{(a.Option.Length > 0 ? $" ({a.Option.Replace(" ", "", StringComparison.Ordinal)})" : "")}",
                    Barcode = dice.Chance(75) ? "0" + a.Barcode : "",
                    Brand = "Lanternmoor",
                    Category = a.Category.Split(' ')[0],
                    Price = Gross(a) + 1,
                    Quantity = Math.Min(20, Available(a)),
                    ShowsAtMost = 20,
                    Image = $"pictures/{a.Number}.jpg",
                    ChangedAt = Catalogue.Day,
                }
            );
        }

        if (listings.Count < 60)
            return listings;
        var twins = new[] { 3, 17 };
        foreach (var i in twins)
        {
            var first = listings[i];
            listings.Add(
                new Listing
                {
                    Id = NextId(),
                    Sku = "",
                    Title = $"{first.Title} for studio potters",
                    Barcode = first.Barcode,
                    Brand = "Lanternmoor",
                    Category = first.Category,
                    Price = first.Price + 0.5m,
                    Quantity = first.Quantity,
                    ShowsAtMost = 20,
                    ChangedAt = Catalogue.Day,
                }
            );
        }

        troubles.Add(new("listing sold under two titles", "clay-lane", [.. listings.TakeLast(2).Select(l => l.Id)]));
        if (!sold.Exists(a => a.Name.StartsWith("Wooden rib", StringComparison.Ordinal)))
            return listings;
        Article Named(string start) => sold.First(a => a.Name.StartsWith(start, StringComparison.Ordinal));
        foreach (
            var (title, sku, parts) in new[]
            {
                (
                    "Starter kit, throwing: 4 tools",
                    "KIT-THR-1",
                    new[]
                    {
                        (Named("Loop tool, round"), 1),
                        (Named("Needle tool"), 1),
                        (Named("Wooden knife"), 1),
                        (Named("Metal kidney, soft"), 1),
                    }
                ),
                ("Turning kit: 2 loop tools, 1 rib", "KIT-TRN-1", [(Named("Loop tool, square"), 2), (Named("Wooden rib, round"), 1)]),
                ("Class pack: 10 needle tools", "KIT-CLS-10", [(Named("Needle tool"), 10)]),
            }
        )
        {
            listings.Add(
                new Listing
                {
                    Id = NextId(),
                    Sku = sku,
                    Title = title,
                    Brand = "Lanternmoor",
                    Category = "Kits",
                    Price = Math.Ceiling(parts.Sum(p => Gross(p.Item1) * p.Item2)),
                    Quantity = 5,
                    ShowsAtMost = 20,
                    Kit = [.. parts.Select(p => (p.Item1.Number, p.Item2))],
                    ChangedAt = Catalogue.Day,
                }
            );
        }

        troubles.Add(new("kit", "clay-lane", [.. listings.TakeLast(3).Select(l => l.Id)]));
        Spoil("sku used for another product", [10, 28], l => l.Sku = sold[l == listings[10] ? 7 : 11].Sku);
        Spoil(
            "barcode with a wrong check digit",
            [14, 36],
            l => l.Barcode = l.Barcode.Length == 14 ? l.Barcode[..13] + (char)('0' + (l.Barcode[13] - '0' + 1) % 10) : "09528840000008"
        );
        listings.Add(
            new Listing
            {
                Id = NextId(),
                Sku = "HAT-01",
                Title = "Lanternmoor cap, one size",
                Brand = "Lanternmoor",
                Category = "Clothing",
                Price = 18,
                Quantity = 9,
                ShowsAtMost = 20,
                ChangedAt = Catalogue.Day,
            }
        );
        listings.Add(
            new Listing
            {
                Id = NextId(),
                Sku = "",
                Title = "Pottery course voucher",
                Brand = "Lanternmoor",
                Category = "Vouchers",
                Price = 120,
                Quantity = 20,
                ShowsAtMost = 20,
                ChangedAt = Catalogue.Day,
            }
        );
        troubles.Add(new("listing unknown to the hub", "clay-lane", [.. listings.TakeLast(2).Select(l => l.Id)]));
        return listings;

        void Spoil(string trouble, int[] which, Action<Listing> spoil)
        {
            foreach (var i in which)
                spoil(listings[i]);
            troubles.Add(new(trouble, "clay-lane", [.. which.Select(i => listings[i].Id)]));
        }
    }

    private static readonly string[] Firsts =
    [
        "Maeve",
        "Tomas",
        "Ines",
        "Oskar",
        "Nuala",
        "Petra",
        "Ruben",
        "Saoirse",
        "Lena",
        "Matteo",
        "Brigid",
        "Yusuf",
        "Anouk",
        "Declan",
        "Freya",
    ];
    private static readonly string[] Lasts =
    [
        "Quarry",
        "Millbank",
        "Thornfield",
        "Ashgrove",
        "Penhallow",
        "Starling",
        "Windle",
        "Copperton",
        "Larkmoor",
        "Hazelwick",
        "Stonely",
        "Marrow",
    ];
    private static readonly string[] Firms = ["Pottery", "Ceramics", "Studio", "Clayworks", "Kiln Room", "School of Art"];

    private static (List<Account> Customers, List<Account> Accounts) Clients(Dice dice, List<Trouble> troubles)
    {
        var (customers, accounts) = (new List<Account>(), new List<Account>());
        for (var i = 0; i < 90; i++)
        {
            var (first, last) = (Firsts[i % Firsts.Length], Lasts[i * 7 / 15 % Lasts.Length]);
            var firm = i % 2 == 0 ? $"{last} {Firms[i % Firms.Length]} Ltd" : "";
            // Numbers that the Irish regulator keeps for drama.
            var customer = new Account(
                $"C{2_001 + i}",
                $"{40_100 + i}",
                $"{first} {last}",
                firm,
                $"{first}.{last}{i}@lanternmoor.example".ToLowerInvariant(),
                $"020 91{i % 10} {5_000 + i:D4}",
                $"LM{i % 24 + 1:D2} {(char)('A' + i % 26)}{i % 10}{(char)('C' + i % 20)}K",
                i % 3 == 0 ? "Port Ember" : "Kilnhaven"
            );
            customers.Add(customer);
            if (i % 9 == 8)
                continue;
            accounts.Add(
                new Account(
                    $"A-{300 + i}",
                    i % 4 == 0 ? customer.Number : "",
                    i % 3 == 0 ? $"{last}, {first}" : customer.Contact,
                    firm.Replace(" Ltd", " Limited", StringComparison.Ordinal),
                    i % 6 == 5
                        ? $"office{i}@{last}.example".ToLowerInvariant()
                        : customer.Mail.ToUpperInvariant()[..1] + customer.Mail[1..],
                    i % 5 == 4 ? "" : $"+353 20 91{i % 10} {5_000 + i:D4}",
                    customer.Postcode.Replace(" ", "", StringComparison.Ordinal).ToLowerInvariant(),
                    customer.Town
                )
            );
        }

        foreach (var (a, b) in new[] { (10, 11), (40, 41) })
        {
            customers[b] = customers[b] with { Mail = customers[a].Mail };
            troubles.Add(new("same email for two customers", "back-office", [customers[a].Number, customers[b].Number]));
        }

        for (var i = 0; i < 3; i++)
            accounts.Add(
                new Account($"A-9{i}", "", $"Guest {i + 1}", "", $"guest{i}@elsewhere.example", "", $"ZZ{dice.Below(90) + 10}", "Elsewhere")
            );
        return (customers, accounts);
    }
}
