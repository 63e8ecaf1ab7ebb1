using System.Text.Json.Nodes;
using OpenQA.Selenium;

namespace Narbit.Web.Tests;

/// <summary>Four systems go from nothing paired to nothing unpaired, by keyboard alone.</summary>
public sealed class PairStoryTests
{
    [Fact]
    public async Task From_nothing_paired_to_nothing_unpaired_by_keyboard()
    {
        await using var narbit = await RunningNarbit.StartAsync(items: 240);
        using var browser = new Browser(narbit.Address);
        browser.Open("/");
        browser.See("Needs a decision");

        // The web shop was taken over when it was set up; that is taken back, so that nothing is paired.
        Go(browser, "Pair Lanternmoor Web Shop");
        browser.Press("v");
        browser.See("certain pairs, linked by themselves");
        browser.TabTo("Undo");
        browser.See("They are no longer in force after this.");
        browser.TabTo("Undo 2");
        browser.See("taken back by Ines O.");
        (await narbit.GetAsync("/api/couples")).AsArray().Sum(c => c!["counts"]!["paired"]!.GetValue<int>()).ShouldBe(0);

        foreach (
            var (id, name) in new[]
            {
                ("web-shop", "Lanternmoor Web Shop"),
                ("quay-street-till", "Quay Street Till"),
                ("trade-portal", "Studio Trade Portal"),
                ("clay-lane", "Clay Lane Market"),
            }
        )
        {
            Go(browser, $"Pair {name}");
            await PairAsync(narbit, browser, id);
        }

        await RightAsync(narbit);
        // What is decided stays after a reload, and says who decided what from which evidence.
        browser.Reload();
        browser.See("unpaired 0");
        browser.TabTo("Review and commit");
        browser.TabTo("1");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task Decisions_survive_a_reload_are_seen_in_another_window_and_nothing_that_is_done_to_them_is_final()
    {
        await using var narbit = await RunningNarbit.StartAsync(items: 600);
        using var first = new Browser(narbit.Address);
        using var second = new Browser(narbit.Address);
        var couple = await narbit.CoupleAsync("trade-portal");
        foreach (var browser in new[] { first, second })
        {
            browser.Open($"/pair-desk/{couple["id"]}?show=likely");
            browser.Until(() => browser.Count(".table-row[aria-selected='true']") == 1, "a chosen record");
            browser.See("Accept all");
        }

        first.Press("a");
        first.See("1 decision waiting");
        second.See("1 decision waiting");
        second.Press("u");
        first.SeeNot("1 decision waiting");
        first.Press("a");
        first.See("1 decision waiting");
        first.Press("a");
        first.See("2 decisions waiting");
        first.Reload();
        first.See("2 decisions waiting");
        first.Click("Throw away");
        first.SeeNot("decisions waiting");
        (await narbit.CoupleAsync("trade-portal"))["counts"]!["waiting"]!.GetValue<int>().ShouldBe(0);

        // Whoever presses faster than the page answers loses no press.
        first.Open($"/pair-desk/{couple["id"]}?show=certain");
        first.Until(() => first.Count(".table-row[aria-selected='true']") == 1, "a chosen record");
        for (var press = 0; press < 40; press++)
            first.Press("a");
        first.See("40 decisions waiting");
        first.Click("Throw away");
        first.SeeNot("decisions waiting");
        await narbit.UntilAsync(async () => (await narbit.CoupleAsync("trade-portal"))["counts"]!["waiting"]!.GetValue<int>() == 0);

        // What was thrown away comes back; what is put into force can be undone, once it was said what hangs on it, and put back.
        first.Open($"/pair-desk/{couple["id"]}?tab=review");
        first.See("40 decisions by Ines O.");
        first.Click("Bring back", "section[aria-labelledby='thrown'] .line:nth-of-type(2)");
        first.See("2 decisions waiting");
        first.ClickOn("section[aria-labelledby='waiting-decisions'] button[data-variant='filled']");
        first.See("2 decisions in force.");
        first.Click("Undo", "section[aria-labelledby='batches']");
        first.See("No run has written anything by these pairs.");
        first.Click("Undo 2 decisions", ".mantine-Modal-content");
        first.See("taken back by Ines O.");
        first.Click("Put back");
        first.See("2 decisions in force again.");
        first.SeeNot("taken back by Ines O.");
    }

    [Fact]
    public async Task A_stock_taking_a_pasted_table_and_a_correction()
    {
        await using var narbit = await RunningNarbit.StartAsync(items: 600);
        using var browser = new Browser(narbit.Address);
        var till = await narbit.CoupleAsync("quay-street-till");
        browser.Open($"/pair-desk/{till["id"]}?tab=start");
        browser.See("certain pairs accepted");
        browser.Click("Take over,");
        browser.Until(() => browser.Text().Contains("The stock-taking is done", StringComparison.Ordinal), "the stock-taking to be done");
        var counts = (await narbit.CoupleAsync("quay-street-till"))["counts"]!;
        counts["paired"]!.GetValue<int>().ShouldBeGreaterThanOrEqualTo(till["counts"]!["certain"]!.GetValue<int>());
        counts["setAside"]!.GetValue<int>().ShouldBeGreaterThan(400);

        var market = await narbit.CoupleAsync("clay-lane");
        browser.Open($"/pair-desk/{market["id"]}?tab=tables");
        browser.Fill("Pasted table", "hub_key;sku\n10001;no such SKU");
        browser.Click("Take in what is pasted");
        browser.See("1 line did not fit, so nothing was taken.");
        browser.See("Clay Lane Market has no record “no such SKU”");

        // A SKU that is used twice gets another, through a preview.
        var twice = narbit.Sandbox.Catalogue.Troubles.First(t => t is { Name: "sku used twice", System: "web-shop" }).Keys[0];
        var shop = await narbit.CoupleAsync("web-shop");
        browser.Open($"/pair-desk/{shop["id"]}?tab=readiness&cause=web-shop.skuTwice");
        browser.See("is used by");
        browser.Click("Preview", ".sheet-head");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the preview of the corrections");
        browser.See("Send");
        browser.Click("Send");
        browser.See("to Lanternmoor Web Shop?");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Text(".page-head").Contains("done", StringComparison.Ordinal), "the corrections to be done");
        var skus = narbit.Sandbox.Shop.Page(
            1,
            1000,
            null,
            (products, _) => products.SelectMany(p => p.Variants).Select(v => v.Sku).ToList()
        );
        skus.Count(s =>
                s
                == narbit.Sandbox.Shop.Lookup([long.Parse(twice, System.Globalization.CultureInfo.InvariantCulture)], f => f[0].Variant.Sku)
            )
            .ShouldBe(1);
        browser.Errors().ShouldBeEmpty();
    }

