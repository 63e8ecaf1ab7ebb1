using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Narbit.Sandbox.Orders;

namespace Narbit.Web.Tests;

/// <summary>What goes beside the way from stores to the hub, killed while it goes: orders of one store to another, and customers.</summary>
internal sealed class BesideStory(RunningNarbit narbit, Killing killing)
{
    /// <summary>What is bought at the market is sent from the web shop, each order once, and the market hears of it.</summary>
    public async Task OrdersAsync()
    {
        await narbit.PairAsync("clay-lane");
        var lane = await AddAsync("order", "clay-lane", "web-shop");
        await MarketRuleAsync(lane);
        var (shop, market) = (narbit.Sandbox.Orders.Shop, narbit.Sandbox.Orders.Market);
        var before = shop.All.Count;
        StoreOrder? sold = null;
        for (var round = 0; round < 3; round++)
        {
            await killing.SettledAsync(() => narbit.StartRunAsync(lane, preview: false));
            sold ??= market.All.Last(o => o.State == "in hand");
            for (var n = 0; n < 6; n++)
                market.Place(number => HardStory.Bought(sold with { State = "paid" }, "clay-lane", number));
        }

        await killing.SettledAsync(() => narbit.StartRunAsync(lane, preview: false));
        var moved = shop.All.Skip(before).ToList();
        moved.Count.ShouldBeGreaterThan(18);
        moved.Select(o => o.External).ShouldBeUnique();
        var bought = market.All.ToDictionary(o => o.Number, StringComparer.Ordinal);
        foreach (var order in moved)
        {
            var there = bought[order.External];
            (there.State, there.HubNumber).ShouldBe(("in hand", order.Number), order.External);
            order.Total.ShouldBe(there.Total - there.Shipping.Sum(s => s.Amount), order.External);
        }

        market.All.TakeLast(18).Select(o => o.Number).ShouldBeSubsetOf(moved.Select(o => o.External));
    }

    /// <summary>New customers of the hub become accounts of the portal, each once; what changes of the others is written.</summary>
    public async Task CustomersAsync()
    {
        await narbit.PairAsync("trade-portal", "customer");
        var lane = await AddAsync("customer", "back-office", "trade-portal");
        await new KilledStory(narbit, killing).MapAsync(lane, portion: 12, kind: "customer");
        var (book, accounts) = (narbit.Sandbox.Orders.Book, narbit.Sandbox.Accounts);
        var made = new List<string>();
        for (var round = 0; round < killing.Rounds; round++)
        {
            var before = accounts.All.Count;
            var numbers = accounts.All.Select(a => a.Number).ToHashSet(StringComparer.Ordinal);
            var known = book.Customers.Where(c => numbers.Contains(c.Number)).Take(10).ToList();
            foreach (var customer in known)
                book.Change(customer.Number, c => c with { Town = $"{round} Slip Row" }, [], null).ShouldBeNull();
            var writes = await killing.ConfirmedAsync(await killing.RunAsync(() => narbit.StartRunAsync(lane, preview: false)));
            made.AddRange(writes.Where(w => Text(w, "act") == "create").Select(w => Text(w, "targetKey")));
            var towns = accounts.All.ToLookup(a => a.Number, a => a.Town, StringComparer.Ordinal);
            known.ShouldAllBe(c => towns[c.Number].Single() == $"{round} Slip Row");
            (accounts.All.Count - before).ShouldBe(writes.Count(w => Text(w, "act") == "create"));
        }

        made.Count.ShouldBeGreaterThan(20);
        made.ShouldBeUnique();
    }

    private async Task<string> AddAsync(string kind, string source, string target)
    {
        var added = await narbit.SendAsync(
            HttpMethod.Post,
            "/api/lanes",
            new
            {
                kind,
                source,
                target,
            }
        );
        added.StatusCode.ShouldBe(System.Net.HttpStatusCode.Created, await added.Content.ReadAsStringAsync());
        return Text((await added.Content.ReadFromJsonAsync<JsonNode>())!, "id");
    }

    private async Task MarketRuleAsync(string lane)
    {
        var document = (await narbit.GetAsync($"/api/lanes/{lane}/rule/versions"))[0]!["document"]!;
        var rule = document["rule"]!;
        rule["cutOff"] = narbit.Sandbox.Orders.Market.All.Min(o => o.PlacedAt).AddDays(-1);
        rule["states"] = new JsonObject { ["paid"] = "take", ["unpaid"] = "wait" };
        rule["methods"] = new JsonObject { ["market"] = "invoice" };
        rule["shippingMethods"] = new JsonObject { ["home"] = "standard" };
        rule["discounts"] = "spread";
        rule["tax"]!["target"] = "gross";
        document["delivery"] = "zero";
        document["back"]!["acknowledged"] = "in hand";
        var changed = new
        {
            baseNumber = 1,
            document,
            guards = RunningNarbit.Unguarded,
        };
        var saved = await narbit.SendAsync(HttpMethod.Put, $"/api/lanes/{lane}/rule", changed);
        saved.StatusCode.ShouldBe(System.Net.HttpStatusCode.OK, await saved.Content.ReadAsStringAsync());
    }

    private static string Text(JsonNode node, string name) => node[name]!.GetValue<string>();
}
