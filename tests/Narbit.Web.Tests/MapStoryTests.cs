using System.Globalization;
using System.Text.Json.Nodes;
using Narbit.Sandbox.Faults;
using OpenQA.Selenium;

namespace Narbit.Web.Tests;

/// <summary>Maps made from suggestions, and a price that should not have gone out, taken back.</summary>
public sealed class MapStoryTests
{
    [Fact]
    public async Task Four_stores_receive_items_prices_and_stock_by_maps_made_from_suggestions()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        foreach (var store in new[] { "trade-portal", "clay-lane", "quay-street-till" })
            await PairAsync(narbit, store);
        foreach (var store in new[] { "web-shop", "trade-portal", "clay-lane" })
            narbit.Sandbox.Dials[store].Shares = new FaultShares
            {
                TooMany = 0.03,
                Error = 0.03,
                LostAfter = 0.02,
                Twice = 0.03,
                RetryAfter = 0,
            };
        using var browser = new Browser(narbit.Address);
        foreach (var store in new[] { "web-shop", "trade-portal", "clay-lane", "quay-street-till" })
        {
            browser.Open($"/lanes/items-{store}/map");
            browser.See("suggested:");
            browser.Click("Accept all");
            browser.Until(() => Tag(browser, "required mapped") is [var a, '/', var b, ..] && a == b, "every required field to be mapped");
            if (store == "web-shop")
            {
                // What cannot be mapped stands first, and its count leads to a record and the field in the way.
                browser.Until(
                    () => browser.Text(".map-row:first-of-type").StartsWith("Weight", StringComparison.Ordinal),
                    "the failing field first"
                );
                browser.ClickOn("section[aria-label='Save'] button.act");
                browser.See("Weight is required there, and would be empty", ".mantine-Modal-content");
                browser.Click("Look", ".mantine-Modal-content");
                browser.See("✕\nWeight is required there", "section[aria-label='Fields of the target']");
            }

            browser.Fill("What for", "from suggestions");
            browser.Click("Save version 2");
            browser.See("Saved as version 2.");
            browser.Click("Preview", "section[aria-label='Save']");
            browser.Until(
                () => browser.Address.EndsWith($"items-{store}/preview", StringComparison.Ordinal) && browser.Count(".table-row") > 3,
                "the change set"
            );
            // It is the first time, so most of them change; the guard says so, and a person sends them all the same.
            if (browser.Text("main").Contains("The guards would stop this", StringComparison.Ordinal))
            {
                browser.Click("Send all", "section[aria-label='Guards']");
                browser.See("against the guards?");
                browser.Click("Send all", ".mantine-Modal-content");
            }
            else
            {
                browser.Click("Send", ".tools");
                browser.See("Send to");
                browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
            }

            browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
            var sent = (await narbit.EndedAsync(long.Parse(browser.Address.Split('/', '?')[2], CultureInfo.InvariantCulture)))[
                "id"
            ]!.GetValue<long>();
            (await WritesAsync(narbit, sent, "failed")).Select(w => $"{w["sku"]}: {w["message"]}").ShouldBeEmpty(store);
            browser.Until(
                () => browser.Text(".page-head").Contains("done", StringComparison.Ordinal),
                $"the items to have reached {store}"
            );
            foreach (var kind in new[] { "prices", "stock" })
            {
                var run = await narbit.EndedAsync(await narbit.StartRunAsync($"{kind}-{store}", preview: true));
                if (run["writes"]!["planned"]!.GetValue<int>() == 0)
                    continue;
                (await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run["id"]}/send", new { all = true })).EnsureSuccessStatusCode();
                (await narbit.EndedAsync(run["id"]!.GetValue<long>()))["state"]!.GetValue<string>().ShouldBe("done");
            }
        }

