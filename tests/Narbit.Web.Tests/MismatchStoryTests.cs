using System.Globalization;
using System.Text.RegularExpressions;

namespace Narbit.Web.Tests;

/// <summary>A specialist's day at the desk, by keyboard: causes, records, ways out, and what becomes of them.</summary>
public sealed class MismatchStoryTests
{
    private const string Desk = "section[aria-label='The chosen mismatch']";

    [Fact]
    public async Task A_day_at_the_desk_goes_by_keyboard_and_everything_can_be_taken_back()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        await narbit.UntilMismatchAsync("cause=pair.likely", rows => rows.Count > 20);
        await narbit.UntilMismatchAsync("cause=order.unknownItem", rows => rows.Count > 2);
        using var browser = new Browser(narbit.Address);

        // Today says first what does harm, in words and money, and leads to exactly that.
        browser.Open("/");
        browser.See("can be sold more often than they are there, by", "section[aria-label='Does harm now']");
        browser.See("stand still, worth", "section[aria-label='Does harm now']");
        browser.ClickOn("section[aria-label='Does harm now'] a[href*='orderStuck']");
        browser.See("Only order stuck: show all");
        browser.SeeNot("Likely pairs");
        browser.Axe().ShouldBeEmpty();
        browser.ClickOn("[data-key='order.unknownItem']");

        await OrdersAsync(narbit, browser);
        await PairsAsync(narbit, browser);
        Kept(browser);
        browser.Errors().ShouldBeEmpty();
    }

    // What three SKUs are is decided at once, taken back, and decided again.
    private static async Task OrdersAsync(RunningNarbit narbit, Browser browser)
    {
        browser.Fill("SKU, number or name", "OLD-30");
        browser.Until(() => browser.Count("[role=rowgroup] [role=row]") == 3, "the three orders");
        browser.Script("document.activeElement.blur()");
        browser.See("very likely right: the title is the same", Desk);
        browser.See("It holds for what comes later too", Desk);
        browser.Axe().ShouldBeEmpty();
        TakeAll(browser);
        browser.See("decided; the next run takes the orders.");
        await narbit.UntilMismatchAsync("cause=order.unknownItem&search=OLD-30", rows => rows.Count == 0);
        browser.Press("u");
        browser.See("as before.");
        await narbit.UntilMismatchAsync("cause=order.unknownItem&search=OLD-30", rows => rows.Count == 3);

        // Decided again, it stands under what was learned, from where it is taken back too.
        browser.Open("/mismatches?cause=order.unknownItem&search=OLD-30215");
        browser.See("very likely right", Desk);
        browser.Press("a");
        browser.See("1 decided; the next run takes the orders.");
        browser.Open("/mismatches?tab=learned");
        browser.See("OLD-30215 is the hub's item");
        browser.See("has not acted since");
        browser.Axe().ShouldBeEmpty();
        browser.Click("Take back");
        browser.See("taken back by Ines O.");
    }

    // Those that would get the same are shown first, and each of them is in the list.
    private static int TakeAll(Browser browser)
    {
        browser.See("The same for", Desk);
        browser.Press("A");
        browser.See("These would get the same");
        browser.See("Do it for all", Desk);
        var count = int.Parse(Regex.Match(browser.Text(Desk), @"Do it for all (\d+)").Groups[1].Value, CultureInfo.InvariantCulture);
        browser.Until(() => browser.Count("[role=rowgroup] [role=row]") >= Math.Min(count, 5), "those that are meant");
        browser.Press("A");
        return count;
    }

    // One pair by itself, the rest of its store with it; then the next cause.
    private static async Task PairsAsync(RunningNarbit narbit, Browser browser)
    {
        var before = await CountAsync(narbit, "pair.likely");
        browser.Open("/mismatches?cause=pair.likely&store=trade-portal");
        browser.See("Pair with", Desk);
        browser.Press("a");
        browser.See("1 paired.");
        (await CountAsync(narbit, "pair.likely")).ShouldBe(before - 1);
        var next = (await narbit.GetAsync("/api/mismatches?cause=pair.likely&system=trade-portal&limit=1"))["rows"]![0]!;
        var alike = (await narbit.GetAsync($"/api/mismatches/{next["id"]}"))["alike"]!.GetValue<int>();
        // The next one takes the place of the one that went.
        browser.See(next["suggestion"]!["words"]!.GetValue<string>(), Desk);
        browser.See($"The same for the other {alike}", Desk);
        TakeAll(browser).ShouldBe(alike + 1);
        browser.See($"{alike + 1} paired.");
        (await narbit.UntilMismatchAsync("cause=pair.likely&state=settled", rows => rows.Count > 10))[0]!["settledBy"]!
            .GetValue<string>()
            .ShouldBe("Ines O.");
    }

    // Put off, given, remarked, settled; each in its history and under its filter.
    private static void Kept(Browser browser)
    {
        browser.Open("/mismatches?cause=ready.skuTwice");
        browser.See("SKU used twice");
        browser.See("is used by", Desk);
        browser.Press("n");
        browser.Fill("What is to be known of it", "Both are sold in the shop");
        browser.Click("Keep");
        browser.See("Ines O. remarked: Both are sold in the shop", Desk);
        browser.Click("Give to");
        browser.See("nobody", ".mantine-Menu-dropdown");
        browser.Axe().ShouldBeEmpty();
        browser.Click("Ines O.", ".mantine-Menu-dropdown");
        browser.See("Ines O. gave it to: Ines O.", Desk);
        browser.Press("d");
        browser.See("1 mismatch put off.");
        browser.Open("/mismatches?show=putOff");
        browser.See("SKU used twice");
        browser.Open("/mismatches?cause=ready.skuTwice");
        browser.See("is used by", Desk);
        var first = browser.Text(Desk);
        browser.Press("j");
        browser.Until(() => browser.Text(Desk) is { Length: > 0 } text && text != first, "the next record");
        browser.Press("e");
        browser.Fill("Why, for whoever meets it again", "It is as it should be");
        browser.Click("Settled", ".mantine-Modal-content");
        browser.See("1 mismatch settled.");
        browser.Open("/mismatches?cause=ready.skuTwice&show=settled");
        browser.See("Ines O. settled it", Desk);
        browser.Press("?");
        browser.See("Keys of the mismatch desk");
        browser.Press(OpenQA.Selenium.Keys.Escape);

        // Somebody else sits down: said at the top of every page.
        browser.ClickOn("button.person");
        browser.See("Ines O. is at the screen", ".mantine-Menu-dropdown");
        browser.Axe().ShouldBeEmpty();
    }

    private static async Task<int> CountAsync(RunningNarbit narbit, string cause) =>
        (await narbit.GetAsync($"/api/mismatches?cause={cause}&limit=1"))["total"]!.GetValue<int>();
}
