using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Narbit.Sandbox.Faults;

namespace Narbit.Web.Tests;

/// <summary>A person buys in the shop; another sees to it that the order reaches the back office and the shop hears of it.</summary>
public sealed class OrderStoryTests
{
    private const string Lane = "orders-web-shop";

    [Fact]
    public async Task Orders_come_are_resolved_posted_shipped_given_back_and_taken_back()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        using var browser = new Browser(narbit.Address);
        var (book, shop) = (narbit.Sandbox.Orders.Book, narbit.Sandbox.Orders.Shop);

        // Bought in the shop, on its own pages, by somebody whom the hub does not know.
        var (product, variant) = await SoldAsync(narbit);
        browser.Open(new Uri(narbit.Sandbox.Address, $"/web-shop/p/{product}").ToString());
        browser.ClickOn($"[data-variant='{variant}'] button[formaction]");
        foreach (
            var (label, text) in new[]
            {
                ("Name", "Ottoline Fernlea"),
                ("Email", "ottoline@fernlea.example"),
                ("Street", "4 Slip Row"),
                ("Town", "Port Ember"),
                ("Postcode", "LM3 A1BC"),
            }
        )
            browser.Fill(label, text);
        browser.Click("Place the order");
        browser.See("Thank you. Your order is W30221.");