        // Each store has now what the back office says, in its own way.
        var office = narbit.Sandbox.Office;
        foreach (var (sku, article) in new[] { ("GLZ-CEL-500", office.Find("10002")!) })
            narbit
                .Sandbox.Shop.Search(sku, 1)[0]
                .ShouldSatisfyAllConditions(
                    p => p.Title.ShouldBe("Celadon glaze, brush-on"),
                    p => p.BodyHtml.ShouldContain("from the Lanternmoor shelves"),
                    _ => article.Sku.ShouldBe(sku)
                );
        foreach (
            var (store, field, is_) in new (string, string, Func<JsonNode, string, bool>)[]
            {
                (
                    "trade-portal",
                    "title",
                    (hub, there) =>
                        there
                        == (
                            hub["option"]?.GetValue<string>() is { Length: > 0 } option
                                ? hub["title"]!.GetValue<string>()[..^option.Length].TrimEnd(' ', ',')
                                : hub["title"]!.GetValue<string>()
                        )
                ),
                ("clay-lane", "title", (hub, there) => hub["title"]!.GetValue<string>().StartsWith(there, StringComparison.Ordinal)),
                (
                    "quay-street-till",
                    "title",
                    (hub, there) =>
                        there.Length <= 24 && hub["title"]!.GetValue<string>().StartsWith(there, StringComparison.OrdinalIgnoreCase)
                ),
            }
        )
        {
            var rows = (await narbit.GetAsync($"/api/couples/{(await narbit.CoupleAsync(store))["id"]}/rows?show=paired&limit=30"))[
                "rows"
            ]!.AsArray();
            var (right, seen) = (0, 0);
            foreach (var row in rows.Take(20))
            {
                var hub = await narbit.GetAsync($"/api/systems/back-office/records/item/{row!["hubKey"]}");
                var there = await narbit.GetAsync($"/api/systems/{store}/records/item/{row["otherKey"]}");
                seen++;
                if (there["record"]!["values"]![field]?.GetValue<string>() is { } value && is_(hub["record"]!["values"]!, value))
                    right++;
            }

            ((double)right / seen).ShouldBeGreaterThan(0.9, store);
        }

        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task Typed_wrongly_warned_previewed_sent_in_part_regretted_and_rolled_back()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        using var browser = new Browser(narbit.Address);

        // 8 is typed where 108 % was meant: refused in words. Then 1.8 for +8 %: possible, so it is warned about.
        browser.Open("/lanes/prices-web-shop/rule");
        browser.See("On real items");
        browser.Click("Add a band");
        browser.Fill("Band 1 to", "12");
        browser.Fill("Band 1 factor", "8");
        browser.See("+700 %: 10.00 becomes 80.00");
        browser.See("For +8 %, type 1.08.");
        browser.Until(() => browser.Count("section[aria-label='Save'] button[disabled]") == 1, "the save button to be disabled");
        browser.Fill("Band 1 factor", "1.8");
        browser.See("If +8 % was meant, type 1.08.");
        browser.See("Guards would stop it: price move");
        browser.Click("Guards", ".steps");
        browser.See("stops: price move");
        browser.See("prices would move by more than 25 %");
        browser.Fill("What for", "eight percent for the cheap ones");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");

        // The run stops before its first write; the worst cases are named.
        browser.Click("Run now");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        browser.See("The guards stopped this run before its first write.");
        browser.See("Worst:");
        narbit.Sandbox.Shop.Applied.ShouldBeEmpty();
        var run = await narbit.GetAsync($"/api{browser.Address}");
        run["run"]!["stopped"]!.GetValue<bool>().ShouldBeTrue();
        browser.Click("Show the", "section[aria-label='Guards']");
        browser.Until(() => browser.Text(".table-row").Contains("guarded", StringComparison.Ordinal), "the guarded rows");

