using System.Globalization;
using System.Text.Json.Nodes;

namespace Narbit.Web.Tests;

/// <summary>A person makes lanes from a store to the hub: prices by a rule, items by a map; and sees both arrive there.</summary>
public sealed class NewLaneStoryTests
{
    private const string Shop = "Lanternmoor Web Shop";
    private const string Office = "Lanternmoor Back Office (hub)";

    [Fact]
    public async Task Prices_and_items_flow_from_a_store_to_the_hub()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        using var browser = new Browser(narbit.Address);

        // Prices: what the shop asks becomes the back office's counter price.
        Make(browser, "Prices");
        browser.Until(() => browser.Address.StartsWith("/lanes/prices-web-shop-back-office/rule", StringComparison.Ordinal), "its rule");
        browser.See("On real records");
        browser.Choose("Price list there", "Counter");
        browser.Click("gross here");
        browser.Click("net there");
        browser.Fill("What for", "the shop sets the counter's price");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        browser.Click("Preview", "section[aria-label='Save']");
        var prices = await SentAsync(narbit, browser, "prices-web-shop-back-office");
        prices.Count.ShouldBeGreaterThan(100);
        foreach (var write in prices.Take(20))
        {
            var article = narbit.Sandbox.Office.Find(write["targetKey"]!.GetValue<string>())!;
            article.Counter.ShouldBe(decimal.Parse(write["new"]!.GetValue<string>(), CultureInfo.InvariantCulture));
            var cents = narbit.Sandbox.Shop.Lookup([Key(write, "sourceKey")], found => found.Single().Variant.PriceCents);
            (cents / 100m).ShouldBeGreaterThanOrEqualTo(article.Counter!.Value);
        }

        // It is called as its people call it, wherever it is met.
        browser.Open("/lanes/prices-web-shop-back-office/scope");
        browser.Fill("Called", "Counter prices");
        browser.Press(OpenQA.Selenium.Keys.Enter);
        browser.See("The lane has its name.");
        browser.Open("/runs");
        browser.See("Counter prices");

        // Another like it, to a place of its own: with the same rule and guards, by hand.
        browser.Open("/lanes/prices-web-shop/scope");
        browser.Click("Make another like it");
        browser.See("A lane like “Prices to Lanternmoor Web Shop”");
        browser.Choose("From", Shop);
        browser.Choose("To", "Studio Trade Portal");
        browser.Click("Make the lane");
        browser.Until(() => browser.Address.StartsWith("/lanes/prices-web-shop-trade-portal/rule", StringComparison.Ordinal), "its rule");
        var like = (await narbit.GetAsync("/api/lanes/prices-web-shop/rule/versions"))[0]!;
        var copy = (await narbit.GetAsync("/api/lanes/prices-web-shop-trade-portal/rule/versions")).AsArray().ShouldHaveSingleItem()!;
        copy["document"]!.ToJsonString().ShouldBe(like["document"]!.ToJsonString());
        copy["guards"]!.ToJsonString().ShouldBe(like["guards"]!.ToJsonString());
        copy["note"]!.GetValue<string>().ShouldContain("web-shop had it in version");

        // Items: what is changed in the shop is changed in the back office.
        Make(browser, "Items");
        browser.Until(() => browser.Address.StartsWith("/lanes/items-web-shop-back-office/map", StringComparison.Ordinal), "its map");
        browser.See("suggested:");
        browser.Click("Accept all");
        browser.Fill("What for", "from suggestions");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        browser.Click("Preview", "section[aria-label='Save']");
        var items = await SentAsync(narbit, browser, "items-web-shop-back-office");
        items.Count.ShouldBeGreaterThan(20);
        foreach (var write in items.Where(w => w["field"]!.GetValue<string>() == "title").Take(20))
            narbit.Sandbox.Office.Find(write["targetKey"]!.GetValue<string>())!.Name.ShouldBe(write["new"]!.GetValue<string>());

