using System.Globalization;
using System.Text.Json.Nodes;
using Narbit.Sandbox.Orders;

namespace Narbit.Web.Tests;

/// <summary>
/// A person makes a job for the market, orders and then stock everywhere; buys there and watches the shop; and does with the job what
/// people do with jobs, with a kill in the middle.
/// </summary>
public sealed class JobStoryTests
{
    private const string Market = "clay-lane";
    private const string Job = "/timetable/market";

    [Fact]
    public async Task A_purchase_at_the_market_lowers_the_shops_number_and_the_job_is_held_in_hand()
    {
        await using var narbit = await RunningNarbit.StartAsync(asProcess: true);
        await PreparedAsync(narbit);
        using var browser = new Browser(narbit.Address);

        // Orders first and stock after them, in whatever order they are added.
        browser.Open("/timetable");
        browser.See("Nothing runs by itself yet");
        browser.Click("Make the first job");
        browser.Fill("Name", "Market");
        browser.Choose("Add a lane", "Stock levels: Lanternmoor Back Office → Lanternmoor Web Shop");
        browser.Choose("Add a lane", "Orders: Clay Lane Market → Lanternmoor Back Office");
        browser.See("Orders", "section:first-of-type");
        browser.See("It runs every 5 minutes, all day (Europe/Dublin), and at once when something happens.");
        browser.See("Expected requests an hour");
        browser.See("In 60 days this would have oversold");
        browser.Axe().ShouldBeEmpty();
        browser.Click("Make the job");
        browser.See("Its lanes, in their order");
        Lanes(browser).ShouldBe(["Orders", "Stock levels"]);
        browser.See("The last 14 days");

        // Bought and paid at the market; the shop shows one less by itself.
        var (listing, variant) = await SoldInBothAsync(narbit);
        var before = narbit.Sandbox.Shop.Lookup([variant], found => found[0].Variant.Quantity);
        Counters.Market(narbit.Sandbox.Orders.Market).Sell(listing, 1, _ => "");
        narbit.Sandbox.Orders.Market.Change(narbit.Sandbox.Orders.Market.All[^1].Id, Counters.Paid);
        browser.Until(
            () => narbit.Sandbox.Shop.Lookup([variant], found => found[0].Variant.Quantity) == before - 1,
            "the shop's number to fall"
        );
        browser.Open(Job);
        browser.See("webhook", "section[aria-label='Turns']");

        InHand(browser);
        await KilledAsync(narbit, browser);
        Changed(browser);
        Copied(browser);
        browser.Errors().ShouldBeEmpty();
    }

    // Skipped once, paused until, run now, gone on.
    private static void InHand(Browser browser)
    {
        Menu(browser, "Leave out the next");
        browser.See("is left out.", ".mantine-Modal-content");
        browser.Click("Leave out the next", ".mantine-Modal-content");
        browser.See("after 1 time left out");
        Menu(browser, "Pause until …");
        browser.See("It is paused until", ".mantine-Modal-content");
        browser.Click("until further notice", ".mantine-Modal-content");
        browser.See("until somebody lets it go on", ".mantine-Modal-content");
        browser.See("No time to come by the clock.", ".mantine-Modal-content");
        browser.Click("Pause", ".mantine-Modal-content");
        browser.See("paused", ".page-head");
        browser.Click("Go on");
        browser.See("It goes on; nothing is left out.", ".mantine-Modal-content");
        browser.Click("Go on", ".mantine-Modal-content");
        browser.See("next", ".page-head");
        Menu(browser, "Keep at the top");
        browser.Click("Run now Market");
        browser.See("It runs now. The timetable stays as it is.", ".mantine-Modal-content");
        browser.Click("Run now", ".mantine-Modal-content");
    }

    // Killed while it is at work, it goes on where it was.
    private static async Task KilledAsync(RunningNarbit narbit, Browser browser)
    {
        browser.Errors().ShouldBeEmpty();
        await narbit.KillAsync();
        await narbit.BeginAsync();
        // Nobody answered meanwhile, which the page was told.
        _ = browser.Errors();
        await narbit.UntilAsync(async () => (await narbit.GetAsync("/api/timetable/turns?Outcome=working"))["total"]!.GetValue<int>() == 0);
        browser.Open("/timetable");
        browser.See("Market");
        browser.Until(() => browser.Count("svg[aria-label='The day of Market'] [role=link]") > 1, "what ran on the ribbon");
        browser.Axe().ShouldBeEmpty();
        // Yesterday had nothing, and the way back leads to now.
        browser.Click("Earlier");
        browser.Until(() => browser.Count("svg[aria-label='The day of Market'] [role=link]") == 0, "yesterday's ribbon");
        browser.Click("Back to now");
        browser.Click("Coming");
        browser.See("Europe/Dublin", "section[aria-label='Turns']");
    }

