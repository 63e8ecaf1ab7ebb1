using System.Globalization;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Stores;
using Narbit.Sandbox.Till;

namespace Narbit.Sandbox.Demo;

/// <summary>What was ordered in the web shop, the trade portal and the marketplace over sixty days, and what is wrong with it.</summary>
public sealed record OrderBooks(
    IReadOnlyList<StoreOrder> Shop,
    IReadOnlyList<StoreOrder> Portal,
    IReadOnlyList<StoreOrder> Market,
    IReadOnlyList<StoreOrder> Till,
    IReadOnlyList<Trouble> Troubles
)
{
    /// <summary>How many orders the demo has unless told otherwise.</summary>
    public const int DefaultOrders = 400;

    private const int Days = 60;

    private static readonly string[] Streets = ["Kiln Lane", "Slip Row", "Glaze Street", "Quarry Rise", "Lantern Quay", "Potter’s Walk"];

    public static OrderBooks Generate(Catalogue catalogue, int orders, ulong seed)
    {
        var dice = new Dice(seed);
        var rates = catalogue
            .Articles.Where(a => a.Sku.Length > 0)
            .GroupBy(a => a.Sku, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => Rate(g.First()), StringComparer.Ordinal);
        var shop = Sold([
            .. catalogue
                .Products.SelectMany(p => p.Variants.Select(v => (p, v)))
                .Where(x => rates.ContainsKey(x.v.Sku) && x.v.PriceCents > 0)
                .Select(x => new Offer(x.v.Sku, $"{x.p.Title} {x.v.Option}".Trim(), x.v.PriceCents / 100m, rates[x.v.Sku])),
        ]);
        var portal = Sold(Offers(catalogue.Further.Portal, FurtherStores.PortalPrefix, rates));
        var market = Sold(Offers(catalogue.Further.Market, "", rates));
        var troubles = new List<Trouble>();
        var customers = Alone(catalogue.Further.Customers);
        var (atShop, atMarket) = (orders * 11 / 20, orders / 5);
        return new OrderBooks(
            ShopTroubles(Placed(atShop, shop, customers, dice, Ways.Shop), Shared(catalogue.Further.Customers), troubles),
            PortalTroubles(Placed(orders - atShop - atMarket, portal, Alone(catalogue.Further.Accounts), dice, Ways.Portal), troubles),
            MarketTroubles(Placed(atMarket, market, customers, dice, Ways.Market), troubles),
            TillTroubles(Sales(atShop / 8, Sold(Offers(catalogue.Further.Till, "", rates)), new Dice(seed + 1)), troubles),
            troubles
        );
    }

    /// <summary>How a store numbers and words its orders.</summary>
    private sealed record Ways(string Id, int First, string Number, bool Gross, string[] States, string[] Methods, Sending[] Sendings)
    {
        public static Ways Shop { get; } =
            new(
                "",
                30_000,
                "W",
                true,
                ["processing", "processing", "processing", "done"],
                ["card", "card", "invoice"],
                [new("standard", 5.90m), new("express", 12.50m), new("collect", 0)]
            );

        public static Ways Portal { get; } =
            new("P-", 8_000, "TP", false, ["placed"], ["account"], [new("carrier", 9.50m, 20), new("pallet", 65m, 20)]);

        public static Ways Market { get; } = new("M", 500_000, "CL-", true, ["paid"], ["market"], [new("home", 4.50m)]);
    }

    private sealed record Offer(string Sku, string Title, decimal Price, decimal Rate);

    private static decimal Rate(Article article) =>
        article.TaxCode switch
        {
            "R" => 5,
            "Z" => 0,
            _ => 20,
        };

    private static List<Offer> Offers(IReadOnlyList<Listing> listings, string prefix, Dictionary<string, decimal> rates) =>
        [
            .. listings
                .Where(l => l.Price > 0 && l.Kit.Count == 0)
                .Select(l => (l, sku: l.Sku.StartsWith(prefix, StringComparison.Ordinal) ? l.Sku[prefix.Length..] : l.Sku))
                .Where(x => rates.ContainsKey(x.sku))
                .Select(x => new Offer(x.l.Sku, x.l.Title, x.l.Price, rates[x.sku])),
        ];

    // Those whose mail address is theirs alone, and one that is not.
    private static List<Account> Alone(IEnumerable<Account> buyers) =>
        [.. buyers.GroupBy(b => b.Mail, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() == 1).Select(g => g.First())];

    private static string Shared(IEnumerable<Account> buyers) =>
        buyers.GroupBy(b => b.Mail, StringComparer.OrdinalIgnoreCase).First(g => g.Count() > 1).Key;

    // What is offered once only, so that an order's SKU is one item.
    private static List<Offer> Sold(List<Offer> offers) =>
        [.. offers.GroupBy(o => o.Sku, StringComparer.Ordinal).Where(g => g.Count() == 1).Select(g => g.First())];

    private static List<StoreOrder> Placed(int count, List<Offer> offers, List<Account> buyers, Dice dice, Ways ways)
    {
        var orders = new List<StoreOrder>(count);
        for (var i = 0; i < count; i++)
        {
            var placed = Catalogue.Day.AddMinutes(-(Days * 24 * 60) + (double)Days * 24 * 60 * i / count);
            var buyer = buyers[dice.Below(buyers.Count)];
            var number = (ways.First + i + 1).ToString(CultureInfo.InvariantCulture);
            var to = Address(buyer, dice);
            orders.Add(
                Reckoning.Added(
                    new StoreOrder
                    {
                        Id = $"{ways.Id}{number}",
                        Number = $"{ways.Number}{number}",
                        PlacedAt = placed,
                        ChangedAt = placed,
                        State = ways.States[dice.Below(ways.States.Length)],
                        PaymentState = "paid",
                        Method = ways.Methods[dice.Below(ways.Methods.Length)],
                        Email = buyer.Mail,
                        Phone = buyer.Phone,
                        Account = ways == Ways.Portal ? buyer.Number : "",
                        TheirNumber = ways == Ways.Portal ? $"PO-{dice.Below(9_000) + 1_000}" : "",
                        BillTo = to,
                        ShipTo = dice.Chance(15) ? to with { Name = "Studio door", Street = $"{dice.Below(90) + 1} Slip Row" } : null,
                        Lines = Lines(offers, dice),
                        Shipping = [ways.Sendings[dice.Below(ways.Sendings.Length)]],
                        Comment = dice.Chance(8) ? "Please leave it with the neighbour." : "",
                    },
                    ways.Gross
                )
            );
        }

        return orders;
    }

    private static List<OrderedLine> Lines(List<Offer> offers, Dice dice)
    {
        var lines = new List<OrderedLine>();
        var count = 1 + dice.Below(5);
        for (var n = 1; n <= count; n++)
        {
            var offer = offers[dice.Below(offers.Count)];
            if (lines.Exists(l => l.Sku == offer.Sku))
                continue;
            var quantity = 1 + dice.Below(4);
            var off = dice.Chance(10) ? Math.Round(offer.Price * quantity / 10, 2) : 0;
            lines.Add(
                new OrderedLine(n.ToString(CultureInfo.InvariantCulture), offer.Sku, offer.Title, quantity, offer.Price, off, offer.Rate)
            );
        }

        return lines;
    }

    private static PostAddress Address(Account buyer, Dice dice) =>
        new(
            buyer.Contact,
            buyer.Firm,
            $"{dice.Below(120) + 1} {Streets[dice.Below(Streets.Length)]}",
            buyer.Town,
            buyer.Postcode,
            "IE",
            buyer.Phone
        );

    private static List<StoreOrder> ShopTroubles(List<StoreOrder> orders, string shared, List<Trouble> troubles)
    {
        var spoil = new Spoiler(orders, "web-shop", troubles);
        spoil.Each("order with an unknown SKU", 3, o => o with { Lines = [o.Lines[0] with { Sku = $"OLD-{o.Id}" }, .. o.Lines.Skip(1)] });
        spoil.Each("order whose lines do not add up to its total", 2, o => o with { Total = o.Total + 0.01m });
        spoil.Each("order whose total is far from its lines", 2, o => o with { Total = o.Total + 3 });
        spoil.Each("unpaid order", 4, o => o with { PaymentState = "pending", State = "open" });
        spoil.Each("order whose payment failed", 2, o => o with { PaymentState = "failed", State = "open" });
        spoil.Each("cancelled order", 3, o => o with { State = "cancelled" });
        spoil.Each(
            "order to an island outside the shipping zones",
            2,
            o => o with { BillTo = o.BillTo! with { Postcode = "IS4 T0WN", City = "Far Skerry" }, ShipTo = null }
        );
        spoil.Each("order without an address", 2, o => o with { BillTo = o.BillTo! with { Street = "" }, ShipTo = null });
        spoil.Each("order without a tax rate", 2, o => o with { Lines = [.. o.Lines.Select(l => l with { TaxRate = null })] });
        spoil.Each("order with an unknown payment method", 2, o => o with { Method = "pigeon post" });
        spoil.Each(
            "order with a discount",
            3,
            o => Reckoning.Added(o with { Discounts = [new("Kiln opening day", 2)], Lines = [.. o.Lines.Take(1)] }, gross: true)
        );
        spoil.Each("order with a fee", 2, o => Reckoning.Added(o with { Fees = [new("Gift wrapping", 3.50m)] }, gross: true));
        spoil.Each("order paid with a voucher", 2, o => o with { Vouchers = [new("CLAY-5", Math.Min(5, o.Total))] });
        spoil.Each("two orders under one number", 2, (o, other) => o with { Number = other.Number });
        spoil.Each("order by one of two customers with the same email", 2, o => o with { Email = shared });
        spoil.Each("formula in a comment", 2, o => o with { Comment = "=HYPERLINK(\"http://elsewhere.example\",\"a,b\")\nsecond line" });
        spoil.Each(
            "address in a right-to-left script",
            2,
            o => o with { BillTo = o.BillTo! with { Name = "נועה כהן", Street = "רחוב הקרמיקה 12" } }
        );
        spoil.Each("refund of a line", 3, o => o with { Refunds = [Refund(o, o.Lines[0])] });
        spoil.Each("refund of an unknown line", 2, o => o with { Refunds = [Refund(o, o.Lines[0] with { Id = "99" })] });
        // Each store hands out the oldest first, so these are the first ones.
        troubles.Add(new("order older than the cut-off", "web-shop", [.. orders.Take(4).Select(o => o.Id)]));
        return orders;
    }

    // A morning at the counter: a sale every few minutes, most of them in cash.
    private static List<StoreOrder> Sales(int count, List<Offer> offers, Dice dice)
    {
        var sales = new List<StoreOrder>(count);
        for (var n = 1; n <= count && offers.Count > 0; n++)
        {
            var at = Catalogue.Day.Date.AddHours(9).AddMinutes(7 * n);
            var sale = new StoreOrder
            {
                Id = TillSales.Receipt(n),
                Number = TillSales.Receipt(n),
                PlacedAt = new DateTimeOffset(at, TimeSpan.Zero),
                ChangedAt = new DateTimeOffset(at, TimeSpan.Zero),
                State = "closed",
                PaymentState = "paid",
                Method = dice.Chance(40) ? "card" : "cash",
                Register = dice.Chance(30) ? "2" : "1",
                Lines = Lines(offers, dice),
            };
            sales.Add(Reckoning.Added(sale, gross: true));
        }

        return sales;
    }

    private static List<StoreOrder> TillTroubles(List<StoreOrder> sales, List<Trouble> troubles)
    {
        var spoil = new Spoiler(sales, "quay-street-till", troubles);
        spoil.Each("sale not yet closed", 2, s => s with { State = "open", PaymentState = "pending" });
        spoil.Each("refund at the till", 2, s => s with { Refunds = [Refund(s, s.Lines[0])] });
        spoil.Each("exchange at the till", 2, s => s with { State = "exchange" });
        return sales;
    }

    private static GivenBack Refund(StoreOrder order, OrderedLine line) =>
        new(
            $"R{order.Id}",
            order.PlacedAt.AddDays(2),
            [new ReturnedLine(line.Id, 1)],
            0,
            // A share of the line, cut the way a store does it.
            Math.Round((line.Price * line.Quantity - line.Discount) / line.Quantity, 2, MidpointRounding.AwayFromZero),
            true
        );

    private static List<StoreOrder> PortalTroubles(List<StoreOrder> orders, List<Trouble> troubles)
    {
        var spoil = new Spoiler(orders, "trade-portal", troubles);
        spoil.Each(
            "order with an unknown SKU",
            2,
            o => o with { Lines = [o.Lines[0] with { Sku = $"LM.OLD-{o.Id}" }, .. o.Lines.Skip(1)] }
        );
        spoil.Each("order by somebody without a name", 2, o => o with { BillTo = null, ShipTo = null, Email = "", Account = "" });
        return orders;
    }

    private static List<StoreOrder> MarketTroubles(List<StoreOrder> orders, List<Trouble> troubles)
    {
        var spoil = new Spoiler(orders, "clay-lane", troubles);
        spoil.Each(
            "unpaid order without an address",
            3,
            o => o with { State = "unpaid", PaymentState = "pending", BillTo = null, ShipTo = null, Email = "", Phone = "" }
        );
        spoil.Each("cancelled order", 2, o => o with { State = "cancelled" });
        troubles.Add(new("the same order delivered twice", "clay-lane", [.. orders.TakeLast(2).Select(o => o.Id)]));
        return orders;
    }

    /// <summary>Puts troubles into orders that have none yet, from the newest back.</summary>
    private sealed class Spoiler(List<StoreOrder> orders, string system, List<Trouble> troubles)
    {
        private int _next = 5;

        public void Each(string trouble, int count, Func<StoreOrder, StoreOrder> spoil) => Each(trouble, count, (o, _) => spoil(o));

        public void Each(string trouble, int count, Func<StoreOrder, StoreOrder, StoreOrder> spoil)
        {
            var spoiled = new List<string>();
            for (; spoiled.Count < count && _next < orders.Count; _next += 3)
            {
                var place = orders.Count - 1 - _next;
                if (place < 1)
                    break;
                orders[place] = spoil(orders[place], orders[place - 1]);
                spoiled.Add(orders[place].Id);
            }

            troubles.Add(new(trouble, system, spoiled));
        }
    }
}