        // Today has a place for either way, and a lane that is there is not made twice.
        browser.Open("/");
        browser.See("Needs a decision");
        browser.Open("/lanes?tab=new&kind=price&store=back-office");
        browser.Choose("From", Shop);
        browser.Click("Make the lane");
        browser.See("flow from Lanternmoor Web Shop to Lanternmoor Back Office already");

        LaneTakenOutAndBack(browser);
        SystemTakenOutAndBack(browser);
        browser.Errors().ShouldBeEmpty();
    }

    private static void LaneTakenOutAndBack(Browser browser)
    {
        browser.Open("/lanes/prices-web-shop-back-office/scope");
        browser.Click("Remove it");
        browser.Until(() => browser.Address == "/lanes", "the lanes");
        browser.See("Counter prices", "section[aria-label='Removed lanes']");
        browser.Click("What it did");
        browser.See("Counter prices", "main");
        browser.Open("/lanes");
        browser.Click("Bring back");
        browser.See("Counter prices", "section[aria-label='Lanternmoor Web Shop']");
    }

    private static void SystemTakenOutAndBack(Browser browser)
    {
        browser.Open("/systems/trade-portal?tab=connection");
        browser.Click("Pause it");
        browser.See("neither read nor written until it is resumed");
        browser.See("paused", ".page-head");
        browser.Click("Resume it");
        browser.See("as its lanes need it");
        browser.Click("Remove it");
        browser.See("lanes will stop with it:");
        browser.See("Its credentials are forgotten now.");
        browser.Axe("color-contrast").ShouldBeEmpty();
        browser.Click("Remove it", ".mantine-Modal-content");
        browser.Until(() => browser.Address == "/systems", "the systems");
        browser.See("Studio Trade Portal", "section[aria-label='Removed systems']");
        browser.Open("/");
        browser.See("Needs a decision");
        browser.SeeNot("Studio Trade Portal", "main");
        browser.Open("/systems");
        browser.Click("Bring back");
        browser.See("Studio Trade Portal", "section[aria-label='Studio Trade Portal']");
    }

    private static void Make(Browser browser, string what)
    {
        browser.Open("/lanes");
        browser.Click("New lane");
        browser.See("sends nothing before you have seen a preview");
        browser.Choose("What flows", what);
        browser.Choose("From", Shop);
        browser.Choose("To", Office);
        browser.Click("Make the lane");
    }

    // Sends the change set in front, past the guards where they ask, and waits until it has arrived.
    private static async Task<List<JsonNode>> SentAsync(RunningNarbit narbit, Browser browser, string lane)
    {
        browser.Until(
            () => browser.Address.EndsWith($"{lane}/preview", StringComparison.Ordinal) && browser.Count(".table-row") > 3,
            "the change set"
        );
        if (browser.Text("main").Contains("The guards would stop this", StringComparison.Ordinal))
        {
            // What a guard names stays out where it names some of them; a share of all names nobody.
            if (browser.Text("section[aria-label='Guards']").Contains("Send the other", StringComparison.Ordinal))
            {
                browser.Click("Send the other", "section[aria-label='Guards']");
                browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
            }
            else
            {
                browser.Click("Send all", "section[aria-label='Guards']");
                browser.See("Against the guards:");
                browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
            }
        }
        else
        {
            browser.Click("Send", ".tools");
            browser.See("to Lanternmoor Back Office?");
            browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        }

        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        var run = long.Parse(browser.Address.Split('/', '?')[2], CultureInfo.InvariantCulture);
        (await narbit.EndedAsync(run))["state"]!.GetValue<string>().ShouldBe("done");
        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "the run to be done");
        var writes = (await narbit.GetAsync($"/api/runs/{run}/writes?show=confirmed&limit=500"))["rows"]!.AsArray();
        return [.. writes.Select(w => w!)];
    }

    private static long Key(JsonNode write, string which) => long.Parse(write[which]!.GetValue<string>(), CultureInfo.InvariantCulture);
}