    // Another interval, with the advisor's answer in view; what is no time is said before it is kept.
    private static void Changed(Browser browser)
    {
        browser.Open($"{Job}?tab=change");
        browser.See("requests a day");
        browser.Fill("Minutes", "7");
        browser.See("A day has no whole number of 7 minutes");
        browser.Click("Take it: every hour");
        browser.See("It runs every hour, all day (Europe/Dublin).");
        browser.Click("Keep it so");
        browser.See("Its lanes, in their order");
        browser.See("It runs every hour, all day (Europe/Dublin).");
        browser.Open("/timetable");
        browser.Click("Days off");
        browser.Fill("Days off", "Christmas");
        browser.Click("Keep", ".mantine-Modal-content");
        browser.See("“Christmas” is no date", ".mantine-Modal-content");
        browser.Fill("Days off", "2026-12-25 Christmas");
        browser.Click("Keep", ".mantine-Modal-content");
        browser.Until(() => browser.Count(".mantine-Modal-content") == 0, "the days to be kept");
    }

    private static void Copied(Browser browser)
    {
        browser.Open(Job);
        Menu(browser, "Copy to another store");
        browser.Choose("In place of", "Lanternmoor Web Shop");
        browser.Choose("For", "Studio Trade Portal");
        browser.Fill("Name of the copy", "Portal");
        browser.Click("Make the copy");
        browser.See("switched off", ".page-head");
        Lanes(browser).ShouldBe(["Stock levels"]);
        browser.Click("Remove the job");
        browser.See("its lanes run by hand");
        browser.Click("Bring it back");
        browser.See("Portal", "section[aria-label='Jobs']");
    }

    private static void Menu(Browser browser, string item)
    {
        browser.Click("… more of Market");
        browser.ClickOn($"[role=menuitem]:nth-of-type({Place(browser, item)})");
    }

    private static int Place(Browser browser, string item)
    {
        browser.Until(() => browser.Text("[role=menu]").Contains(item, StringComparison.Ordinal), item);
        return Array.IndexOf(browser.Text("[role=menu]").Split('\n'), item) + 1;
    }

    private static IReadOnlyList<string> Lanes(Browser browser) =>
        [.. browser.Text("section[aria-label='Lanes of the job'] a.strong").Split('\n')];

    // The market is paired, nothing is guarded, and its notices come here.
    private static async Task PreparedAsync(RunningNarbit narbit)
    {
        await narbit.PairAsync(Market);
        foreach (var lane in new[] { $"orders-{Market}", "stock-web-shop" })
        {
            var newest = (await narbit.GetAsync($"/api/lanes/{lane}/rule/versions"))[0]!;
            var saved = await narbit.SendAsync(
                HttpMethod.Put,
                $"/api/lanes/{lane}/rule",
                new
                {
                    baseNumber = newest["number"]!.GetValue<int>(),
                    document = newest["document"],
                    guards = RunningNarbit.Unguarded,
                }
            );
            saved.EnsureSuccessStatusCode();
            await narbit.EndedAsync(await narbit.StartRunAsync(lane, preview: false));
        }

        var secret = await narbit.SendAsync(HttpMethod.Post, $"/api/systems/{Market}/hook/secret", new { });
        var told = JsonNode.Parse(await secret.Content.ReadAsStringAsync())!["secret"]!.GetValue<string>();
        narbit.Sandbox.Notices.To = (new Uri(narbit.Address, $"/hooks/{Market}"), told);
    }

    // A listing of the market that can be bought, and the shop's variant of the same item.
    private static async Task<(Sandbox.Stores.Listing Listing, long Variant)> SoldInBothAsync(RunningNarbit narbit)
    {
        (Sandbox.Stores.Listing, long)? found = null;
        await narbit.StoredAsync(db =>
        {
            var links = db
                .Links.Where(l => !l.IsKit)
                .Join(
                    db.Couples,
                    l => l.CoupleId,
                    c => c.Id,
                    (l, c) =>
                        new
                        {
                            c.OtherId,
                            l.HubKey,
                            l.OtherKey,
                        }
                )
                .ToList();
            foreach (var item in links.GroupBy(l => l.HubKey).Where(g => g.Count(l => l.OtherId == "web-shop") == 1))
            {
                var variant = long.Parse(item.First(l => l.OtherId == "web-shop").OtherKey, CultureInfo.InvariantCulture);
                var shown = narbit.Sandbox.Shop.Lookup([variant], v => v.Count == 1 ? v[0].Variant.Quantity : 0);
                foreach (var link in item.Where(l => l.OtherId == Market))
                    if (
                        shown > 3
                        && narbit.Sandbox.Office.Find(item.Key)!.Stock.Values.Sum(s => s.OnHand - s.Allocated) == shown
                        && narbit.Sandbox.Market.Find([link.OtherKey], l => l.Count == 1 ? l[0] : null)
                            is { Quantity: > 3, Price: > 0, Sku.Length: > 6, Published: true } listing
                    )
                        found ??= (listing, variant);
            }

            return Task.CompletedTask;
        });
        return found!.Value;
    }
}
