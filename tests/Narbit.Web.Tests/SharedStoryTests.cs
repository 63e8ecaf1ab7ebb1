using System.Globalization;
using Narbit.Sandbox.Faults;
using OpenQA.Selenium;

namespace Narbit.Web.Tests;

/// <summary>One demo and one person at it.</summary>
public sealed class StoryFixture : IAsyncLifetime
{
    public RunningNarbit Narbit { get; private set; } = null!;

    public Browser Browser { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        Narbit = await RunningNarbit.StartAsync();
        Browser = new Browser(Narbit.Address);
    }

    public ValueTask DisposeAsync()
    {
        Browser.Dispose();
        return Narbit.DisposeAsync();
    }
}

/// <summary>Short stories that do not disturb each other: each has lanes, items or pages of its own.</summary>
public sealed class SharedStoryTests(StoryFixture fixture) : IClassFixture<StoryFixture>
{
    [Fact]
    public async Task Two_windows_with_the_same_rule_the_second_is_told()
    {
        var narbit = fixture.Narbit;
        var first = fixture.Browser;
        using var second = new Browser(narbit.Address);
        foreach (var browser in new[] { first, second })
        {
            browser.Open("/lanes/stock-trade-portal/rule");
            browser.See("On real records");
        }

        first.Fill("Hold back", "2");
        first.Fill("What for", "two stay here");
        first.Click("Save version 2");
        first.See("Saved as version 2.");
        second.Fill("Hold back", "5");
        second.Click("Save version 2");
        second.See("saved in another window meanwhile: version 2 by Ines O., “two stay here”");
        second.Value("Hold back").ShouldBe("5");
        second.Click("Reload");
        second.Until(() => second.Value("Hold back") == "2", "the other's value");
    }

    [Fact]
    public void What_is_not_saved_is_kept_through_a_click_away_a_reload_and_a_second_window_and_comes_back_when_thrown_away()
    {
        var browser = fixture.Browser;
        browser.Open("/lanes/prices-web-shop/rule");
        browser.See("On real records");
        browser.Click("Add a band");
        browser.Fill("Band 1 factor", "1.02");
        browser.See("Version 2, not saved.");
        browser.Click("Lanes", ".rail");
        browser.See("Version 2 of Prices to Lanternmoor Web Shop is not saved. It is kept for you.");
        browser.Click("not saved", "section[aria-label='Lanternmoor Web Shop']");
        browser.Until(() => browser.Value("Band 1 factor") == "1.02", "what was typed before");
        browser.Open("/lanes/prices-web-shop/rule");
        browser.Until(() => browser.Value("Band 1 factor") == "1.02", "what was typed, after a reload");

        // A second window goes on from it; the first is told before it writes over it.
        using (var second = new Browser(fixture.Narbit.Address))
        {
            second.Open("/lanes/prices-web-shop/rule");
            second.Until(() => second.Value("Band 1 factor") == "1.02", "the draft in the second window");
            second.Fill("Band 1 factor", "1.03");
            second.See("10.00 becomes 10.30");
            second.Click("Lanes", ".rail");
            second.See("is not saved. It is kept for you.");
        }

        browser.Fill("Band 1 factor", "1.04");
        browser.See("Another window of Ines O. has changed this draft since.");
        browser.Click("Take that one");
        browser.Until(() => browser.Value("Band 1 factor") == "1.03", "the other window's");

        browser.Click("Throw away");
        browser.See("was thrown away");
        browser.Before(
            """
            const ask = window.fetch
            window.fetch = async (request, ...how) => {
              if (window.holding && request.method === 'PUT' && /draft$/.test(request.url))
                await new Promise((go) => { window.letGo = go })
              return ask(request, ...how)
            }
            """
        );
        browser.Open("/lanes/prices-web-shop/rule");
        browser.See("was thrown away");
        // Even while what was brought back is on its way to be kept, it can be thrown away again.
        browser.Script("window.holding = true");
        browser.Click("Bring it back");
        browser.Until(() => browser.Value("Band 1 factor") == "1.03", "what was thrown away");
        browser.Until(() => browser.Script("return !!window.letGo") is true, "it to be on its way");
        browser.Click("Throw away");
        browser.Script("window.letGo()");
        browser.See("was thrown away");
    }

    [Fact]
    public async Task An_answer_that_was_overtaken_on_its_way_is_asked_for_again()
    {
        var narbit = fixture.Narbit;
        using var browser = new Browser(narbit.Address);
        // The first answer about a new run is kept on its way; what the page knows of the lane is noted.
        browser.Before(
            """
            const ask = window.fetch, known = new Set()
            window.fetch = async (request, ...how) => {
              const answer = await ask(request, ...how)
              const isNew = /api.runs.\d+$/.test(request.url) && !known.has(request.url)
              known.add(request.url)
              if (window.keeping && isNew) {
                window.kept = true
                await new Promise((go) => { window.letGo = go })
              }
              if (/api.lanes.prices-web-shop$/.test(request.url)) window.lane = await answer.clone().json()
              return answer
            }
            """
        );
        browser.Open("/lanes/prices-web-shop/preview");
        browser.Until(() => browser.Count(".table-row") > 5, "the change set");
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares { LostBefore = 1 };
        browser.Script("window.keeping = true");
        browser.Click("Preview anew");
        browser.Until(() => browser.Script("return window.kept") is true, "the page to ask about its run");
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares();
        browser.Until(
            () => browser.Script("return window.lane.workingRunId === null && window.lane.readyRunId !== null") is true,
            "the page to hear that the run is ready"
        );
        browser.SeeNot("there now", ".table-head");
        browser.Script("window.letGo()");
        browser.Until(() => browser.Count(".table-row") > 5, "the new change set");
        browser.SeeNot("read both systems");
    }

