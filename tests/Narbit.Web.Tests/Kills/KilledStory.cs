using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Narbit.Sandbox.Faults;

namespace Narbit.Web.Tests;

/// <summary>
/// Prices, creations, roll backs, endings, file drops and orders, each of them killed again and again with the fault dials on; then the
/// stand-ins' own lists are compared with what Narbit says.
/// </summary>
internal sealed class KilledStory(RunningNarbit narbit, Killing killing)
{
    private const string Till = "quay-street-till";
    private readonly RunningNarbit _narbit = narbit;

    /// <summary>Tells the story.</summary>
    /// <param name="narbit">A fresh demo.</param>
    /// <param name="gaps">Signs of life between two kills.</param>
    /// <param name="most">The most kills in one run.</param>
    /// <returns>How often each kind of run was killed.</returns>
    public static async Task<IReadOnlyDictionary<string, int>> TellAsync(RunningNarbit narbit, IEnumerable<int> gaps, int most)
    {
        var killing = new Killing(narbit, gaps, most);
        var story = new KilledStory(narbit, killing);
        story.TurnDials();
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares { Error = 0.1, HalfPage = 0.1 };
        var counts = new Dictionary<string, int>();
        async Task<long> CountedAsync(string what, Func<Task<long>> tell)
        {
            var before = killing.Kills;
            var run = await tell();
            counts[what] = killing.Kills - before;
            return run;
        }

        var prices = await CountedAsync("prices", story.PricesAsync);
        await CountedAsync("roll backs", () => story.RolledBackAsync(prices));
        var creations = await CountedAsync("creations", story.CreationsAsync);
        await CountedAsync("endings", () => story.EndingsAsync(creations));
        await CountedAsync("drops", story.DropsAsync);
        await CountedAsync("orders", () => story.OrdersAsync());
        return counts;
    }

    /// <summary>Lets the web shop behave badly.</summary>
    public void TurnDials() =>
        _narbit.Sandbox.Dials["web-shop"].Shares = new FaultShares
        {
            TooMany = 0.04,
            Error = 0.05,
            LostBefore = 0.03,
            LostAfter = 0.05,
            Twice = 0.08,
            HalfPage = 0.06,
            RetryAfter = 0,
        };

    /// <summary>Prices are sent, each once.</summary>
    public async Task<long> PricesAsync()
    {
        await _narbit.SaveMarkupAsync();
        var run = await killing.RunAsync(() => _narbit.StartRunAsync("prices-web-shop", preview: false));
        var writes = await killing.ConfirmedAsync(run);
        writes.Count.ShouldBeGreaterThan(150);
        ShouldHold(writes, "new");
        var applied = _narbit.Sandbox.Shop.Applied;
        applied.GroupBy(a => a.Key).ShouldAllBe(g => g.Count() == 1);
        applied.GroupBy(a => a.VariantId).ShouldAllBe(g => g.Count() == 1);
        applied.Count.ShouldBe(writes.Count);
        return run;
    }

    /// <summary>What was sent is taken back, each once.</summary>
    public async Task<long> RolledBackAsync(long run)
    {
        var before = _narbit.Sandbox.Shop.Applied.Count;
        var done = await killing.ConfirmedAsync(run);
        var planned = await PlanRollBackAsync(run);
        var back = await killing.RunAsync(() => SendAsync(planned));
        var writes = await killing.ConfirmedAsync(back);
        writes.Count.ShouldBe(done.Count);
        ShouldHold(done, "old");
        (_narbit.Sandbox.Shop.Applied.Count - before).ShouldBe(writes.Count);
        return back;
    }

