using System.Globalization;
using System.Text.Json.Nodes;
using Narbit.Unknown;

namespace Narbit.Web.Tests;

/// <summary>
/// From an empty folder to values that arrive, with two systems that nobody has described: a ledger that is known by its contract, and a
/// market that is asked in GraphQL. No JSON is typed.
/// </summary>
public sealed class OwnSystemsStoryTests
{
    private const string List =
        "query ($first: Int, $skip: Int) { wares(first: $first, skip: $skip) { total nodes { id title offers { id code gtin } } } }";

    private const string Some = "query ($ids: [ID!]) { wares(ids: $ids) { nodes { id title offers { id code gtin priceCents } } } }";

    private const string Change = "mutation ($offer: OfferInput!) { saveOffer(offer: $offer) { id } }";

    [Fact]
    public async Task Two_unknown_systems_are_connected_and_kept_in_step()
    {
        await using var ledger = new HarbourLedger();
        await ledger.StartAsync();
        await using var market = new TideMarket();
        await market.StartAsync();
        await using var narbit = await RunningNarbit.StartEmptyAsync("narbit.lanternmoor.example", loopback: true);
        using var browser = new Browser(narbit.Address);
        browser.Open("/");
        browser.Fill("Name", "Marsh Pottery Supply");
        browser.Fill("Your name", "Una M.");
        browser.Click("Set it up");
        browser.See("What comes next");

        Ledger(browser, ledger);
        Market(browser, market);
        await OfficeAsync(narbit, browser);
        foreach (var system in new[] { "harbour-ledger", "tide-market" })
            (await narbit.SendAsync(HttpMethod.Post, $"/api/systems/{system}/read", new { full = true })).EnsureSuccessStatusCode();
        browser.Open("/systems");
        browser.See("57 records");
        browser.See("114 records");
        browser.See($"{market.Stall.Sum(w => w["offers"]!.AsArray().Count)} records");

        await PricesAsync(narbit, browser, market);
        await StockAsync(narbit, browser, ledger, market);
        await ItemsAsync(narbit, browser, ledger, market);
        await ChangedAsync(narbit, browser);
        browser.Errors().ShouldBeEmpty();
    }

    private static void Ledger(Browser browser, HarbourLedger ledger)
    {
        browser.Click("Add a system", "main");
        browser.See("A system of your own");
        browser.Fill("Where it stands", $"{ledger.Address}/ledger/openapi.json");
        browser.Click("Fetch it");
        browser.See("Found: items, stock levels.");
        browser.Fill("Client", HarbourLedger.Client);
        browser.Fill("Secret", HarbourLedger.Secret);
        browser.Click("Read some", "section[aria-label='List of items']");
        browser.See("25 items read, and there are more. All as described.");
        browser.See("H1001 · H1002", "table[aria-label='Fields of items']");
        browser.Axe().ShouldBeEmpty("a system that is being described");

        // A write is shown, tried on one record, and put back.
        browser.Fill("Try a write on", "H1003");
        browser.Press(OpenQA.Selenium.Keys.Escape);
        browser.Choose("Field", "Net price");
        browser.Fill("New value", "99.5");
        browser.Click("Show what is sent");
        browser.See("It holds “11.05”. Sent is PUT v2/articles/H1003 {\"netPrice\":99.5}");
        browser.Click("Write it, and put it back");
        browser.See("“11.05” was put back, and read back.");

        // The other view of the same, both ways.
        browser.Click("As text");
        browser.Value("Description").ShouldContain("\"scheme\": \"clientCredentials\"");
        browser.Click("Form");
        browser.Value("Name").ShouldBe("Harbour Ledger");

        browser.Choose("Kind", "ERP");
        browser.Click("Test all of it");
        browser.See("items: 25 read, all as described. stock levels: 25 read, all as described.");
        browser.Click("Narbit may write to it");
        browser.Click("Add it");
        browser.Until(() => browser.Address == "/systems", "the systems");
        browser.See("ERP, the hub");
    }

    // Lines at a path of their own, pages that the path names, what changed last first, and changes that are made later.
    private static async Task OfficeAsync(RunningNarbit narbit, Browser browser)
    {
        await using var office = new SlipwayOffice();
        await office.StartAsync();
        browser.Open("/systems/new");
        browser.Click("Begin anew");
        browser.Fill("Address", $"{office.Address}/office/");
        browser.Click("Call a list");
        browser.Fill("List: path", "jobs?page=1");
        browser.Click("Call it");
        browser.See("With “page” other records come: pages are numbered");
        browser.Choose("What it lists", "orders");
        browser.Click("what changed last can come first");
        browser.Fill("an entry changed at", "touched");
        browser.Fill("that order is asked by", "order");
        browser.Fill("which says", "-touched");
        browser.Click("Add a list within each record");
        browser.Click("lines have a path of their own");
        browser.Click("Propose from what it answers");
        browser.See("6 entries of 5 records looked at.");
        browser.Value("Code: where it stands").ShouldBe("code");
        browser.Click("Records can be changed");
        browser.Click("only as it was read (If-Match)");
        browser.Click("it is only begun, and done later (202)");
        browser.Axe().ShouldBeEmpty("a list within records");
        browser.Fill("Name", "Slipway Office");
        browser.Click("Test all of it");
        browser.See("orders: 5 read, all as described.");
        browser.Click("Add it");
        browser.Until(() => browser.Address == "/systems", "the systems");
        (await narbit.SendAsync(HttpMethod.Post, "/api/systems/slipway-office/read", new { full = true })).EnsureSuccessStatusCode();
        browser.See("23 records");
        browser.Open("/systems/slipway-office?row=J3");
        browser.See("J3-2");
    }

