using System.Globalization;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace Narbit.Web.Tests;

/// <summary>
/// A specialist's whole day at the desk of the demo, by keyboard: some twenty causes and hundreds of records are settled, most of them
/// together with those that are alike; the next runs find none of them again, and what was learned acts on tomorrow's orders.
/// </summary>
public sealed class DeskDayTests(ITestOutputHelper output)
{
    private const string Desk = "section[aria-label='The chosen mismatch']";

    // A quarter of an hour, at three seconds for each key: to read, to decide, and to press it.
    private const int MostKeys = 15 * 60 / 3;

    private static readonly string[] Stores = ["trade-portal", "clay-lane", "quay-street-till"];

    // First who is who, as orders follow from it; then what is wrong with records; then what is held for it.
    private static readonly string[] Pairs = ["pair.certain", "pair.likely", "pair.ambiguous", "pair.none"];

    private static readonly string[] Corrections = ["ready.skuForm", "ready.skuOfAnother", "ready.skuMissing", "ready.barcodeInvalid"];

    private static readonly string[] Rules = ["held.price.sourceNegative", "held.price.sourceZero", "value.noPrice", "customer.alike"];

    private static readonly string[] Orders =
    [
        "order.unknownItem",
        "order.customerAmbiguous",
        "order.taxRate",
        "order.totals",
        "order.outsideZone",
        "order.noAddress",
    ];

    private readonly HashSet<string> _causes = [];
    private int _keys;
    private int _settled;
    private int _together;

    [Fact]
    public async Task A_day_of_twenty_causes_and_hundreds_of_records_is_done_within_a_quarter_of_an_hour_of_keys()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        await CompareAsync(narbit);
        var began = System.Diagnostics.Stopwatch.GetTimestamp();
        using var browser = new Browser(narbit.Address);
        foreach (var cause in Pairs)
            await SettleAsync(narbit, browser, cause);
        foreach (var cause in Rules)
            await SettleAsync(narbit, browser, cause);
        foreach (var cause in Corrections)
            await CorrectAsync(narbit, browser, cause);
        foreach (var cause in Orders)
            await SettleAsync(narbit, browser, cause);
        foreach (var cause in await LeftAsync(narbit))
            PutOff(browser, cause);

        var took = System.Diagnostics.Stopwatch.GetElapsedTime(began);
        output.WriteLine(
            $"{_causes.Count} causes, {_settled} settled, {_together} of them together, {_keys} keys, {took.TotalSeconds:0} s"
        );
        _causes.Count.ShouldBeGreaterThanOrEqualTo(20);
        _settled.ShouldBeGreaterThan(300);
        _together.ShouldBeGreaterThan(_settled / 2);
        _keys.ShouldBeLessThan(MostKeys);
        browser.Errors().ShouldBeEmpty();

