using System.Net.Http.Json;

namespace Narbit.Web.Tests;

/// <summary>Takes the pictures in docs/screenshots, by ./narbit shots; no test.</summary>
public sealed class Shots
{
    [Fact(Explicit = true)]
    public async Task Take()
    {
        var folder = Directory
            .CreateDirectory(Environment.GetEnvironmentVariable("NARBIT_SHOTS") ?? Path.Combine(RunningNarbit.Root, "docs", "screenshots"))
            .FullName;
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
        await narbit.AddJobAsync("stock-web-shop", everyMinutes: 30, name: "Shop stock");
        Take("/systems/back-office?row=10002", "weightGrams", "system");
        var portal = (await narbit.CoupleAsync("trade-portal"))["id"];
        Take(
            $"/pair-desk/{portal}",
            "titles",
            "pair-desk",
            b =>
            {
                b.Press("a");
                b.See("1 decision waiting");
            },
            "decision waiting"
        );
        Take("/mismatches?cause=pair.likely&store=trade-portal", "The same for the other", "mismatches");
        var much = await MuchSoldAsync(narbit);

        // A map is made from suggestions, and one step more.
        Take(
            "/lanes/items-trade-portal/map",
            "suggested:",
            "field-map",
            b =>
            {
                b.Press("S");
                b.SeeNot("suggested:");
                b.ClickOn("[data-field=title]");
                b.Choose("Add a step", "limit the length");
                b.Fill("Step 2: to, characters", "40");
                b.Until(
                    () =>
                        b.Count("table[aria-label='Five records'] tbody tr") == 5
                        && b.Text("section[aria-label='Save']").Contains("would change", StringComparison.Ordinal),
                    "the effect"
                );
            }
        );
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        await narbit.EndedAsync(await narbit.StartRunAsync("items-trade-portal", preview: true));
        Take("/lanes/items-trade-portal/crosswalks?tab=Tax%20class", "waits", "crosswalks");
        Take(
            "/lanes/items-trade-portal/preview",
            "would be",
            "preview",
            b =>
            {
                b.ClickOn(".table-row:nth-child(3)");
                b.ClickOn("details.change summary");
            },
            "Compare"
        );

        // 1.8 for 1.08: the guards stop it, a part goes out all the same, and is taken back.
        Take(
            "/lanes/prices-web-shop/rule",
            "On real records",
            "price-rule",
            b =>
            {
                b.Click("Add a band");
                b.Fill("Band 1 to", "12");
                b.Fill("Band 1 factor", "1.8");
                b.See("Guards would stop it");
                b.ClickOn("tbody button[aria-expanded]");
            },
            "List price"
        );
        browser.Click("Guards", ".steps");
        browser.See("stops: price move");
        browser.Fill("What for", "eight percent for the cheap ones");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        var run = await narbit.StartRunAsync("prices-web-shop", preview: false);
        await narbit.EndedAsync(run);
        Take("/", "stopped", "today");
        Take("/lanes/prices-web-shop/preview", "would be", "stopped", b => b.ClickOn(".table-row:nth-child(5)"), "Version ");
        var first = (await narbit.GetAsync($"/api/runs/{run}/writes?show=guarded&limit=40"))["rows"]!.AsArray();
        (
            await narbit.SendAsync(
                HttpMethod.Post,
                $"/api/runs/{run}/send",
                new { all = false, only = first.Select(w => w!["id"]!.GetValue<long>()) }
            )
        ).EnsureSuccessStatusCode();
        await narbit.EndedAsync(run);
        var back = (
            await (
                await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/rollback", new { only = (long[]?)null })
            ).Content.ReadFromJsonAsync<System.Text.Json.Nodes.JsonNode>()
        )!["runId"]!.GetValue<long>();
        await narbit.EndedAsync(back);
        (await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{back}/send", new { all = true })).EnsureSuccessStatusCode();
        await narbit.EndedAsync(back);
        Take($"/systems/web-shop/records/{first[0]!["targetKey"]}?field=price", "taking run", "history");
        await narbit.AddJobAsync("prices-web-shop", everyMinutes: 60, name: "Shop prices");
        await narbit.AddJobAsync("orders-clay-lane", everyMinutes: 15, atOnce: true, name: "Market orders");
        foreach (var job in new[] { "shop-stock", "shop-prices" })
            (await narbit.SendAsync(HttpMethod.Post, $"/api/jobs/{job}/act", new { kind = "runNow" })).EnsureSuccessStatusCode();
        await narbit.UntilAsync(async () => (await narbit.GetAsync("/api/timetable/turns?Outcome=past"))["total"]!.GetValue<int>() >= 2);
        Take("/timetable", "in no job", "timetable");
        Take("/runs", "would write", "runs");
        Take($"/items/{much}", "Exposed by", "item");
        (await narbit.SendAsync(HttpMethod.Post, "/api/proofs")).EnsureSuccessStatusCode();
        await narbit.UntilAsync(async () => !(await narbit.GetAsync("/api/proofs"))["atWork"]!.GetValue<bool>());
        Take("/proof", "fields believed wrongly", "proof");
        Take("/exposure", "promised, pcs", "exposure");
        var orders = await narbit.StartRunAsync("orders-web-shop", preview: true);
        await narbit.EndedAsync(orders);
        Take("/lanes/orders-web-shop/rule", "orders of the last 60 days", "order-rule");
        (await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{orders}/send", new { all = true })).EnsureSuccessStatusCode();
        await narbit.EndedAsync(orders);
        Take("/orders?show=held", "is not known at the hub", "orders");
        var unknown = narbit.Sandbox.Orders.Shop.All.Last(o => o.Lines[0].Sku.StartsWith("OLD-", StringComparison.Ordinal));
        Take($"/orders/orders-web-shop/{unknown.Id}", "is not known at the hub", "order");
        using var dark = new Browser(narbit.Address, dark: true);
        dark.Open($"/runs/{back}");
        dark.See("takes run");
        dark.Until(() => dark.Count(".table-row") > 5, "its rows");
        dark.ClickOn(".table-row:nth-child(4)");
        dark.See("Version ");
        dark.Shot(Path.Combine(folder, "roll-back-dark.png"));

        // A picture is of a page that has loaded: nothing is being fetched, no list is empty under a count, no row is still to come.
        static void Whole(Browser browser, string name) =>
            browser.Until(
                () =>
                    !browser.Text("main").Contains("Loading", StringComparison.Ordinal)
                    && !browser.Text("main").Contains("Computing", StringComparison.Ordinal)
                    && browser.Script(
                        """
                        const tables = [...document.querySelectorAll('.table')]
                        const filled = tables.every((t) => t.querySelector('.table-body .table-row')
                            || t.querySelector('[role=cell] .empty'))
                        return filled && !document.querySelector('.table-row.dim') && !document.querySelector('[data-loading]')
                        """
                    )
                        is true,
                $"the page of the picture “{name}” to have loaded"
            );

        // An item that several stores sell, and more of it together than there is.
        static async Task<string> MuchSoldAsync(RunningNarbit narbit)
        {
            foreach (var other in new[] { "trade-portal", "clay-lane", "quay-street-till" })
            {
                var couple = await narbit.CoupleAsync(other);
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

            var best = ("10002", 0);
            foreach (
                var row in (
                    await narbit.GetAsync($"/api/couples/{(await narbit.CoupleAsync("clay-lane"))["id"]}/rows?show=paired&limit=120")
                )["rows"]!.AsArray()
            )
            {
                var item = (await narbit.GetAsync($"/api/items/{row!["hubKey"]}"))["item"]!;
                if (item["exposure"]!.GetValue<decimal>() > 0 && item["listings"]!.AsArray().Count > best.Item2)
                    best = (row["hubKey"]!.GetValue<string>(), item["listings"]!.AsArray().Count);
            }

            return best.Item1;
        }

        void Take(string path, string sign, string name, Action<Browser>? act = null, string? then = null)
        {
            browser.Open(path);
            browser.See(sign);
            act?.Invoke(browser);
            if (then is not null)
                browser.See(then);
            Whole(browser, name);
            browser.Shot(Path.Combine(folder, $"{name}.png"));
        }
    }
}
