using System.Globalization;
using OpenQA.Selenium;

namespace Narbit.Web.Tests;

/// <summary>The specialist's day, by mouse and keyboard, from the first look to the changed shop page.</summary>
public sealed class StoryTests
{
    [Fact]
    public async Task From_connecting_to_a_changed_shop_page()
    {
        await using var narbit = await RunningNarbit.StartAsync(swift: false);
        using var browser = new Browser(narbit.Address);

        // Today: two systems, two lanes, some records out of step.
        browser.Open("/");
        browser.See("Lanternmoor Ceramics Supply");
        browser.See("Prices");
        browser.See("Stock levels");
        browser.See(" compared ");
        browser.See("Needs a decision");
        browser.See("A preview waits to be sent");

        // Systems: both are tested and read.
        browser.Click("Systems", ".rail");
        foreach (var system in new[] { "Lanternmoor Back Office", "Lanternmoor Web Shop" })
        {
            browser.Click("Test", $"section[aria-label='{system}']");
            browser.See("answers", $"section[aria-label='{system}']");
            browser.See($"as “{system}”", $"section[aria-label='{system}']");
            browser.Click("Read everything", $"section[aria-label='{system}']");
            browser.See("read in full", $"section[aria-label='{system}']");
        }

        // The price lane: how many are paired, and which are not.
        browser.Click("Lanes", ".rail");
        browser.ClickOn("main a[href='/lanes/prices-web-shop']");
        browser.Click("Pairs", ".steps");
        browser.See("records are unpaired");
        browser.ClickOn(".table-row");
        browser.See("By the rule", ".side");

        // The rule: Studio list, +18 %, tax added, ending .99, with its effect on real items.
        browser.Click("Price rule", ".steps");
        browser.See("On real records");
        browser.Click("Add a band");
        browser.Fill("Band 1 factor", "8");
        browser.See("+700 %: 10.00 becomes 80.00");
        browser.See("For +8 %, type 1.08.");
        browser.Until(() => browser.Count("button[disabled]") > 0, "the save button to be disabled");
        browser.Fill("Band 1 change in percent", "18" + Keys.Enter);
        browser.See("+18 %: 10.00 becomes 11.80");
        browser.Click("like .99");
        browser.Fill("Endings", "0.99" + Keys.Enter);
        browser.Click("nearest");
        browser.Until(
            () => browser.Text("section[aria-label='What it would do'] tbody").Contains(".99", StringComparison.Ordinal),
            "the new ending in the effect"
        );
        browser.Fill("What for", "plus 18, ending .99");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        browser.Click("Preview", "section[aria-label='Save']");

        // The preview: old, new, difference, a trace for each; a part is left out; the rest is sent.
        browser.See("Send");
        browser.Until(
            () =>
                browser.Address.Contains("/preview", StringComparison.Ordinal)
                && browser.Text("main").Contains(".99", StringComparison.Ordinal),
            "the change set"
        );
        browser.Fill("SKU or name", "GLZ-CEL-500");
        browser.See("Celadon glaze, brush-on 500 ml");
        browser.Until(() => browser.Count(".table-row") == 1, "one row");
        browser.ClickOn(".table-row");
        browser.See("Why ", ".side");
        browser.See("× 1.18", ".side");
        browser.See("net → gross at 20 %", ".side");
        browser.See("Version 2.", ".side");
        browser.Fill("SKU or name", "GLZ-CEL-250");
        browser.See("Celadon glaze, brush-on 250 ml");
        browser.Until(() => browser.Count(".table-row") == 1, "one row");
        browser.ClickOn(".table-row input[type=checkbox]");
        var left = narbit.Sandbox.Shop.Search("GLZ-CEL-250", 1)[0].Variants.First(v => v.Sku == "GLZ-CEL-250");
        var leftPrice = left.PriceCents;
        browser.Click("Send", ".tools");
        browser.See("to Lanternmoor Web Shop?");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");

        // The run, live, to its end.
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        browser.See("Confirmed");
        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "the run to be done");
        browser.See("Not chosen 1");
        left.PriceCents.ShouldBe(leftPrice);

        // The shop's own page has the new price.
        var changed = narbit.Sandbox.Shop.Search("GLZ-CEL-500", 1)[0];
        var variant = changed.Variants.First(v => v.Sku == "GLZ-CEL-500");
        browser.Open(new Uri(narbit.Sandbox.Address, $"web-shop/p/{changed.Id}").ToString());
        browser.See($"€ {(variant.PriceCents / 100m).ToString("0.00", CultureInfo.InvariantCulture)}");
        (variant.PriceCents % 100).ShouldBe(99);

        // A quantity changes in the back office; the stock lane runs; the shop follows.
        browser.Open(new Uri(narbit.Sandbox.Address, "back-office/a/10002").ToString());
        browser.Fill("Kilnyard", "321");
        browser.Click("Save the article");
        browser.See("Saved.");
        browser.Open("/lanes/stock-web-shop/preview");
        browser.Click("Run now");
        browser.Click("Run and send now", ".mantine-Modal-content");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "the stock run to be done");
        var shelves = narbit.Sandbox.Office.Find("10002")!.Stock.Values;
        browser.Open(new Uri(narbit.Sandbox.Address, $"web-shop/p/{changed.Id}").ToString());
        browser.See($"{shelves.Sum(s => s.OnHand - s.Allocated)} in stock");

        // Every five minutes from now on.
        browser.Open("/lanes/stock-web-shop/timetable");
        browser.See("by hand only");
        browser.Click("Make a job for it");
        browser.See("It runs every 5 minutes, all day (Europe/Dublin), and at once when something happens.");
        browser.Click("Make the job");
        browser.See("Its lanes, in their order");
        browser.Open("/lanes/stock-web-shop/timetable");
        browser.See("It runs with the job");
        browser.See("next", ".page-head");

        // Next morning: what happened, also after a reload.
        browser.Click("Runs", ".rail");
        browser.See("would write");
        browser.Reload();
        browser.See("done");
        browser.ClickOn(".table-row");
        browser.See("Run ");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task Ten_thousand_rows_scroll_from_end_to_end()
    {
        await using var narbit = await RunningNarbit.StartAsync(items: 3_400);
        using var browser = new Browser(narbit.Address);
        browser.Open("/systems/back-office?kind=stockLevel");
        browser.See("10001@Kilnyard");
        browser.Script("const b = document.querySelector('.table-body'); b.scrollTop = b.scrollHeight");
        browser.See("13400@Overflow");
        browser.Count(".table-row").ShouldBeLessThan(80);
    }
}
