using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Lanes.Stock;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Demo;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>Orders of stores with other habits: net prices and accounts, purchases that are paid later, receipts in a file.</summary>
public sealed class OtherStoresTests
{
    [Fact]
    public async Task A_market_s_purchases_wait_for_their_payment_and_their_address()
    {
        await using var bench = await Workbench.OpenAsync();
        var rule = Rule(take: ["paid"], wait: ["unpaid"]) with
        {
            Methods = Words("market", "transfer"),
            ShippingMethods = Words("home", "MP"),
        };
        var lane = await LaneAsync(bench, "clay-lane", new OrderPolicy(rule) { Back = new WayBack { Acknowledged = "in hand" } });
        var market = bench.Sandbox.Orders.Market;
        await DoneAsync(bench, lane);
        var unpaid = market.All.First(o => o.PaymentState == "pending");
        (await StandingAsync(bench, unpaid.Id)).Causes.ShouldContain(c => c.Code == "payment");
        bench.Sandbox.Orders.Book.Documents.Count(d => d.ExternalNumber == unpaid.Number).ShouldBe(0);

        market.Change(unpaid.Id, Counters.Paid);
        await DoneAsync(bench, lane);
        var document = bench.Sandbox.Orders.Book.Documents.Single(d => d.ExternalNumber == unpaid.Number);
        document.Lines.Sum(l => l.Gross).ShouldBe(unpaid.Total);
        var told = market.Find([unpaid.Id]).Single();
        (told.State, told.HubNumber).ShouldBe(("in hand", document.Number));
    }

    [Fact]
    public async Task A_portal_s_requisitions_are_net_by_account_and_bring_the_buyer_s_own_number()
    {
        await using var bench = await Workbench.OpenAsync();
        var rule = Rule(take: ["placed"], wait: []) with
        {
            Methods = Words("account", "account"),
            ShippingMethods = new Dictionary<string, string> { ["carrier"] = "MP", ["pallet"] = "MX" },
        };
        var map = new FieldMap
        {
            Fields =
            [
                new FieldMapping { Target = "theirNumber", Source = new MapSource(["theirOrderNo"]) },
                new FieldMapping { Target = "salesPerson", Source = new MapSource(Constant: "trade desk") },
                new FieldMapping
                {
                    Target = "location",
                    Source = new MapSource(["terms"]),
                    Steps = [new MapStep("crosswalk", new Dictionary<string, string> { ["table"] = "places" })],
                },
            ],
            Crosswalks = [new Crosswalk { Name = "places", Entries = [new CrosswalkEntry("account", "Kilnyard")] }],
        };
        var policy = new OrderPolicy(rule) { Map = map, Titles = LineTitles.AsHere };
        var lane = await LaneAsync(bench, "trade-portal", policy);
        await DoneAsync(bench, lane);
        var (book, portal) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders.Portal);
        book.Documents.Count.ShouldBeGreaterThan(20);
        var orders = portal.All.ToDictionary(o => o.Number, StringComparer.Ordinal);
        foreach (var document in book.Documents)
        {
            var order = orders[document.ExternalNumber];
            document.Lines.Sum(l => l.Gross).ShouldBe(order.Total);
            (document.TheirNumber, document.SalesPerson, document.Location).ShouldBe((order.TheirNumber, "trade desk", "Kilnyard"));
            if (order.Account.Length > 0)
                document.Customer.ShouldBe(order.Account);
        }

        // Lines are called what the hub calls its items.
        var line = book.Documents[0].Lines.First(l => l.Kind == "goods");
        line.Text.ShouldBe(bench.Sandbox.Office.Find(line.Article)!.Name);