    private static void Market(Browser browser, TideMarket market)
    {
        browser.Click("Add a system", "main");
        browser.Fill("Address", market.Address);
        browser.Choose("Signs callers in by", "a key in the address");
        browser.Fill("Parameter", "access");
        browser.Fill("Key or token", "wrong");
        browser.Click("Call a list");
        browser.Choose("List: how", "a GraphQL query");
        browser.Fill("List: path", "graphql");
        browser.Fill("List: query", List);
        browser.Click("Call it");
        browser.See("refused the credentials (403)");
        browser.Errors().ShouldHaveSingleItem().ShouldContain("propose/list");
        browser.Fill("Key or token", TideMarket.Key);
        browser.Click("Call it");
        browser.See("23 records of items looked at");
        browser.See("What is sold stands in “offers” of each entry");
        browser.See("an amount in cents, by its name");

        browser.Fill("A reply has failed if it has", "errors");
        browser.Fill("A refusal keeps its words at", "errors.0.message");
        browser.Click("Records are read by key");
        browser.Choose("One record: how", "a GraphQL query");
        browser.Fill("One record: path", "graphql");
        browser.Fill("One record: query", Some);
        browser.Fill("keys are asked by", "variables.ids");
        browser.Click("the reply itself");
        browser.Click("Records can be changed");
        browser.Choose("A change: how", "a GraphQL query");
        browser.Fill("A change: path", "graphql");
        browser.Fill("A change: query", Change);
        browser.Fill("the body keeps the record at", "variables.offer");
        browser.Fill("the record’s key in it", "id");
        foreach (var field in new[] { "Price cents", "Available", "Gtin" })
            browser.Fill($"{field}: written as", field == "Price cents" ? "priceCents" : field.ToLowerInvariant());

        browser.Fill("Name", "Tide Market");
        browser.Value("Short name").ShouldBe("tide-market");
        browser.Click("Test all of it");
        browser.See("all as described.");
        browser.Click("Narbit may write to it");
        browser.Click("Add it");
        browser.Until(() => browser.Address == "/systems", "the systems");
        browser.See("Tide Market");
    }

    private static async Task PricesAsync(RunningNarbit narbit, Browser browser, TideMarket market)
    {
        Make(browser, "Prices");
        browser.Until(() => browser.Address.StartsWith("/lanes/prices-harbour-ledger-tide-market/", StringComparison.Ordinal), "the lane");

        // Pairs by SKU and barcode, seen, accepted and put into force.
        browser.Open("/lanes/prices-harbour-ledger-tide-market/pairs");
        browser.Click("Go to the pair desk");
        browser.See("Press “Read and pair anew” to see what belongs together.");
        browser.Click("Read and pair anew");
        browser.Until(() => browser.Text(".page").Contains("certain 31", StringComparison.Ordinal), "31 certain pairs");
        browser.Open("/pair-desk/1?show=certain");
        browser.See("Accept all 31 certain");
        browser.Press("A");
        browser.See("65 → 34");
        browser.Press("v");
        browser.See("31 decisions waiting");
        browser.Click("Commit 31");
        await narbit.UntilAsync(async () => (await narbit.GetAsync("/api/couples"))[0]!["counts"]!["paired"]!.GetValue<int>() >= 31);

        browser.Open("/lanes/prices-harbour-ledger-tide-market/rule");
        browser.Until(
            () => browser.Text("main").Contains("of 31 records would change", StringComparison.Ordinal),
            "the rule on real records"
        );
        browser.Click("gross there");
        browser.Fill("What for", "the ledger's net price, gross here");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        browser.Click("Preview", "section[aria-label='Save']");
        var prices = await SentAsync(narbit, browser, "prices-harbour-ledger-tide-market");
        prices.Count.ShouldBeGreaterThan(10);
        foreach (var write in prices)
        {
            var cents = market.Offer(write["targetKey"]!.GetValue<string>())["priceCents"]!.GetValue<decimal>();
            (cents / 100).ShouldBe(decimal.Parse(write["new"]!.GetValue<string>(), CultureInfo.InvariantCulture));
        }
    }

