using System.Globalization;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Tests;

/// <summary>
/// Prices for groups of customers, sale windows, shares over stores, exposure: what needs more than one record or one moment.
/// </summary>
public sealed class StockAndPriceStateTests
{
    [Fact]
    public async Task Each_group_of_customers_gets_the_prices_of_its_own_list()
    {
        await using var bench = await Workbench.OpenAsync();
        var couple = await PairedAsync(bench, "trade-portal");
        var rule = new PriceRule
        {
            PriceList = "Studio",
            Groups = [new GroupPriceList("schools", "School"), new GroupPriceList("counter", "Counter")],
        };
        await bench.SetRuleAsync("prices-trade-portal", new PriceDocument(rule));
        var run = await bench.RunAsync("prices-trade-portal", preview: false);
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        await bench.ShouldBeConfirmedAsync(run.Id, w => w.State != WriteState.Held);

        var links = await bench.LinksAsync(couple);
        var listings = bench.Sandbox.Portal.Find([.. links.Select(l => l.OtherKey)], found => found.ToDictionary(l => l.Id));
        var compared = 0;
        foreach (var link in links)
        {
            var (article, listing) = (bench.Sandbox.Office.Find(link.HubKey)!, listings[link.OtherKey]);
            if (article.School is not > 0 || article.Studio is not > 0 || !listing.GroupPrices.TryGetValue("schools", out var schools))
                continue;
            schools.ShouldBe(decimal.Round(article.School.Value, 2, MidpointRounding.AwayFromZero), article.Number);
            compared++;
        }

        compared.ShouldBeGreaterThan(20);
        (await bench.WritesAsync((await bench.RunAsync("prices-trade-portal", preview: true)).Id))
            .Where(w => w.State == WriteState.Planned)
            .ShouldBeEmpty();
    }

    [Fact]
    public async Task A_group_that_the_target_does_not_know_is_refused_before_it_is_saved()
    {
        await using var bench = await Workbench.OpenAsync();
        var trial = await bench.Trial.TryAsync(
            Workbench.Prices,
            new PriceDocument(Workbench.PlainPrice with { Groups = [new GroupPriceList("schools", "School")] }),
            null,
            null,
            default
        );
        trial.Value.Faults.Single().Message.ShouldContain("keeps no prices for groups of customers");
    }

    [Fact]
    public void The_window_of_a_sale_goes_with_its_price_and_leaves_with_it()
    {
        FieldDescription Described(string name, FieldType type, FieldRole role, string? list = null) =>
            new(name, name, type, role, list, Writable: true);
        var source = new FieldSet([
            Described("studio", FieldType.Money, FieldRole.Price, "Studio"),
            Described("promo", FieldType.Money, FieldRole.SalePrice, "Studio"),
            Described("from", FieldType.Instant, FieldRole.SaleFrom, "Studio"),
            Described("to", FieldType.Instant, FieldRole.SaleTo, "Studio"),
        ]);
        var target = new FieldSet([
            Described("price", FieldType.Money, FieldRole.Price),
            Described("sale", FieldType.Money, FieldRole.SalePrice),
            Described("saleFrom", FieldType.Instant, FieldRole.SaleFrom),
            Described("saleTo", FieldType.Instant, FieldRole.SaleTo),
        ]);
        var rule = new PriceRule { PriceList = "Studio", Sale = SaleMode.Carry };
        var sides = new LaneSides
        {
            SourceName = "Hub",
            TargetName = "Store",
            Source = source,
            Target = target,
        };
        var here = new SideRecord(
            "1",
            new Dictionary<string, string>
            {
                ["studio"] = "10",
                ["promo"] = "8",
                ["from"] = "2026-11-01T00:00:00Z",
                ["to"] = "2026-12-01T00:00:00Z",
            },
            []
        );
        Dictionary<string, string?> At(string instant, Dictionary<string, string> there) =>
            new PriceComputation(rule, sides, DateTimeOffset.Parse(instant, CultureInfo.InvariantCulture))
                .Compute(new LanePair(here, new SideRecord("t", there, []), "A", "A"))
                .Fields.ToDictionary(f => f.Field.Name, f => f.New);

        At("2026-11-15T00:00:00Z", new() { ["price"] = "10" })
            .ShouldBe(
                new Dictionary<string, string?>
                {
                    ["price"] = "10",
                    ["sale"] = "8",
                    ["saleFrom"] = "2026-11-01T00:00:00Z",
                    ["saleTo"] = "2026-12-01T00:00:00Z",
                }
            );
        // Half open: the first instant after the sale has no sale price, and its window goes too.
        At("2026-12-01T00:00:00Z", new() { ["price"] = "10", ["sale"] = "8" })
            .ShouldBe(
                new Dictionary<string, string?>
                {
                    ["price"] = "10",
                    ["sale"] = null,
                    ["saleFrom"] = null,
                    ["saleTo"] = null,
                }
            );
    }