    /// <summary>What is new is created, each once, and paired.</summary>
    public async Task<long> CreationsAsync()
    {
        await MapAsync("items-web-shop", portion: 40);
        var (variants, skus) = Shop();
        var run = await killing.RunAsync(() => _narbit.StartRunAsync("items-web-shop", preview: false));
        var created = (await killing.ConfirmedAsync(run)).Where(w => Text(w, "act") == "create").ToList();
        created.Count.ShouldBeGreaterThan(5);
        var (now, more) = Shop();
        (now - variants).ShouldBe(created.Count);
        created.Select(w => Text(w, "targetKey")).ShouldBeUnique();
        more.GroupBy(s => s)
            .Where(g => g.Count() > 1)
            .Select(g => g.Key)
            .Except(skus.GroupBy(s => s).Where(g => g.Count() > 1).Select(g => g.Key))
            .ShouldBeEmpty();
        await _narbit.StoredAsync(db =>
        {
            foreach (var write in created)
                db.Links.Where(l => l.OtherKey == Text(write, "targetKey"))
                    .Select(l => l.HubKey)
                    .ToList()
                    .ShouldBe([Text(write, "sourceKey")]);
            return Task.CompletedTask;
        });
        return run;
    }

    /// <summary>What was created is ended.</summary>
    public async Task<long> EndingsAsync(long run)
    {
        var created = (await killing.ConfirmedAsync(run)).Where(w => Text(w, "act") == "create").ToList();
        var (before, _) = Shop();
        var planned = await PlanRollBackAsync(run, [.. created.Select(w => w["id"]!.GetValue<long>())]);
        var back = await killing.RunAsync(() => SendAsync(planned));
        var ended = await killing.ConfirmedAsync(back);
        ended.Select(w => Text(w, "act")).Distinct().ShouldBe(["end"]);
        ended.Count.ShouldBe(created.Count);
        (before - Shop().Variants).ShouldBe(created.Count);
        return back;
    }

    /// <summary>What is new is dropped into a folder, each once.</summary>
    public async Task<long> DropsAsync()
    {
        await MapAsync($"items-{Till}", portion: 30 / killing.Rounds);
        long run = 0;
        for (var round = 0; round < killing.Rounds; round++)
        {
            var articles = TillSkus();
            run = await killing.RunAsync(() => _narbit.StartRunAsync($"items-{Till}", preview: false));
            var created = (await killing.ConfirmedAsync(run)).Where(w => Text(w, "act") == "create").ToList();
            created.Count.ShouldBeGreaterThan(5);
            var now = TillSkus();
            (now.Count - articles.Count).ShouldBe(created.Count);
            created.Select(w => Text(w, "targetKey")).ShouldBeUnique();
        }

        return run;
    }

    /// <summary>Orders are posted, each once, with what belongs to it.</summary>
    /// <param name="givesUp">Whether the hub has no keys, so that a run may give up what it failed over twice.</param>
    public async Task<long> OrdersAsync(bool givesUp = false)
    {
        const string Lane = "orders-web-shop";
        await _narbit.UnguardAsync(Lane);
        var (run, confirmed) = await killing.SettledAsync(() => _narbit.StartRunAsync(Lane, preview: false), givesUp);
        var posted = confirmed.Where(w => Text(w, "record") == "order" && Text(w, "act") == "create").ToList();
        var book = _narbit.Sandbox.Orders.Book;
        book.Documents.Count.ShouldBe(posted.Count);
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Credits.Select(c => c.ExternalNumber).ShouldBeUnique();
        book.Customers.Where(c => string.CompareOrdinal(c.Number, "40190") >= 0).Select(c => c.Email).ShouldBeUnique();
        var orders = _narbit.Sandbox.Orders.Shop.All.ToLookup(o => o.Number);
        book.Documents.ShouldAllBe(d => orders[d.ExternalNumber].First().HubNumber == d.Number);
        book.Documents.ShouldAllBe(d => orders[d.ExternalNumber].First().Total == d.Lines.Sum(l => l.Gross));
        return run;
    }