    private static async Task StockAsync(RunningNarbit narbit, Browser browser, HarbourLedger ledger, TideMarket market)
    {
        Make(browser, "Stock levels");
        browser.Until(() => browser.Address.StartsWith("/lanes/stock-harbour-ledger-tide-market/", StringComparison.Ordinal), "the lane");
        browser.Open("/lanes/stock-harbour-ledger-tide-market/preview");
        browser.Click("Preview anew");
        var levels = await SentAsync(narbit, browser, "stock-harbour-ledger-tide-market");
        levels.Count.ShouldBeGreaterThan(10);
        foreach (var write in levels)
            market.Offer(write["targetKey"]!.GetValue<string>())["available"]!
                .GetValue<decimal>()
                .ShouldBe(decimal.Parse(write["new"]!.GetValue<string>(), CultureInfo.InvariantCulture));
        ledger.Levels.Count.ShouldBe(114);
    }

    private static async Task ItemsAsync(RunningNarbit narbit, Browser browser, HarbourLedger ledger, TideMarket market)
    {
        Make(browser, "Items");
        browser.Until(() => browser.Address.StartsWith("/lanes/items-harbour-ledger-tide-market/map", StringComparison.Ordinal), "its map");
        browser.See("suggested:");
        browser.Click("Accept all");
        browser.Fill("What for", "from suggestions");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        browser.Click("Preview", "section[aria-label='Save']");
        var items = await SentAsync(narbit, browser, "items-harbour-ledger-tide-market");
        items.Count.ShouldBeGreaterThan(3);
        foreach (var write in items)
        {
            var article = ledger.Articles.Single(a => a["articleNo"]!.ToString() == write["sourceKey"]!.GetValue<string>());
            market.Offer(write["targetKey"]!.GetValue<string>())["gtin"]!.ToString().ShouldBe(article["ean"]!.ToString());
        }
    }

    // A description is changed where it was made; the secret does not follow tokens to another place.
    private static async Task ChangedAsync(RunningNarbit narbit, Browser browser)
    {
        browser.Open("/systems/tide-market");
        browser.Click("How it works");
        browser.See("How Tide Market works");
        browser.See("Every record that is kept is read as before", "section[aria-label='What it would do']");
        browser.Fill("Price cents: times", "0.1");
        browser.See("items would be read otherwise", "section[aria-label='What it would do']");
        browser.Axe().ShouldBeEmpty("what a description would do");
        browser.Fill("Price cents: times", "0.01");
        browser.Fill("Available: called", "For sale");
        browser.See("Every record that is kept is read as before", "section[aria-label='What it would do']");
        browser.Click("Save it");
        browser.Until(() => browser.Address.Contains("tab=fields", StringComparison.Ordinal), "its fields");
        browser.See("For sale");
        browser.Click("Versions");
        browser.See("in force");
        browser.Axe().ShouldBeEmpty("versions of a description");
        browser.Click("Look at version 1");
        browser.Until(() => browser.Value("Available: called") == "Available", "the description as it was");
        browser.Click("Save it");
        browser.Open("/systems/tide-market?tab=versions");
        browser.See("version 3");

        var ledger = (await narbit.GetAsync("/api/systems")).AsArray().Single(s => s!["id"]!.GetValue<string>() == "harbour-ledger")!;
        var document = JsonNode.Parse(await narbit.Http.GetStringAsync("/api/systems/harbour-ledger/document"))!;
        document["authentication"]!["token"] = "http://elsewhere.example/token";
        var moved = await narbit.SendAsync(
            HttpMethod.Put,
            "/api/systems/harbour-ledger",
            new
            {
                revision = ledger["revision"]!.GetValue<int>(),
                address = ledger["address"]!.GetValue<string>(),
                mayRead = true,
                mayWrite = true,
                document = document.ToJsonString(),
            }
        );
        (await moved.Content.ReadAsStringAsync()).ShouldContain("http://elsewhere.example/token. Enter its credentials anew");
    }

    private static void Make(Browser browser, string what)
    {
        browser.Open("/lanes");
        browser.Click("New lane");
        browser.Choose("What flows", what);
        browser.Choose("From", "Harbour Ledger (hub)");
        browser.Choose("To", "Tide Market");
        browser.Click("Make the lane");
    }

    // Sends the change set in front, past the guards where they ask, and waits until it has arrived.
    private static async Task<List<JsonNode>> SentAsync(RunningNarbit narbit, Browser browser, string lane)
    {
        browser.Until(
            () => browser.Address.Contains($"{lane}/preview", StringComparison.Ordinal) && browser.Count(".table-row") > 3,
            "the change set"
        );
        if (browser.Text("main").Contains("The guards would stop this", StringComparison.Ordinal))
            browser.Click("Send all", "section[aria-label='Guards']");
        else
            browser.Click("Send", ".tools");
        browser.See("to Tide Market?");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        var run = long.Parse(browser.Address.Split('/', '?')[2], CultureInfo.InvariantCulture);
        (await narbit.EndedAsync(run))["state"]!.GetValue<string>().ShouldBe("done");
        var writes = (await narbit.GetAsync($"/api/runs/{run}/writes?limit=500"))["rows"]!.AsArray();
        writes.Where(w => w!["state"]!.GetValue<string>() != "confirmed").Select(w => w!.ToJsonString()).ShouldBeEmpty();
        return [.. writes.Select(w => w!)];
    }
}