        await TomorrowAsync(narbit);
    }

    // The next runs find none of what was settled again, and three rules act on what is bought tomorrow.
    private static async Task TomorrowAsync(RunningNarbit narbit)
    {
        var learned = await LessonsAsync(narbit);
        var skus = learned.Keys.Where(l => l.StartsWith("OLD-", StringComparison.Ordinal)).Select(l => l.Split(' ')[0]).ToList();
        skus.Count.ShouldBeGreaterThanOrEqualTo(3);
        foreach (var sku in skus.Take(3))
        {
            var sold = narbit.Sandbox.Orders.Shop.All.First(o => o.Lines.Any(l => l.Sku == sku));
            narbit.Sandbox.Orders.Shop.Place(n => sold with { Id = $"{n + 50_000}", Number = $"W{n + 50_000}", HubNumber = "" });
        }

        var settled = await KeysAsync(narbit, "state=settled");
        var (orders, prices) = (await SeenAsync(narbit, "orders-web-shop"), await SeenAsync(narbit, "prices-web-shop"));
        await CompareAsync(narbit);
        await narbit.UntilAsync(async () => await SeenAsync(narbit, "orders-web-shop") > orders);
        await narbit.UntilAsync(async () => await SeenAsync(narbit, "prices-web-shop") > prices);
        var open = await KeysAsync(narbit, "state=open");
        open.Intersect(settled).ShouldBeEmpty("what was settled does not come back");
        await narbit.UntilAsync(async () =>
        {
            var acted = await LessonsAsync(narbit);
            return skus.Take(3).All(sku => acted.Any(l => l.Key.StartsWith(sku, StringComparison.Ordinal) && l.Value > 0));
        });
        var held = await narbit.GetAsync("/api/orders?stage=held&limit=200");
        held["rows"]!
            .AsArray()
            .Select(o => o!["key"]!.GetValue<string>())
            .ShouldNotContain(k => k.StartsWith("50", StringComparison.Ordinal));
    }

    private static async Task CompareAsync(RunningNarbit narbit)
    {
        foreach (var store in Stores.Append("web-shop"))
        {
            await narbit.EndedAsync(await narbit.StartRunAsync($"orders-{store}", preview: true));
            await narbit.EndedAsync(await narbit.StartRunAsync($"prices-{store}", preview: true));
        }

        foreach (var store in Stores)
            await narbit.UntilMismatchAsync($"system={store}&state=all&cause=ready.skuMissing", rows => rows.Count > 1);
        await narbit.UntilMismatchAsync("cause=order.unknownItem&state=all", rows => rows.Count > 2);
    }

    // Takes the way out as long as there is one: for all that are alike where there are others.
    private async Task SettleAsync(RunningNarbit narbit, Browser browser, string cause)
    {
        for (var left = await CountAsync(narbit, cause); left > 0; )
        {
            browser.Open($"/mismatches?cause={cause}");
            browser.See("Decide by hand", Desk);
            if (!browser.Text(Desk).Contains("Do this", StringComparison.Ordinal))
                return;
            var count = TakeShown(browser);
            await narbit.UntilAsync(async () => await CountAsync(narbit, cause) < left);
            left = await CountAsync(narbit, cause);
            Note(cause, count);
        }
    }

    // One, or all that are alike; how many.
    private int TakeShown(Browser browser)
    {
        if (!browser.Text(Desk).Contains("The same for", StringComparison.Ordinal))
        {
            Press(browser, "a");
            return 1;
        }

        Press(browser, "A");
        browser.See("Do it for all", Desk);
        var count = int.Parse(Regex.Match(browser.Text(Desk), @"Do it for all (\d+)").Groups[1].Value, CultureInfo.InvariantCulture);
        Press(browser, "A");
        return count;
    }

    // Corrections are previews, which are sent.
    private async Task CorrectAsync(RunningNarbit narbit, Browser browser, string cause)
    {
        for (var left = await CountAsync(narbit, cause); left > 0; )
        {
            browser.Open($"/mismatches?cause={cause}");
            browser.See("Decide by hand", Desk);
            if (!browser.Text(Desk).Contains("Do this", StringComparison.Ordinal))
                return;
            var count = TakeShown(browser);
            browser.Click("Look and send");
            browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the preview");
            var run = long.Parse(browser.Address.Split('/', '?')[2], CultureInfo.InvariantCulture);
            await narbit.EndedAsync(run);
            await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/send", new { all = true });
            await narbit.EndedAsync(run);
            await narbit.UntilAsync(async () => await CountAsync(narbit, cause) < left);
            left = await CountAsync(narbit, cause);
            _keys += 3;
            Note(cause, count);
        }
    }

    private void PutOff(Browser browser, string cause)
    {
        browser.Open($"/mismatches?cause={cause}");
        browser.See("Decide by hand", Desk);
        Press(browser, "d");
        browser.See("1 mismatch put off.");
        _causes.Add(cause);
    }

    private void Note(string cause, int count)
    {
        _causes.Add(cause);
        _settled += count;
        _together += count > 1 ? count : 0;
    }

    private void Press(Browser browser, string key)
    {
        browser.Press(key);
        _keys++;
    }

    private static async Task<IReadOnlyList<string>> LeftAsync(RunningNarbit narbit) =>
        [
            .. (await narbit.GetAsync("/api/mismatches/causes"))["causes"]!
                .AsArray()
                .Select(c => c!["cause"]!.GetValue<string>())
                .Where(c => !c.StartsWith("work.", StringComparison.Ordinal)),
        ];

    // How often the desk has looked at what a lane has there, by the one that it has seen most.
    private static async Task<int> SeenAsync(RunningNarbit narbit, string lane) =>
        (await narbit.GetAsync($"/api/mismatches?lane={lane}&state=all&limit=500"))["rows"]!
            .AsArray()
            .Max(r => r!["seen"]!.GetValue<int>());

    private static async Task<int> CountAsync(RunningNarbit narbit, string cause) =>
        (await narbit.GetAsync($"/api/mismatches?cause={cause}&limit=1"))["total"]!.GetValue<int>();

    private static async Task<HashSet<string>> KeysAsync(RunningNarbit narbit, string filter)
    {
        var keys = new HashSet<string>();
        for (var offset = 0; ; offset += 500)
        {
            var rows = (await narbit.GetAsync($"/api/mismatches?{filter}&limit=500&offset={offset}"))["rows"]!.AsArray();
            keys.UnionWith(rows.Select(r => $"{r!["cause"]} {r["system"]?["id"]} {r["key"]}"));
            if (rows.Count < 500)
                return keys;
        }
    }

    // What was learned, with how often it acted.
    private static async Task<Dictionary<string, int>> LessonsAsync(RunningNarbit narbit) =>
        JsonNode
            .Parse(await narbit.Http.GetStringAsync("/api/mismatches/learned"))!
            .AsArray()
            .SelectMany(l => l!["lessons"]!.AsArray())
            .GroupBy(l => l!["words"]!.GetValue<string>())
            .ToDictionary(g => g.Key, g => g.Max(l => l!["acted"]!.GetValue<int>()));
}