    [Fact]
    public async Task A_page_that_cannot_listen_asks_by_itself()
    {
        var narbit = fixture.Narbit;
        using var browser = new Browser(narbit.Address);
        browser.Before(
            "const ask = window.fetch; window.fetch = (request, ...how) => String(request.url ?? request).includes('/live') ? "
                + "Promise.reject(new Error('blocked')) : ask(request, ...how)"
        );
        browser.Open("/lanes/prices-web-shop/preview");
        browser.Until(() => browser.Count(".table-row") > 5, "the change set");
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares { LostBefore = 1 };
        browser.Click("Preview anew");
        browser.See("read both systems");
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares();
        browser.Until(() => browser.Count(".table-row") > 5, "the new change set");
    }

    [Fact]
    public async Task The_keyboard_alone_is_enough()
    {
        var narbit = fixture.Narbit;
        var browser = fixture.Browser;
        browser.Open("/");
        browser.See("Needs a decision");
        browser.Press("g");
        browser.Press("s");
        browser.See("what is connected");
        browser.Chord(Keys.Control, "k");
        browser.Until(() => browser.Count("input[aria-label='Where to, or what to do?']") > 0, "the palette");
        browser.Press("Stock levels to Lanternmoor Web Shop: stock rule");
        browser.See("Stock levels to Lanternmoor Web Shop: stock rule");
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Address == "/lanes/stock-web-shop/rule", "the stock rule");
        // Anything is found by what it is called, slips and all, with what can be done with it.
        browser.Until(() => browser.Count("input[aria-label='Where to, or what to do?']") == 0, "the palette to close");
        browser.Chord(Keys.Control, "k");
        browser.Until(() => browser.Count("input[aria-label='Where to, or what to do?']") > 0, "the palette");
        browser.Press("celdaon glaze 250");
        browser.See("Celadon glaze, brush-on 250 ml");
        browser.See("What it was before, and who set it");
        browser.Axe().ShouldBeEmpty();
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Address == "/items/10001", "the item");
        browser.Open("/lanes/prices-web-shop/preview");
        browser.Until(() => browser.Count(".table-row") > 5, "the change set");
        browser.Press("?");
        browser.See("choose the line, or leave it out");
        browser.SeeNot("make a kit");
        browser.Press(Keys.Escape);
        browser.SeeNot("choose the line, or leave it out");
        browser.Script("document.querySelector('.table-body').focus()");
        browser.Press("j");
        browser.Press("j");
        browser.See("Why ", ".side");
        browser.Until(() => browser.Count(".table-row[aria-selected='true']") == 1, "a chosen row");
        browser.Press("/");
        browser.Press("celadon");
        browser.Until(() => browser.Address.Contains("search=celadon", StringComparison.Ordinal), "the search in the address");
    }

    [Fact]
    public async Task Changed_on_both_sides_a_person_decides_for_either()
    {
        var narbit = fixture.Narbit;
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
                    document = new { kind = "item", map },
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
            narbit.Sandbox.Office.Amend(new Sandbox.BackOffice.ArticleEdit { Number = hub, WeightGrams = 5100 }).ShouldBeNull();
            narbit.Sandbox.Shop.Update([
                new Sandbox.WebShop.ShopEdit
                {
                    VariantId = shop,
                    Content = new Sandbox.WebShop.ShopContent(null, null, null, null, 5.2m, null, null, null),
                },
            ]);
        }

        var browser = fixture.Browser;
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
        var narbit = fixture.Narbit;
        var browser = fixture.Browser;
        async Task<long> ReadyAsync(string lane) => (await narbit.GetAsync($"/api/lanes/{lane}"))["readyRunId"]!.GetValue<long>();
        var (run, prices) = (await ReadyAsync("stock-web-shop"), await ReadyAsync("prices-web-shop"));
        async Task<int> ShownAsync(long of, string filter)
        {
            var found = await narbit.GetAsync($"/api/runs/{of}/writes/ids?to=send{filter}");
            return found["plain"]!.AsArray().Count + found["byName"]!.AsArray().Count;
        }

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
        // None of it, and from there one by one.
        browser.ClickOn("input[aria-label='Choose none']");
        browser.Until(() => browser.Count(".table-body input:checked") == 0, "nothing to be chosen");
        browser.ClickOn(".table-body input[type='checkbox']");
        browser.See("Send 1 chosen");
        browser.ClickOn("input[aria-label='Choose all']");
        browser.See($"Send {all} chosen");
        browser.Click("Choose only these");
        browser.See($"Send {glazes} chosen");

        // Going back takes the filter away before it leaves the page.
        browser.ClickOn("fieldset[aria-label='Changes'] button:first-child");
        browser.Until(() => !browser.Address.Contains("show=", StringComparison.Ordinal), "no filter");
        browser.Script("history.back()");
        browser.Until(() => browser.Address.Contains("show=up", StringComparison.Ordinal), "the filter again");

        // What looks wrong joins only where it is asked for by name.
        browser.Open("/lanes/prices-web-shop/preview?show=held");
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
        (await narbit.WritesAsync(run, "confirmed")).Count.ShouldBe(up);
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
        var narbit = fixture.Narbit;
        var browser = fixture.Browser;
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
}