        // A part is sent: three of the guarded ones are left out, and everything else goes.
        browser.Until(() => browser.Count(".table-row input[type=checkbox]") > 5, "the choices");
        for (var i = 1; i <= 3; i++)
            browser.ClickOn($".table-row:nth-child({i}) input[type=checkbox]");
        browser.Click("Send", ".tools");
        browser.See("Send to Lanternmoor Web Shop?");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "the part to be sent");
        browser.See("Not chosen 3");
        var id = run["run"]!["id"]!.GetValue<long>();
        var sent = await WritesAsync(narbit, id, "confirmed");
        sent.Count.ShouldBeGreaterThan(100);

        // Meanwhile the shop's people put one of them right by hand.
        narbit.Sandbox.Shop.SetPrice(Key(sent[0]), 777);

        // Regretted: the opposite is planned, looked at, and sent.
        browser.Click("Roll back all", ".tools");
        browser.See($"Take run {id} back?");
        browser.Click("Plan the roll back", ".mantine-Modal-content");
        browser.Until(
            () => browser.Text(".page-head").Contains($"takes run {id} back", StringComparison.Ordinal),
            "the run that takes it back"
        );
        browser.Until(() => browser.Count(".table-row") > 5, "what would be taken back");
        browser.Click("Not computed");
        browser.See("was changed to 7.77 since run");
        browser.Click("Changes");
        browser.Until(() => browser.Count(".table-row") > 5, "what would be taken back");
        if (browser.Count("section[aria-label='Guards']") > 0)
        {
            browser.Click("Send all", "section[aria-label='Guards']");
            browser.Click("Send all", ".mantine-Modal-content");
        }
        else
        {
            browser.Click("Send", ".tools");
            browser.See("Send to Lanternmoor Web Shop?");
            browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        }

        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "the roll back to be done");
        foreach (var write in sent.Skip(1).Where(w => w["old"] is not null))
            (Cents(narbit, Key(write)) / 100m).ShouldBe(
                decimal.Parse(write["old"]!.GetValue<string>(), CultureInfo.InvariantCulture),
                write["targetKey"]!.GetValue<string>()
            );
        Cents(narbit, Key(sent[0])).ShouldBe(777);
        browser.Open($"/runs/{id}");
        browser.See("Taken back");

        // What was it, and who set it? Both the mistake and its end are on record.
        browser.Open($"/systems/web-shop/records/{Key(sent[1])}?field=price");
        browser.See("taking run");
        browser.See($"run {id} of prices, version 2");
        browser.ClickOn("a[href*='versions']");
        browser.See("bands[0].multiply");
        browser.See("1.8");
        browser.Click("Restore");
        browser.See("Version 3, not saved.");
        browser.Click("Save version 3");
        browser.See("Saved as version 3.");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task A_chain_is_built_with_its_values_in_sight_and_what_cannot_fit_is_said_in_words()
    {
        await using var narbit = await RunningNarbit.StartAsync(items: 600);
        await PairAsync(narbit, "trade-portal");
        using var browser = new Browser(narbit.Address);
        // One with many words in its name, which a bad pattern takes long over.
        var glaze = (
            await narbit.GetAsync(
                $"/api/couples/{(await narbit.CoupleAsync("trade-portal"))["id"]}/rows?show=paired&search=GLZ-TEN-500&limit=1"
            )
        )["rows"]![0]!["hubKey"]!.GetValue<string>();
        browser.Open($"/lanes/items-trade-portal/map?field=title&row=%22{glaze}%22");
        browser.See("Suggested, not mapped");
        browser.Press("s");
        browser.See("take off its end what a field says");
        browser.Until(() => browser.Count(".chain li") == 3, "source, step, and the next one");
        var caption = browser.Text(".chain li:nth-child(2) .chain-value");
        browser.Choose("Add a step", "change case");
        browser.See("to is missing", "section[aria-label='Map of Caption']");
        browser.Choose("Step 2: to", "upper");
        var capitals = caption.ToUpperInvariant();
        browser.Until(
            () => browser.Text(".chain li:nth-child(3) .chain-value").Equals(capitals, StringComparison.Ordinal),
            "the value in capitals"
        );
        browser.Until(() => browser.Count("table[aria-label='Five records'] tbody tr") == 5, "five records by this map");

        // A pattern that backtracks for ever is given up; a step that cannot follow is refused.
        browser.Choose("Add a step", "replace by pattern");
        browser.Fill("Step 3: pattern", "^(([A-Z ,-])+)+!$");
        browser.See("fail", "section[aria-label='Fields of the target']");
        browser.See("took longer than 50 ms", "ol[aria-label='Chain']");
        browser.ClickOn("button[aria-label='Remove step 3']");
        browser.Choose("Add a step", "split into a list");
        browser.Fill("Step 3: at", "a");
        browser.See("join the list, or pick one of it", "section[aria-label='Map of Caption']");
        browser.ClickOn("button[aria-label='Remove step 3']");

        // By keyboard through the fields, and the rest at once.
        browser.Script("document.activeElement.blur()");
        browser.Press("j");
        browser.Until(() => !browser.Address.Contains("field=title", StringComparison.Ordinal), "the next field");
        browser.Press("S");
        browser.SeeNot("suggested:");
        browser.Click("Crosswalks", ".steps");
        browser.See("A code without an entry");
        browser.ClickOn("section[aria-label='Crosswalks'] button:nth-child(3)");
        browser.Until(
            () =>
                browser.Text("section[aria-label='Crosswalk Tax class'] tbody tr:first-child").Contains("waits", StringComparison.Ordinal),
            "the code without an entry first"
        );
        browser.ClickOn("section[aria-label='Crosswalk Tax class'] tbody tr:first-child input");
        browser.Press("C" + Keys.Escape);
        browser.SeeNot("waits", "section[aria-label='Crosswalk Tax class']");
        browser.Until(
            () => browser.Text("section[aria-label='Save']").Contains("records would change", StringComparison.Ordinal),
            "the effect"
        );
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task Changed_on_both_sides_a_person_decides_for_either()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        var map = new
        {
            fields = new[]
            {
                new
                {
                    target = "weight",
                    source = new { fields = new[] { "weight" } },
                    owner = "nobody",
                    flow = "both",
                },
            },
        };
        (
            await narbit.SendAsync(
                HttpMethod.Put,
                "/api/lanes/items-web-shop/rule",
                new
                {
                    baseNumber = 1,
                    note = "either way",
                    map,
                    guards = RunningNarbit.Unguarded,
                }
            )
        ).EnsureSuccessStatusCode();
        for (var i = 0; i < 2; i++)
            (await narbit.EndedAsync(await narbit.StartRunAsync("items-web-shop", preview: false)))["state"]!
                .GetValue<string>()
                .ShouldBe("done");
        // Both sides weigh two records anew, each in its own unit.
        var two = (await narbit.GetAsync($"/api/couples/{(await narbit.CoupleAsync("web-shop"))["id"]}/rows?show=paired&limit=20"))["rows"]!
            .AsArray()
            .Select(r =>
                (Hub: r!["hubKey"]!.GetValue<string>(), Shop: long.Parse(r["otherKey"]!.GetValue<string>(), CultureInfo.InvariantCulture))
            )
            .Where(r => narbit.Sandbox.Office.Find(r.Hub)!.WeightGrams > 0)
            .Take(2)
            .ToList();
        foreach (var (hub, shop) in two)
        {
            narbit
                .Sandbox.Office.Amend(new Sandbox.BackOffice.ArticleEdit(null, hub, null, null, null, WeightGrams: 5100, Picture: null))
                .ShouldBeNull();
            narbit.Sandbox.Shop.Update([
                new Sandbox.WebShop.ShopEdit(
                    null,
                    shop,
                    null,
                    false,
                    null,
                    false,
                    null,
                    null,
                    default,
                    Content: new Sandbox.WebShop.ShopContent(null, null, null, null, 5.2m, null, null, null)
                ),
            ]);
        }

        using var browser = new Browser(narbit.Address);
        browser.Open("/lanes/items-web-shop/preview");
        browser.Click("Preview anew");
        browser.See("2 values held.");
        browser.Click("Show the 2");
        browser.Until(() => browser.Count(".table-row") == 2, "both of them");
        browser.Fill("SKU or name", narbit.Sandbox.Office.Find(two[0].Hub)!.Sku);
        browser.Until(() => browser.Count(".table-row") == 1, "the first of them");
        browser.ClickOn(".table-row");
        browser.See("Held: Weight was changed on both sides: here “5.1”, there “5.2”");
        browser.Click("What is there counts", "section[aria-label='Why']");
        browser.See("Decided for 1 record. The next run goes by it.");
        browser.See("decided that what is there counts", "section[aria-label='Why']");

        // The other one is sent as it is here; the next run then takes the first one's weight back.
        browser.Fill("SKU or name", "");
        browser.Until(() => browser.Count(".table-row") == 1, "the one that is left");
        browser.ClickOn(".table-row input[type=checkbox]");
        browser.Click("Send", ".tools");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "it to be sent");
        (await narbit.EndedAsync(await narbit.StartRunAsync("items-web-shop", preview: false)))["state"]!
            .GetValue<string>()
            .ShouldBe("done");
        two.Select(t => narbit.Sandbox.Office.Find(t.Hub)!.WeightGrams).ShouldBe([5200, 5100]);
        two.Select(t => narbit.Sandbox.Shop.Lookup([t.Shop], found => found.Single().Variant.WeightKg)).ShouldBe([5.2m, 5.1m]);
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task What_a_filter_leaves_to_be_seen_is_chosen_in_one_act()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        using var browser = new Browser(narbit.Address);
        async Task<long> ReadyAsync(string lane) => (await narbit.GetAsync($"/api/lanes/{lane}"))["readyRunId"]!.GetValue<long>();
        var (run, prices) = (await ReadyAsync("stock-web-shop"), await ReadyAsync("prices-web-shop"));
        async Task<int> ShownAsync(long of, string filter) =>
            (await narbit.GetAsync($"/api/runs/{of}/writes/ids?to=send{filter}")).AsArray().Count;
        var (all, up, glazes) = (
            await ShownAsync(run, ""),
            await ShownAsync(run, "&show=up"),
            await ShownAsync(run, "&show=up&search=GLZ")
        );
        (up > glazes && glazes > 0 && all > up).ShouldBeTrue();

        browser.Open("/lanes/stock-web-shop/preview?show=up");
        browser.See($"{up} shown:");
        browser.Click("Choose only these");
        browser.See($"Send {up} chosen");
        browser.Fill("SKU or name", "GLZ");
        browser.See($"{glazes} shown:");
        browser.Click("Leave these out");
        browser.See($"Send {up - glazes} chosen");
        browser.Click("Choose these too");
        browser.See($"Send {up} chosen");
        browser.Click("All again");
        browser.See($"Send {all} chosen");
        browser.Click("Choose only these");
        browser.See($"Send {glazes} chosen");

        // What looks wrong joins only where it is asked for by name.
        browser.Open("/lanes/prices-web-shop/preview?show=held");
        browser.SeeNot("Choose only these");
        var (planned, held) = (await ShownAsync(prices, ""), await ShownAsync(prices, "&show=held"));
        browser.Click("Choose these too");
        browser.See($"Send {planned + held} chosen");
        browser.Click("Leave these out");
        browser.See($"Send {planned} chosen");

        browser.Open("/lanes/stock-web-shop/preview?show=up");
        browser.Click("Choose only these");
        browser.Click("Send", ".tools");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "the chosen ones to be sent");
        (await WritesAsync(narbit, run, "confirmed")).Count.ShouldBe(up);
        browser.Open($"/runs/{run}?show=confirmed&search=GLZ");
        // While nothing is named, all would be taken back: there is nothing to leave out of, which would look as if it had been.
        browser.See("Take back only these");
        browser.SeeNot("Leave these out");
        browser.Click("Take back only these");
        browser.See($"Roll back {glazes} chosen");
        browser.See("Leave these out");
    }

    [Fact]
    public async Task Items_are_kept_off_a_lane_in_one_act_and_the_count_is_known_before()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        using var browser = new Browser(narbit.Address);
        browser.Open("/synced?search=GLZ-CEL");
        browser.See("Celadon glaze");
        var found = (await narbit.GetAsync("/api/synced?search=GLZ-CEL"))["total"]!.GetValue<int>();
        browser.Click($"Set all {found} found");
        browser.See("Choose at least one lane.");
        browser.ClickOn("input[aria-label='prices to Lanternmoor Web Shop']");
        browser.See($"{found} settings of {found} items would change.");
        browser.Click("Keep off", ".mantine-Modal-content .row:last-child");
        browser.See($"{found} settings of {found} items changed.");
        browser.Until(
            () => browser.Count(".table-row") == found && !browser.Text(".table-row").Contains("nothing", StringComparison.Ordinal),
            "what is kept off"
        );
        browser.Open("/lanes/prices-web-shop/preview");
        browser.Click("Preview anew");
        await narbit.UntilAsync(async () =>
            (await narbit.GetAsync("/api/runs"))["rows"]!.AsArray().All(r => r!["state"]!.GetValue<string>() != "working")
        );
        browser.Fill("SKU or name", "GLZ-CEL");
        browser.See("Nothing matches this filter");
        browser.Errors().ShouldBeEmpty();
    }

    private static string Tag(Browser browser, string containing) =>
        browser
            .Text(".tag")
            .Split('\n')
            .FirstOrDefault(t => t.Contains(containing, StringComparison.Ordinal))
            ?.Replace(" of ", "/", StringComparison.Ordinal)
        ?? "";

    private static long Key(JsonNode write) => long.Parse(write["targetKey"]!.GetValue<string>(), CultureInfo.InvariantCulture);

    private static int Cents(RunningNarbit narbit, long variant) =>
        narbit.Sandbox.Shop.Lookup([variant], found => found.Single().Variant.PriceCents);

    private static async Task<IReadOnlyList<JsonNode>> WritesAsync(RunningNarbit narbit, long run, string show) =>
        [.. (await narbit.GetAsync($"/api/runs/{run}/writes?show={show}&limit=500"))["rows"]!.AsArray().Select(r => r!)];

    private static async Task PairAsync(RunningNarbit narbit, string store)
    {
        var couple = await narbit.CoupleAsync(store);
        (
            await narbit.SendAsync(
                HttpMethod.Post,
                $"/api/couples/{couple["id"]}/decisions/all",
                new
                {
                    act = "accept",
                    show = "certain",
                    expected = couple["counts"]!["certain"]!.GetValue<int>(),
                }
            )
        ).EnsureSuccessStatusCode();
        (
            await narbit.SendAsync(
                HttpMethod.Post,
                $"/api/couples/{couple["id"]}/commit",
                new { only = (long[]?)null, note = (string?)null }
            )
        ).EnsureSuccessStatusCode();
    }
}