    [Fact]
    public async Task Shares_above_a_hundred_percent_of_the_same_stock_are_warned_about()
    {
        await using var bench = await Workbench.OpenAsync();
        await PairedAsync(bench, "clay-lane");
        async Task<IReadOnlyList<string>> WarningsAsync(StockRule rule) =>
            [
                .. (await bench.Trial.TryAsync(Workbench.Stock, new StockDocument(rule), null, null, default))
                    .Value.Faults.Where(f => f.Path == "share")
                    .Select(f => f.Message),
            ];

        // Nobody divides anything yet.
        (await WarningsAsync(new StockRule())).ShouldBeEmpty();
        (await WarningsAsync(new StockRule { Share = 60 }))
            .Single()
            .ShouldStartWith("Together the stores are given 160 % of the same stock: Lanternmoor Web Shop 60 %, Clay Lane Market 100 %.");
        await bench.SetRuleAsync("stock-clay-lane", new StockDocument(new StockRule { Share = 40 }));
        (await WarningsAsync(new StockRule { Share = 60 })).ShouldBeEmpty();
        (await WarningsAsync(new StockRule { Share = 61 })).ShouldHaveSingleItem();
        // From other shelves, each may have all of it.
        await bench.SetRuleAsync("stock-clay-lane", new StockDocument(new StockRule { Locations = ["Overflow"] }));
        (await WarningsAsync(new StockRule { Share = 61, Locations = ["Kilnyard"] })).ShouldBeEmpty();
    }

    [Fact]
    public async Task The_list_of_exposed_items_says_the_same_as_each_item_does()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        foreach (var store in new[] { "trade-portal", "clay-lane" })
            await PairedAsync(bench, store);
        await bench.Reader.ReadSystemAsync("web-shop", full: true, default);
        var exposed = await new Exposures(bench.Database, bench.Adapters).AllAsync(default);
        exposed.Count.ShouldBeGreaterThan(20);
        exposed.Select(e => e.Exposure).ShouldBeInOrder(SortDirection.Descending);
        var overview = new ItemOverview(bench.Database, bench.Adapters);
        foreach (var item in exposed.Take(40))
        {
            var view = (await overview.OfAsync(item.Key, default))!;
            (view.Available, view.Promised, view.Exposure).ShouldBe((item.Available, item.Promised, item.Exposure), item.Sku);
            item.Offers.Sum(o => o.Promised).ShouldBe(item.Promised);
        }

        // Once the shop offers nothing of it, it is promised less.
        var worst = exposed.First(e => e.Offers.Any(o => o.SystemId == "web-shop"));
        await using var db = bench.Database.CreateDbContext();
        var listing = await db.Links.FirstAsync(l =>
            l.HubKey == worst.Key && db.Couples.Any(c => c.Id == l.CoupleId && c.OtherId == "web-shop")
        );
        var before = await db.Records.Where(r => r.SystemId == "web-shop" && r.Key == listing.OtherKey).Select(r => r.Values).SingleAsync();
        var values = JsonNode.Parse(before)!.AsObject();
        values["quantity"] = "0";
        await db
            .Records.Where(r => r.SystemId == "web-shop" && r.Key == listing.OtherKey)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.Values, values.ToJsonString()));
        var after =
            (await new Exposures(bench.Database, bench.Adapters).AllAsync(default)).FirstOrDefault(e => e.Key == worst.Key)?.Promised ?? 0;
        after.ShouldBe(worst.Promised - worst.Offers.First(o => o.SystemId == "web-shop").Promised);
    }

    private static async Task<long> PairedAsync(Workbench bench, string store)
    {
        var couple = await bench.AddStoreAsync(store);
        (
            await bench.Decisions.DecideAllAsync(
                couple.Id,
                DecisionAct.Accept,
                null,
                all => all.Where(p => p.Verdict == Core.Pairing.Verdict.Certain),
                null,
                "Tester",
                default
            )
        ).Fault.ShouldBeNull();
        (await bench.Decisions.CommitAsync(couple.Id, null, "Tester", null, default)).Fault.ShouldBeNull();
        return couple.Id;
    }
}