        // With faults on the way it comes all the same.
        narbit.Sandbox.Dials["web-shop"].Shares = new FaultShares(0.05, 0.05, 0, 0.05, 0.05, 0);
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares(0.05, 0.05, 0, 0.05, 0.05, 0);
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: true));

        // One is held for a SKU that nobody knows; it is told which item it is.
        browser.Open("/orders?show=held&cause=unknownItem");
        browser.See("is not known at the hub");
        var unknown = shop.All.Last(o => o.Lines[0].Sku.StartsWith("OLD-", StringComparison.Ordinal));
        browser.Open($"/orders/{Lane}/{unknown.Id}");
        browser.See($"Held: {unknown.Lines[0].Sku} is not known at the hub");
        browser.Choose("Article of the hub", await ArticleAsync(narbit));
        browser.Click("This is the article");
        browser.See($"{unknown.Lines[0].Sku} is article");
        browser.Until(() => browser.Text(".page-head").Contains("new", StringComparison.Ordinal), "the order to be new");

        // One is a cent off; a line makes up for it.
        var off = (await narbit.GetAsync("/api/orders?stage=held&cause=totals"))["rows"]!
            .AsArray()
            .First(r => r!["words"]!.GetValue<string>().Contains("by 0.01", StringComparison.Ordinal))!;
        browser.Open($"/orders/{Lane}/{off["key"]}");
        browser.See("off by 0.01 EUR");
        browser.Click("Let a line make up for it");
        browser.See("adds up to the cent");
        browser.See("Difference");

        // Seen before it happens; then sent.
        var preview = await narbit.StartRunAsync(Lane, preview: true);
        await narbit.EndedAsync(preview);
        browser.Open($"/lanes/{Lane}/preview?search=W30221");
        browser.See("Ottoline Fernlea");
        browser.Open($"/lanes/{Lane}/preview");
        browser.See("would be");
        browser.Click("Send", ".tools");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        (await narbit.EndedAsync(preview))["state"]!.GetValue<string>().ShouldBe("done");
        var bought = shop.All.First(o => o.Number == "W30221");
        (bought.State, bought.HubNumber).ShouldBe(("accepted", book.Documents.First(d => d.ExternalNumber == "W30221").Number));
        book.Customers.Count(c => c.Email == "ottoline@fernlea.example").ShouldBe(1);
        book.Documents.Single(d => d.ExternalNumber == unknown.Number).Lines.Sum(l => l.Gross).ShouldBe(unknown.Total);

        // A part is sent, and the shop shows its tracking number; something is given back, and becomes a credit note.
        browser.Open(new Uri(narbit.Sandbox.Address, "/back-office/documents").ToString());
        var row = $"[data-document='{bought.HubNumber}']";
        browser.See("Ottoline Fernlea", row);
        browser.ClickOn($"{row} button[value='part']");
        browser.See("partShipped", row);
        shop.GiveBack(bought.Id, bought.Lines[0].Id, 1, gross: true).ShouldBeNull();
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: false));
        browser.Open(new Uri(narbit.Sandbox.Address, "/web-shop/orders").ToString());
        browser.See($"MP{bought.HubNumber}", $"[data-order='{bought.Id}']");
        browser.See("partly sent", $"[data-order='{bought.Id}']");
        browser.Open($"/orders/{Lane}/{bought.Id}");
        browser.See("credit note 9000");
        browser.See($"Moor Post MP{bought.HubNumber}");

        // Another posting is undone: the document is gone there, and the order is new again.
        var other = book.Documents.First(d => d.State == "open" && book.Credits.All(c => c.Document != d.Number));
        var undone = shop.All.First(o => o.HubNumber == other.Number);
        browser.Open($"/orders/{Lane}/{undone.Id}");
        browser.Click("Undo the posting");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run that takes it back");
        browser.See(undone.Number);
        browser.Click("Send", ".tools");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => book.Document(other.Number) is null, "the document to be gone");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task Counts_lead_to_as_many_orders_and_what_is_decided_is_taken_back()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: true));
        var all = await narbit.GetAsync("/api/orders?limit=1");
        foreach (var stage in all["stages"]!.AsArray())
        {
            var (name, count) = (stage!["stage"]!.GetValue<string>(), stage["count"]!.GetValue<int>());
            (await narbit.GetAsync($"/api/orders?stage={name}"))["total"]!.GetValue<int>().ShouldBe(count, name);
        }

        all["causes"]!.AsArray().Count.ShouldBeGreaterThan(6);
        foreach (var cause in all["causes"]!.AsArray())
            (await narbit.GetAsync($"/api/orders?cause={cause!["cause"]}"))["total"]!
                .GetValue<int>()
                .ShouldBeGreaterThanOrEqualTo(cause["count"]!.GetValue<int>());

        // Found by a number, a SKU, a mail address, an amount, and a day.
        var one = all["rows"]![0]!;
        var key = one["key"]!.GetValue<string>();
        var total = one["total"]!.GetValue<decimal>().ToString(CultureInfo.InvariantCulture);
        var order = narbit.Sandbox.Orders.Shop.Find([key]).Single();
        foreach (
            var filter in new[]
            {
                $"search={order.Number}",
                $"search={order.Lines[0].Sku}&least={total}&most={total}",
                $"search={Uri.EscapeDataString(order.Email)}&from={Uri.EscapeDataString(order.PlacedAt.ToString("O"))}",
            }
        )
            (await narbit.GetAsync($"/api/orders?{filter}"))["rows"]!
                .AsArray()
                .Select(r => r!["key"]!.GetValue<string>())
                .ShouldContain(key, filter);

        // A formula in a comment or a name is text in what is taken out.
        var csv = await narbit.Http.GetStringAsync("/api/orders.csv?stage=held");
        csv.Split('\n').Length.ShouldBeGreaterThan(10);

        var held = (await narbit.GetAsync("/api/orders?cause=paymentMethod"))["rows"]!.AsArray();
        held.Count.ShouldBeGreaterThanOrEqualTo(2);
        var first = held[0]!["key"]!.GetValue<string>();
        var path = $"/api/lanes/{Lane}/orders/{first}";
        await DecideAsync(narbit, path, "paymentMethod", "pigeon post", null, HttpStatusCode.UnprocessableEntity);
        await DecideAsync(narbit, path, "item", "OLD-1", "no such article", HttpStatusCode.UnprocessableEntity);
        await DecideAsync(narbit, path, "paymentMethod", "pigeon post", "transfer", HttpStatusCode.OK);
        (await narbit.GetAsync("/api/orders?cause=paymentMethod"))["total"]!.GetValue<int>().ShouldBe(0);
        var decisions = (await narbit.GetAsync(path))["decisions"]!.AsArray();
        var undo = $"/api/lanes/{Lane}/orders/decisions/{decisions.ShouldHaveSingleItem()!["id"]}";
        (await narbit.SendAsync(HttpMethod.Delete, undo)).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await narbit.GetAsync("/api/orders?cause=paymentMethod"))["total"]!.GetValue<int>().ShouldBe(held.Count);
        (await narbit.SendAsync(HttpMethod.Delete, undo)).StatusCode.ShouldNotBe(HttpStatusCode.OK);
        await DefaultItemAsync(narbit);
    }

    // What would be booked under the default item is given its own where it is listed.
    private static async Task DefaultItemAsync(RunningNarbit narbit)
    {
        var article = narbit.Sandbox.Office.Search("", 1)[0];
        var version = (await narbit.GetAsync($"/api/lanes/{Lane}/rule/versions"))[0]!;
        var rule = version["document"]!["rule"]!;
        (rule["unknownItem"], rule["useItem"]) = ("use", article.Number);
        var saved = new JsonObject
        {
            ["baseNumber"] = version["number"]!.DeepClone(),
            ["document"] = version["document"]!.DeepClone(),
            ["guards"] = version["guards"]!.DeepClone(),
        };
        (await narbit.SendAsync(HttpMethod.Put, $"/api/lanes/{Lane}/rule", saved)).StatusCode.ShouldBe(HttpStatusCode.OK);
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: true));
        var before = (await narbit.GetAsync("/api/orders?stage=defaultItem"))["total"]!.GetValue<int>();
        var uses = (await narbit.GetAsync("/api/orders/default-items")).AsArray();
        uses.Count.ShouldBeGreaterThan(1);
        var sku = uses.Select(u => u!["use"]!["sku"]!.GetValue<string>()).First(s => s.StartsWith("OLD-", StringComparison.Ordinal));

        using var browser = new Browser(narbit.Address);
        browser.Open("/orders?show=defaultItem");
        browser.See(sku);
        var field = $"Article of the hub for {sku}";
        browser.Choose(field, $"{article.Sku}, {article.Name}, {article.Number}");
        browser.Click($"This is it: {field}");
        browser.SeeNot(sku, "section[aria-label='What the default item stands in for']");
        (await narbit.GetAsync("/api/orders?stage=defaultItem"))["total"]!.GetValue<int>().ShouldBe(before - 1);
        browser.Errors().ShouldBeEmpty();
    }

    private static async Task DecideAsync(
        RunningNarbit narbit,
        string path,
        string kind,
        string subject,
        string? value,
        HttpStatusCode status
    )
    {
        var choice = new JsonObject
        {
            ["kind"] = kind,
            ["subject"] = subject,
            ["value"] = value,
        };
        var decide = new JsonObject { ["choice"] = choice, ["forAll"] = true };
        (await narbit.Http.PostAsJsonAsync($"{path}/decisions", decide)).StatusCode.ShouldBe(status);
    }

    // A listing of the shop that is linked with an article and can be bought.
    private static async Task<(long Product, long Variant)> SoldAsync(RunningNarbit narbit)
    {
        var sku = narbit.Sandbox.Orders.Shop.All[^1].Lines[0].Sku;
        var found = await narbit.GetAsync($"/api/systems/web-shop/records/item?search={Uri.EscapeDataString(sku)}");
        var variant = long.Parse(found["rows"]![0]!["key"]!.GetValue<string>(), CultureInfo.InvariantCulture);
        return (narbit.Sandbox.Shop.Lookup([variant], f => f.Single().Product.Id), variant);
    }

    // How an article of the hub is shown where one is picked.
    private static async Task<string> ArticleAsync(RunningNarbit narbit)
    {
        var row = (await narbit.GetAsync("/api/systems/back-office/records/item?limit=1"))["rows"]![0]!;
        return $"{row["reference"]}, {row["caption"]}, {row["key"]}";
    }
}