    // The palette: Ctrl K, a name, Enter.
    private static void Go(Browser browser, string where)
    {
        browser.Chord(Keys.Control, "k");
        browser.Until(() => browser.Count("input[aria-label='Where to, or what to do?']") > 0, "the palette");
        browser.Press(where);
        browser.See(where);
        browser.Press(Keys.Enter);
        browser.Until(
            () =>
                browser.Address.StartsWith("/pair-desk/", StringComparison.Ordinal)
                && browser.Text(".page-head").Contains("unpaired", StringComparison.Ordinal),
            where
        );
        browser.Until(() => browser.Count("input[aria-label='Where to, or what to do?']") == 0, "the palette to close");
    }

    private static async Task PairAsync(RunningNarbit narbit, Browser browser, string system)
    {
        browser.TabTo("Close the lanes");
        browser.See("its lanes are closed while you pair");
        for (var round = 0; round < 6; round++)
        {
            var counts = await CountsAsync();
            if (counts["unpaired"]!.GetValue<int>() == 0)
                break;
            if (browser.Text().Contains("Use as a rule", StringComparison.Ordinal))
            {
                browser.TabTo("Use as a rule");
                browser.See("Drop it");
                counts = await CountsAsync();
            }

            // All that is certain in one act; what is likely one by one, then the rest of it.
            if (Has(counts, "certain"))
                AcceptAll(browser, "certain", counts);
            if (Has(counts, "likely"))
            {
                Show(browser, "likely");
                for (var i = 0; i < Math.Min(3, counts["likely"]!.GetValue<int>()); i++)
                    await OneAsync("a");
                if (await CountsAsync() is var left && Has(left, "likely"))
                    AcceptAll(browser, "likely", left);
            }

            if (Has(counts, "ambiguous"))
            {
                Show(browser, "ambiguous");
                while (Has(await CountsAsync(), "ambiguous"))
                {
                    // Where the best candidate is a good one, it is taken; else the record is set aside for a later look.
                    var good = (await AllAsync("ambiguous"))["rows"]![0]!["confidence"]!.GetValue<double>() > 0.8;
                    if (good && browser.Count(".candidate") > 0)
                        await OneAsync("a");
                    else
                        await AsideAsync();
                }
            }

            if (Has(counts, "none"))
                await AloneAsync();
            browser.Press("v");
            browser.See("waiting", "main");
            browser.Until(() => browser.Count("main input[type=checkbox]") > 0, "decisions to review");
            browser.Chord(Keys.Control, Keys.Enter);
            browser.See("Nothing waits");
            browser.TabTo("Pair", exact: true);
            browser.See("unpaired", ".page-head");
        }

        (await CountsAsync())["unpaired"]!.GetValue<int>().ShouldBe(0);
        browser.See("unpaired 0");
        browser.TabTo("Open the lanes");
        browser.SeeNot("its lanes are closed while you pair");

        async Task<JsonNode> CountsAsync() => (await narbit.CoupleAsync(system))["counts"]!;

        async Task<JsonNode> AllAsync(string show) =>
            await narbit.GetAsync($"/api/couples/{(await narbit.CoupleAsync(system))["id"]}/rows?show={show}");

        // One key, and one decision more.
        async Task OneAsync(string key)
        {
            var before = (await CountsAsync())["waiting"]!.GetValue<int>();
            browser.Until(
                () => browser.Count(".table-row[aria-selected='true']") == 1 && browser.Count("button[data-loading]") == 0,
                "a chosen record"
            );
            browser.Press(key);
            await narbit.UntilAsync(async () => (await CountsAsync())["waiting"]!.GetValue<int>() > before);
        }

        async Task AsideAsync()
        {
            var before = (await CountsAsync())["waiting"]!.GetValue<int>();
            browser.Until(() => browser.Count(".table-row[aria-selected='true']") == 1, "a chosen record");
            browser.Press("x");
            browser.See("It stays on record");
            browser.Asked();
            browser.Press(Keys.Enter);
            await narbit.UntilAsync(async () => (await CountsAsync())["waiting"]!.GetValue<int>() > before);
            browser.SeeNot("It stays on record");
        }

        // What stands alone: kits are put together, what is sold only here or only there is set aside.
        async Task AloneAsync()
        {
            var rows = (await AllAsync("none&limit=500"))["rows"]!.AsArray();
            if (rows.Any(r => r!["hubKey"] is null))
            {
                Show(browser, "none");
                browser.TabTo($"only in {Mark(system)}");
                browser.Until(() => browser.Address.Contains("kind=other", StringComparison.Ordinal), "the other side alone");
                while ((await AllAsync("none&side=other"))["rows"]!.AsArray() is { Count: > 0 } left)
                {
                    var first = left[0]!;
                    browser.See(first["caption"]!.GetValue<string>());
                    if (first["reference"]?.GetValue<string>().StartsWith("KIT-", StringComparison.Ordinal) == true)
                        await KitAsync(first);
                    else
                        await AsideAsync();
                }
            }

            if (rows.All(r => r!["hubKey"] is null))
                return;
            Show(browser, "none");
            browser.TabTo("only in BO");
            browser.Until(
                () =>
                    browser.Address.Contains("kind=hub", StringComparison.Ordinal)
                    && browser.Text().Contains("aside", StringComparison.Ordinal),
                "the hub alone"
            );
            browser.See($"Set all {(await AllAsync("none&side=hub"))["total"]} aside");
            browser.Press("X");
            browser.See("records aside");
            browser.Asked();
            browser.Press(Keys.Enter);
            await narbit.UntilAsync(async () => !Has(await CountsAsync(), "none"));
        }

        async Task KitAsync(JsonNode row)
        {
            var listing = narbit.Sandbox.Market.Find([row["otherKey"]!.GetValue<string>()], found => found[0]);
            var before = (await CountsAsync())["waiting"]!.GetValue<int>();
            browser.Press("h");
            browser.See("A kit of several items");
            foreach (var (article, quantity) in listing.Kit)
            {
                browser.Until(
                    () =>
                        browser.Script("return document.activeElement?.getAttribute('aria-label') ?? ''") is string at
                        && at.StartsWith("Find an item", StringComparison.Ordinal),
                    "the cursor in the search"
                );
                browser.Press(article);
                browser.Until(
                    () =>
                        browser.Text(".mantine-Modal-content").Contains(narbit.Sandbox.Office.Find(article)!.Sku, StringComparison.Ordinal),
                    article
                );
                browser.Press(Keys.Enter);
                browser.Until(
                    () =>
                        browser.Count($".mantine-Modal-content button[aria-label^='Leave']") > 0
                        && browser.Text(".mantine-Modal-content").Contains(article, StringComparison.Ordinal),
                    "the part"
                );
                if (quantity > 1)
                {
                    // Back to the quantity of the part that was just added, and forth again.
                    for (var i = 0; i < 2; i++)
                        browser.Chord(Keys.Shift, Keys.Tab);
                    browser.Chord(Keys.Control, "a");
                    browser.Press($"{quantity}");
                    for (var i = 0; i < 2; i++)
                        browser.Press(Keys.Tab);
                }
            }

            browser.Press(Keys.Enter);
            await narbit.UntilAsync(async () => (await CountsAsync())["waiting"]!.GetValue<int>() > before);
            browser.SeeNot("A kit of several items");
        }
    }