        // What cannot be mapped holds its order alone.
        var held = new FieldMap { Fields = map.Fields, Crosswalks = [map.Crosswalks[0] with { Entries = [] }] };
        await bench.SetRuleAsync(lane, policy with { Map = held });
        var sold = orders[book.Documents[0].ExternalNumber];
        portal.Place(n => sold with { Id = $"P-{n}", Number = $"TP{n}", HubNumber = "" });
        await DoneAsync(bench, lane);
        var standing = await StandingAsync(bench, portal.All[^1].Id);
        (standing.Stage, standing.Causes.Single().Code).ShouldBe((OrderStage.Held, "furtherField"), standing.Words);
        var unposted = portal.All[^1].Number;
        book.Documents.ShouldNotContain(d => d.ExternalNumber == unposted);
    }

    [Fact]
    public async Task Addresses_are_added_to_a_customer_and_never_written_over()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await DoneAsync(bench, lane);
        var (book, shop) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders.Shop);
        var buyer = book.Documents.CountBy(d => d.Customer).MaxBy(c => c.Value);
        buyer.Value.ShouldBeGreaterThan(1);
        var streets = shop
            .All.Where(o => book.Documents.Any(d => d.Number == o.HubNumber && d.Customer == buyer.Key))
            .Select(o => (o.ShipTo ?? o.BillTo)!.Street)
            .Distinct()
            .ToList();
        var customer = book.Customers.Single(c => c.Number == buyer.Key);
        customer.Addresses.Select(a => a.Street).ShouldBe(streets, ignoreOrder: true);
        var postcode = customer.Postcode;

        // Another one is added once, and nothing else of the customer changes.
        shop.Place(n =>
            shop.All.First(o => o.Email == customer.Email) with
            {
                Id = $"{39_000 + n}",
                Number = $"W{39_000 + n}",
                State = "processing",
                HubNumber = "",
                Refunds = [],
                ShipTo = new PostAddress("Side door", "", "77 Slip Row", "Kilnhaven", "LM01 X1K", "IE"),
            }
        );
        await DoneAsync(bench, lane);
        await DoneAsync(bench, lane);
        var after = book.Customers.Single(c => c.Number == buyer.Key);
        after.Addresses.Count.ShouldBe(streets.Count + 1);
        (after.Addresses[^1].Street, after.Postcode).ShouldBe(("77 Slip Row", postcode));
    }

    [Fact]
    public async Task A_till_s_receipts_come_from_the_day_s_file_with_what_was_brought_back()
    {
        await using var bench = await Workbench.OpenAsync();
        var rule = Rule(take: ["closed", "exchange"], wait: ["open"]) with
        {
            Methods = new Dictionary<string, string> { ["cash"] = "cash", ["card"] = "card" },
            NoAddress = AddressChoice.Take,
            Customer = new CustomerRule { Missing = MissingCustomer.Use, Use = SalesBook.Counter },
            Document = "sale",
            Documents = [new DocumentChoice { State = "exchange", As = "exchange" }],
        };
        var map = new FieldMap { Fields = [new FieldMapping { Target = "register", Source = new MapSource(["register"]) }] };
        var lane = await LaneAsync(bench, "quay-street-till", new OrderPolicy(rule) { Map = map });
        var (book, till) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders.Till);
        await DoneAsync(bench, lane);

        var sales = till.All.ToDictionary(s => s.Number, StringComparer.Ordinal);
        book.Documents.Count.ShouldBeGreaterThan(10);
        foreach (var document in book.Documents)
        {
            var sale = sales[document.ExternalNumber];
            (document.Kind, document.Customer, document.Register).ShouldBe(
                (sale.State == "exchange" ? "exchange" : "sale", SalesBook.Counter, sale.Register)
            );
            document.Lines.Sum(l => l.Gross).ShouldBe(sale.Total);
        }

        book.Documents.ShouldContain(d => d.Kind == "exchange");
        var brought = till.All.Where(s => s.Refunds.Count > 0).ToList();
        brought.Count.ShouldBeGreaterThanOrEqualTo(2);
        book.Credits.Sum(c => c.Lines.Sum(l => l.Gross)).ShouldBe(brought.Sum(s => s.Refunds.Sum(r => r.Total)));

        // One that was left open is taken once it is closed, on another day, and yesterday's are not gone.
        var open = till.All.First(s => s.State == "open");
        (await StandingAsync(bench, open.Id)).Stage.ShouldBe(OrderStage.Waiting);
        till.Change(open.Id, Narbit.Sandbox.Till.TillSales.Closed);
        await SettledAsync(bench);
        await DoneAsync(bench, lane);
        book.Documents.ShouldContain(d => d.ExternalNumber == open.Number);
        await using var db = bench.Database.CreateDbContext();
        (await db.Records.CountAsync(r => r.SystemId == "quay-street-till" && r.Kind == RecordKind.Order && r.GoneAt == null)).ShouldBe(
            till.All.Count
        );
    }

    [Fact]
    public async Task The_market_s_purchases_are_sent_from_the_web_shop_with_the_market_s_number()
    {
        await using var bench = await Workbench.OpenAsync();
        (await bench.Reader.ReadSystemAsync("web-shop", full: true, default)).Fault.ShouldBeNull();
        var rule = Rule(take: ["paid"], wait: ["unpaid"]) with
        {
            Methods = Words("market", "invoice"),
            ShippingMethods = Words("home", "standard"),
            Discounts = DiscountChoice.Spread,
            Tax = new OrderTax { Target = OrderTaxTarget.Gross },
        };
        var policy = new OrderPolicy(rule)
        {
            Delivery = DeliveryCost.Zero,
            Back = new WayBack { Acknowledged = "in hand" },
        };
        var lane = await LaneAsync(bench, "clay-lane", policy, "web-shop");
        var (shop, market) = (bench.Sandbox.Orders.Shop, bench.Sandbox.Orders.Market);
        var before = shop.All.Count;
        var run = await DoneAsync(bench, lane);
        var moved = shop.All.Skip(before).ToList();
        moved.Count.ShouldBeGreaterThan(5);
        foreach (var order in moved)
        {
            var bought = market.All.Single(o => o.Number == order.External);
            (bought.State, bought.HubNumber).ShouldBe(("in hand", order.Number), await bench.SaidAsync(run));
            order.Shipping.Sum(s => s.Amount).ShouldBe(0);
            order.Total.ShouldBe(bought.Total - bought.Shipping.Sum(s => s.Amount));
            order.Lines.Select(l => l.Quantity).ShouldBe(bought.Lines.Select(l => l.Quantity));
            order.Comment.ShouldBe(bought.Comment);
            (order.ShipTo ?? order.BillTo)!.Street.ShouldBe((bought.ShipTo ?? bought.BillTo)!.Street);
            order.Lines.ShouldAllBe(l => bench.Shop.VariantOf(l.Sku) != null);
        }

        // What the shop knows by no SKU cannot be named to it; the order waits, and says which item it is.
        (await bench.WritesAsync(run.Id)).ShouldNotContain(w => w.State == WriteState.Failed);
        (await bench.SaidAsync(run)).ShouldContain("knows its goods by their SKUs, and its item");

        // What the shop sends shows in the market; and nothing goes twice.
        shop.Change(moved[0].Id, o => o with { Parcels = [new Parcel("1", DateTimeOffset.UtcNow, "Moor Post", "MP-77")] }).ShouldBeNull();
        await DoneAsync(bench, lane);
        market.All.Single(o => o.Number == moved[0].External).Parcels.Single().Tracking.ShouldBe("MP-77");
        shop.All.Count.ShouldBe(before + moved.Count);
    }

    [Fact]
    public async Task What_is_given_off_and_charged_goes_along_to_another_store_or_the_order_waits_for_a_person()
    {
        await using var bench = await Workbench.OpenAsync(orders: 0);
        await using var elsewhere = await Workbench.OpenAsync(orders: 0);
        (await bench.Reader.ReadSystemAsync("web-shop", full: true, default)).Fault.ShouldBeNull();
        var rule = Rule(take: ["processing"], wait: []) with
        {
            Methods = Words("card", "invoice"),
            OtherShipping = "standard",
            Tax = new OrderTax { Target = OrderTaxTarget.Gross, DefaultRate = 23 },
        };
        var (drawer, shop) = (elsewhere.Sandbox.Orders.Shop, bench.Sandbox.Orders.Shop);
        var sku = bench.Sandbox.Office.Search("", 50).First(a => bench.Shop.VariantOf(a.Sku) is not null).Sku;
        StoreOrder Bought(int n) =>
            Reckoning.Added(
                new StoreOrder
                {
                    Id = $"{51_000 + n}",
                    Number = $"S{51_000 + n}",
                    PlacedAt = Catalogue.Day,
                    State = "processing",
                    PaymentState = "paid",
                    Method = "card",
                    Email = "una.slip@lanternmoor.example",
                    ShipTo = new PostAddress("Una Slip", "", "4 Quarry Rise", "Port Ember", "LM02 B1D", "IE"),
                    Lines = [new OrderedLine("1", sku, "As it was sold", 2, 10, 0, 23)],
                    Shipping = [new Sending("standard", 4.90m)],
                    Discounts = [new OnTop("Spring", 3)],
                    Fees = [new OnTop("Gift wrap", 2)],
                },
                gross: true
            );
        var bought = drawer.Place(Bought);
        var second = elsewhere.System("web-shop", "narbit:shopfront-demo");
        second.Id = "second-shop";
        var lane = await LaneAsync(bench, second.Id, new OrderPolicy(rule), "web-shop", second);
        await DoneAsync(bench, lane);
        var sent = shop.All.ShouldHaveSingleItem();
        (sent.Total, sent.External).ShouldBe((bought.Total, bought.Number));
        (sent.Discounts.Single(), sent.Fees.Single()).ShouldBe((new OnTop("Spring", 3), new OnTop("Gift wrap", 2)));

        // A store that takes goods alone is not sent what it has no place for.
        await using (var db = bench.Database.CreateDbContext())
        {
            var system = await db.Systems.SingleAsync(s => s.Id == "web-shop");
            system.Revision++;
            system.Document = system.Document.Replace("\"writeAs\":\"discounts\",", "", StringComparison.Ordinal);
            await db.SaveChangesAsync();
        }

        drawer.Place(Bought);
        await DoneAsync(bench, lane);
        shop.All.Count.ShouldBe(1);
        var held = await StandingAsync(bench, drawer.All[^1].Id);
        (held.Stage, held.Causes.Single().Code).ShouldBe((OrderStage.Held, "noPlace"), held.Words);
        held.Words!.ShouldContain("spread discounts over the goods");
        await bench.SetRuleAsync(lane, new OrderPolicy(rule with { Discounts = DiscountChoice.Spread }));
        await DoneAsync(bench, lane);
        shop.All[^1].Total.ShouldBe(bought.Total);
    }

    [Fact]
    public async Task Sales_that_the_hub_does_not_know_of_count_as_promised_where_the_stock_rule_says_so()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        OrderStanding waiting;
        await using (var db = bench.Database.CreateDbContext())
            waiting = await db.OrderStandings.Include(o => o.Goods).FirstAsync(o => o.Stage == OrderStage.Waiting && o.Goods.Count > 0);
        var item = waiting.Goods[0].Item;

        async Task<decimal> QuantityAsync(bool counts)
        {
            await bench.SetRuleAsync(Workbench.Stock, new StockDocument(new StockRule()) { CountsOpenSales = counts });
            var run = await bench.RunAsync(Workbench.Stock, preview: true);
            var write = (await bench.WritesAsync(run.Id)).FirstOrDefault(w => w.SourceKey == item);
            await using var db = bench.Database.CreateDbContext();
            return write is not null
                ? decimal.Parse(write.Fields[0].New!, null)
                : bench.Variant((await db.Links.FirstAsync(l => l.HubKey == item)).OtherKey).Quantity;
        }

        var plain = await QuantityAsync(counts: false);
        await using (var db = bench.Database.CreateDbContext())
        {
            var open = db.OrderStandings.Where(o => o.HubKey == null);
            var promised = await open.SelectMany(o => o.Goods).Where(g => g.Item == item).SumAsync(g => g.Pieces);
            promised.ShouldBeGreaterThan(0);
            (await QuantityAsync(counts: true)).ShouldBe(Math.Max(0, plain - promised));
        }
    }

    [Fact]
    public async Task Goods_are_promised_whatever_signs_the_hubs_key_of_them_has()
    {
        const string Key = "10 001×2";
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var unknown = await db.StandingCauses.FirstAsync(c => c.Code == "unknownItem" && c.Subject != null);
        var like = await db.Records.AsNoTracking().FirstAsync(r => r.SystemId == "back-office" && r.Kind == RecordKind.Item);
        (like.Id, like.Key) = (0, Key);
        db.Records.Add(like);
        await db.SaveChangesAsync();

        var desk = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        var choice = new OrderChoice(OrderChoiceKind.Item, unknown.Subject, Key);
        (await desk.DecideAsync(lane, null, choice, "Tester", default)).Value.ShouldBeGreaterThan(0);
        var goods = await db.OrderGoods.Where(g => g.Item == Key).ToListAsync();
        goods.ShouldContain(g => g.StandingId == unknown.StandingId);
        goods.ShouldAllBe(g => g.Pieces > 0);
    }

    [Fact]
    public async Task A_thousand_orders_of_three_stores_come_at_once_with_every_dial_on_and_each_is_there_once()
    {
        await using var bench = await Workbench.OpenAsync(orders: 1_000);
        var shop = await OrderLaneTests.LaneAsync(bench);
        var market = await LaneAsync(
            bench,
            "clay-lane",
            new OrderPolicy(
                Rule(take: ["paid"], wait: ["unpaid"]) with
                {
                    Methods = Words("market", "transfer"),
                    ShippingMethods = Words("home", "MP"),
                }
            )
        );
        var portal = await LaneAsync(
            bench,
            "trade-portal",
            new OrderPolicy(Rule(take: ["placed"], wait: []) with { Methods = Words("account", "account"), OtherShipping = "MP" })
        );
        var shares = new FaultShares(0.03, 0.03, 0.01, 0.03, 0.1, 0.03, RetryAfter: 0);
        foreach (var dial in bench.Sandbox.Dials.Values)
            dial.Shares = shares;
        for (var n = 0; n < 2; n++)
            await Task.WhenAll(new[] { shop, market, portal }.Select(lane => bench.RunAsync(lane, preview: false)));
        foreach (var dial in bench.Sandbox.Dials.Values)
            dial.Shares = new FaultShares();
        foreach (var lane in new[] { shop, market, portal })
            await DoneAsync(bench, lane);

        var (book, drawers) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders);
        var orders = drawers.Shop.All.Concat(drawers.Market.All).Concat(drawers.Portal.All).ToLookup(o => o.Number);
        book.Documents.Count.ShouldBeGreaterThan(500);
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Documents.ShouldAllBe(d => orders[d.ExternalNumber].First().Total == d.Lines.Sum(l => l.Gross));
        book.Credits.Select(c => c.ExternalNumber).ShouldBeUnique();
        // Two stores know the same buyer, who is one customer.
        book.Customers.Where(c => int.Parse(c.Number, null) >= 40_190).Select(c => c.Email.ToUpperInvariant()).ShouldBeUnique();
        await using var db = bench.Database.CreateDbContext();
        (await db.Counterparts.CountAsync(c => c.Kind == RecordKind.Order)).ShouldBe(book.Documents.Count);
        (await db.OrderStandings.CountAsync(o => o.Stage == OrderStage.New)).ShouldBe(0);
    }

    // A file counts once it was left alone for a moment.
    private static async Task SettledAsync(Workbench bench)
    {
        var folder = new DirectoryInfo(Path.Combine(bench.Sandbox.TillFolders.Folder, "out"));
        while (DateTime.UtcNow - folder.GetFiles("sales_*.csv").Max(f => f.LastWriteTimeUtc) < TimeSpan.FromSeconds(0.1))
            await Task.Yield();
    }

    internal static OrderRule Rule(string[] take, string[] wait) =>
        new()
        {
            CutOff = Catalogue.Day.AddDays(-59),
            States = take.Select(s => (s, OrderOutcome.Take))
                .Concat(wait.Select(s => (s, OrderOutcome.Wait)))
                .ToDictionary(s => s.s, s => s.Item2, StringComparer.Ordinal),
        };

    internal static Dictionary<string, string> Words(string there, string here) => new() { [there] = here };

    internal static async Task<string> LaneAsync(
        Workbench bench,
        string store,
        OrderPolicy policy,
        string hub = "back-office",
        Data.Systems.ConnectedSystem? described = null
    )
    {
        var couple = await bench.AddStoreAsync(store, described);
        await using (var db = bench.Database.CreateDbContext())
            await db.Couples.Where(c => c.Id == couple.Id).ExecuteUpdateAsync(s => s.SetProperty(c => c.AcceptsCertain, true));
        (await bench.Desk.PairAsync(couple.Id, read: false, default)).Fault.ShouldBeNull();
        var maker = new LaneMaker(bench.Database, bench.Adapters, TimeProvider.System);
        var lane = await maker.MakeAsync("order", store, hub, "Tester", default);
        lane.Fault.ShouldBeNull();
        await bench.SetRuleAsync(lane.Value, policy);
        return lane.Value;
    }

    private static async Task<Run> DoneAsync(Workbench bench, string lane)
    {
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, await bench.SaidAsync(run));
        return run;
    }

    private static async Task<OrderStanding> StandingAsync(Workbench bench, string key)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.OrderStandings.FirstAsync(o => o.SourceKey == key);
    }
}
