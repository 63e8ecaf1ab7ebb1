namespace Narbit.Web.Tests;

/// <summary>Takes the pictures in docs/screenshots, by ./narbit shots; no test.</summary>
public sealed class Shots
{
    [Fact(Explicit = true)]
    public async Task Take()
    {
        var folder = Directory.CreateDirectory(Environment.GetEnvironmentVariable("NARBIT_SHOTS") ?? Path.Combine(RunningNarbit.Root, "docs", "screenshots")).FullName;
        await using var narbit = await RunningNarbit.StartAsync(items: 600);
        using var browser = new Browser(narbit.Address);
        browser.Open("/systems");
        foreach (var system in new[] { "Lanternmoor Back Office", "Lanternmoor Web Shop" })
        {
            browser.Click("Test", $"section[aria-label='{system}']");
            browser.See("answers", $"section[aria-label='{system}']");
        }

        // A day with some runs in it, one of which waits for a person.
        await narbit.EndedAsync(await narbit.StartRunAsync("stock-web-shop", preview: false));
        (await narbit.SendAsync(HttpMethod.Put, "/api/lanes/stock-web-shop/timetable", new { everyMinutes = 30, paused = false })).EnsureSuccessStatusCode();
        Take("/", "Needs a decision", "today");
        await narbit.SaveMarkupAsync();
        await narbit.EndedAsync(await narbit.StartRunAsync("prices-web-shop", preview: true));
        Take("/systems", "as “Lanternmoor Web Shop”", "systems");
        Take("/systems/back-office?row=10002", "weightGrams", "system");
        Take("/pair-desk", "which record here is which record there", "couples");
        var portal = (await narbit.CoupleAsync("trade-portal"))["id"];
        Take($"/pair-desk/{portal}", "titles", "pair-desk", b => { b.Press("a"); b.See("1 decision waiting"); }, "decision waiting");
        Take($"/pair-desk/{(await narbit.CoupleAsync("quay-street-till"))["id"]}?tab=start", "certain pairs accepted", "stock-taking");
        Take($"/pair-desk/{(await narbit.CoupleAsync("web-shop"))["id"]}?tab=readiness&cause=web-shop.skuTwice", "is used by", "readiness");
        Take("/lanes/prices-web-shop/rule", "On real items", "price-rule", b => b.ClickOn("tbody button[aria-expanded]"), "List price");
        Take("/lanes/stock-web-shop/rule", "On real items", "stock-rule");
        Take("/lanes/prices-web-shop/preview?sort=sku", "would be", "preview", b => b.ClickOn(".table-row:nth-child(4)"), "Rule version");
        Take("/lanes/stock-web-shop/timetable", "It runs every", "timetable");
        Take("/runs", "would write", "runs");
        Take("/runs/3", "Confirmed", "run", b => b.ClickOn(".table-row:nth-child(2)"), "Read back");
        Take($"/items/{await MuchSoldAsync(narbit)}", "Exposed by", "item");
        using var dark = new Browser(narbit.Address, dark: true);
        dark.Open("/lanes/prices-web-shop/preview?sort=sku");
        dark.See("would be");
        dark.ClickOn(".table-row:nth-child(4)");
        dark.See("Rule version");
        dark.Shot(Path.Combine(folder, "preview-dark.png"));

        // An item that several stores sell, and more of it together than there is.
        static async Task<string> MuchSoldAsync(RunningNarbit narbit)
        {
            foreach (var other in new[] { "trade-portal", "clay-lane", "quay-street-till" })
            {
                var couple = await narbit.CoupleAsync(other);
                (await narbit.SendAsync(HttpMethod.Post, $"/api/couples/{couple["id"]}/decisions/all", new { act = "accept", show = "certain", expected = couple["counts"]!["certain"]!.GetValue<int>() })).EnsureSuccessStatusCode();
                (await narbit.SendAsync(HttpMethod.Post, $"/api/couples/{couple["id"]}/commit", new { only = (long[]?)null, note = (string?)null })).EnsureSuccessStatusCode();
            }

            var best = ("10002", 0);
            foreach (var row in (await narbit.GetAsync($"/api/couples/{(await narbit.CoupleAsync("clay-lane"))["id"]}/rows?show=paired&limit=120"))["rows"]!.AsArray())
            {
                var item = (await narbit.GetAsync($"/api/items/{row!["hubKey"]}"))["item"]!;
                if (item["exposure"]!.GetValue<decimal>() > 0 && item["listings"]!.AsArray().Count > best.Item2) best = (row["hubKey"]!.GetValue<string>(), item["listings"]!.AsArray().Count);
            }

            return best.Item1;
        }

        void Take(string path, string sign, string name, Action<Browser>? act = null, string? then = null)
        {
            browser.Open(path);
            browser.See(sign);
            act?.Invoke(browser);
            if (then is not null) browser.See(then);
            browser.Until(() => !browser.Text("main").Contains("Loading", StringComparison.Ordinal), "everything to be there");
            browser.Shot(Path.Combine(folder, $"{name}.png"));
        }
    }
}