    // Every pair in force is right, as far as barcodes and the generator know.
    private static async Task RightAsync(RunningNarbit narbit)
    {
        var office = narbit.Sandbox.Catalogue.Articles.ToDictionary(a => a.Number);
        foreach (
            var (system, listings) in new[]
            {
                ("quay-street-till", narbit.Sandbox.Catalogue.Further.Till),
                ("trade-portal", narbit.Sandbox.Catalogue.Further.Portal),
                ("clay-lane", narbit.Sandbox.Catalogue.Further.Market),
            }
        )
        {
            var couple = await narbit.CoupleAsync(system);
            var byKey = listings.ToDictionary(l => l.Id);
            var rows = (await narbit.GetAsync($"/api/couples/{couple["id"]}/rows?show=paired&limit=500"))["rows"]!.AsArray();
            rows.Count.ShouldBeGreaterThan(60);
            var checkedPairs = 0;
            foreach (var row in rows.Where(r => r!["standing"]!.GetValue<string>() == "paired"))
            {
                var listing = byKey[row!["otherKey"]!.GetValue<string>()];
                if (Core.Pairing.Gtin.Of(listing.Barcode) is not { } code || listings.Count(l => l.Barcode == listing.Barcode) > 1)
                    continue;
                Core.Pairing.Gtin.Of(office[row["hubKey"]!.GetValue<string>()].Barcode).ShouldBeOneOf(code, null);
                checkedPairs++;
            }

            checkedPairs.ShouldBeGreaterThan(40);
        }

        var market = await narbit.CoupleAsync("clay-lane");
        var kits = (await narbit.GetAsync($"/api/couples/{market["id"]}/rows?show=paired&search=KIT-&limit=500"))["rows"]!.AsArray();
        kits.Select(k => k!["note"]!.GetValue<string>())
            .ShouldBe(
                narbit
                    .Sandbox.Market.Search("", 500)
                    .Where(l => l.Kit.Count > 0)
                    .Select(l => string.Join(" + ", l.Kit.Select(k => $"{k.Quantity} × {k.Article}"))),
                ignoreOrder: true
            );
    }

    private static string Mark(string system) =>
        system switch
        {
            "web-shop" => "WS",
            "quay-street-till" => "QT",
            "trade-portal" => "TP",
            _ => "CM",
        };

    private static bool Has(JsonNode counts, string verdict) => counts[verdict]!.GetValue<int>() > 0;

    private static void Show(Browser browser, string verdict)
    {
        browser.TabTo($"{verdict} ");
        browser.Until(() => browser.Address.Contains($"show={verdict}", StringComparison.Ordinal), $"{verdict} to be shown");
    }

    private static void AcceptAll(Browser browser, string verdict, JsonNode counts)
    {
        Show(browser, verdict);
        browser.See($"Accept all {counts[verdict]} {verdict}");
        browser.Until(() => browser.Count("button[data-loading]") == 0, "nothing to be under way");
        browser.Press("A");
        browser.See($"Nothing {verdict}");
    }
}
