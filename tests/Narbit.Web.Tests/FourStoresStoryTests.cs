using System.Globalization;
using System.Text.Json.Nodes;
using Narbit.Sandbox.Faults;

namespace Narbit.Web.Tests;

/// <summary>Every store gets its items, prices and stock, with the fault dials on.</summary>
public sealed class FourStoresStoryTests
{
    [Fact]
    public async Task Four_stores_receive_items_prices_and_stock_by_maps_made_from_suggestions()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        foreach (var store in new[] { "trade-portal", "clay-lane", "quay-street-till" })
            await narbit.PairAsync(store);
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
                browser.See("Weight: it is required there, and would be empty", ".mantine-Modal-content");
                browser.Click("Look", ".mantine-Modal-content");
                browser.See("✕\nit is required there, and would be empty", "section[aria-label='Fields of the target']");
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
                browser.See("Against the guards:");
                browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
            }
            else
            {
                browser.Click("Send", ".tools");
                browser.See("Each is checked against what is there");
                browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
            }

            browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
            var sent = (await narbit.EndedAsync(long.Parse(browser.Address.Split('/', '?')[2], CultureInfo.InvariantCulture)))[
                "id"
            ]!.GetValue<long>();
            (await narbit.WritesAsync(sent, "failed")).Select(w => $"{w["reference"]}: {w["fate"]}").ShouldBeEmpty(store);
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

    private static string Tag(Browser browser, string containing) =>
        browser
            .Text(".tag")
            .Split('\n')
            .FirstOrDefault(t => t.Contains(containing, StringComparison.Ordinal))
            ?.Replace(" of ", "/", StringComparison.Ordinal)
        ?? "";
}