    /// <summary>Postings are taken out of the hub again, each once, and stay out until a person decides.</summary>
    public async Task<long> UndoneAsync()
    {
        var run = await OrdersAsync();
        var posted = (await killing.ConfirmedAsync(run)).Where(w => Text(w, "record") == "order" && Text(w, "act") == "create");
        var taken = posted.Take(12).ToList();
        var planned = await PlanRollBackAsync(run, [.. taken.Select(w => w["id"]!.GetValue<long>())]);
        var back = await killing.RunAsync(() => SendAsync(planned));
        // The shop keeps the number that it was told; that stands on the order.
        var ended = (await killing.SentAsync(back)).Where(w => Text(w, "act") == "end").ToList();
        ended.Count.ShouldBe(taken.Count);
        ended.ShouldAllBe(w => Text(w, "state") == "confirmed");
        await killing.SettledAsync(() => _narbit.StartRunAsync("orders-web-shop", preview: false));
        var (book, orders) = (_narbit.Sandbox.Orders.Book, _narbit.Sandbox.Orders.Shop.All.ToLookup(o => o.Id));
        foreach (var write in taken)
            book.Documents.ShouldNotContain(d => d.ExternalNumber == orders[Text(write, "sourceKey")].First().Number);
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        return back;
    }

    private async Task<long> PlanRollBackAsync(long run, long[]? only = null)
    {
        var response = await _narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/rollback", new { only });
        response.StatusCode.ShouldBe(HttpStatusCode.Accepted, await response.Content.ReadAsStringAsync());
        var back = (await response.Content.ReadFromJsonAsync<JsonNode>())!["runId"]!.GetValue<long>();
        Text(await _narbit.EndedAsync(back), "state").ShouldBe("ready");
        return back;
    }

    private async Task<long> SendAsync(long run)
    {
        (await _narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/send", new { all = true })).EnsureSuccessStatusCode();
        return run;
    }

    /// <summary>A map of what is suggested, by which everything new is created, some at a time.</summary>
    public async Task MapAsync(string lane, int portion, string kind = "item")
    {
        var answer = await _narbit.SendAsync(HttpMethod.Post, $"/api/lanes/{lane}/map/suggest", new { map = new { } });
        var suggested = (await answer.Content.ReadFromJsonAsync<JsonNode>())!.AsArray();
        var map = new JsonObject
        {
            ["fields"] = new JsonArray([.. suggested.Select(s => s!["mapping"]!.DeepClone())]),
            ["crosswalks"] = new JsonArray([.. suggested.Select(s => s!["crosswalk"]?.DeepClone()).OfType<JsonNode>()]),
            ["publish"] = new JsonObject { ["new"] = "all", ["portion"] = portion },
        };
        var saved = await _narbit.SendAsync(
            HttpMethod.Put,
            $"/api/lanes/{lane}/rule",
            new
            {
                baseNumber = 1,
                document = new { kind, map },
                guards = RunningNarbit.Unguarded,
            }
        );
        saved.StatusCode.ShouldBe(HttpStatusCode.OK, await saved.Content.ReadAsStringAsync());
    }

    private void ShouldHold(IEnumerable<JsonNode> writes, string which)
    {
        foreach (var write in writes)
        {
            var id = long.Parse(Text(write, "targetKey"), CultureInfo.InvariantCulture);
            var cents = _narbit.Sandbox.Shop.Lookup([id], found => found.Single().Variant.PriceCents);
            (cents / 100m).ShouldBe(decimal.Parse(Text(write, which), CultureInfo.InvariantCulture), write.ToJsonString());
        }
    }

    private (int Variants, List<string> Skus) Shop() =>
        _narbit.Sandbox.Shop.Page(
            1,
            100_000,
            null,
            (all, _) => (all.Sum(p => p.Variants.Count), all.SelectMany(p => p.Variants).Select(v => v.Sku).ToList())
        );

    private List<string> TillSkus() => _narbit.Sandbox.Till.Read(0, int.MaxValue, null, (all, _) => all.Select(l => l.Sku).ToList());

    private static string Text(JsonNode node, string name) => node[name]!.GetValue<string>();
}
