using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Narbit.Sandbox;
using Narbit.Sandbox.Faults;

namespace Narbit.Web.Tests;

/// <summary>
/// Prices, creations, roll backs, endings, file drops and orders, each of them killed with SIGKILL again and again with the fault dials on;
/// then the stand-ins' own lists are compared with what Narbit says.
/// </summary>
internal sealed class KilledStory
{
    private const string Till = "quay-street-till";
    private readonly RunningNarbit _narbit;
    private readonly IEnumerable<int> _gaps;
    private readonly int _most;

    private KilledStory(RunningNarbit narbit, IEnumerable<int> gaps, int most)
    {
        (_narbit, _gaps, _most) = (narbit, gaps, most);
    }

    /// <summary>Tells the story.</summary>
    /// <param name="narbit">A fresh demo.</param>
    /// <param name="gaps">Signs of life between two kills; begun anew with each run, and at the end.</param>
    /// <param name="most">The most kills in one run.</param>
    /// <returns>How often each kind of run was killed.</returns>
    public static async Task<IReadOnlyDictionary<string, int>> TellAsync(RunningNarbit narbit, IEnumerable<int> gaps, int most)
    {
        var story = new KilledStory(narbit, gaps, most);
        narbit.Sandbox.Dials["web-shop"].Shares = new FaultShares
        {
            TooMany = 0.04,
            Error = 0.05,
            LostBefore = 0.03,
            LostAfter = 0.05,
            Twice = 0.08,
            HalfPage = 0.06,
            RetryAfter = 0,
        };
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares { Error = 0.1, HalfPage = 0.1 };
        var prices = await story.PricesAsync();
        var rollBack = await story.RolledBackAsync(prices.Run);
        var creations = await story.CreationsAsync();
        var endings = await story.EndingsAsync(creations.Run);
        var drops = await story.DropsAsync();
        var orders = await story.OrdersAsync();
        return new Dictionary<string, int>
        {
            ["prices"] = prices.Kills,
            ["roll backs"] = rollBack,
            ["creations"] = creations.Kills,
            ["endings"] = endings,
            ["drops"] = drops,
            ["orders"] = orders,
        };
    }

    private async Task<(long Run, int Kills)> PricesAsync()
    {
        await _narbit.SaveMarkupAsync();
        var (run, kills) = await KilledAsync(() => _narbit.StartRunAsync("prices-web-shop", preview: false));
        var writes = await ConfirmedAsync(run);
        writes.Count.ShouldBeGreaterThan(150);
        ShouldHold(writes, "new");
        var applied = _narbit.Sandbox.Shop.Applied;
        applied.GroupBy(a => a.Key).ShouldAllBe(g => g.Count() == 1);
        applied.GroupBy(a => a.VariantId).ShouldAllBe(g => g.Count() == 1);
        applied.Count.ShouldBe(writes.Count);
        return (run, kills);
    }

    private async Task<int> RolledBackAsync(long run)
    {
        var before = _narbit.Sandbox.Shop.Applied.Count;
        var done = await ConfirmedAsync(run);
        var planned = await PlanRollBackAsync(run);
        var (back, kills) = await KilledAsync(() => SendAsync(planned));
        var writes = await ConfirmedAsync(back);
        writes.Count.ShouldBe(done.Count);
        ShouldHold(done, "old");
        (_narbit.Sandbox.Shop.Applied.Count - before).ShouldBe(writes.Count);
        return kills;
    }

    private async Task<(long Run, int Kills)> CreationsAsync()
    {
        await MapAsync("items-web-shop", portion: 40);
        var (variants, skus) = Shop();
        var (run, kills) = await KilledAsync(() => _narbit.StartRunAsync("items-web-shop", preview: false));
        var created = (await ConfirmedAsync(run)).Where(w => Text(w, "act") == "create").ToList();
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
        return (run, kills);
    }

    private async Task<int> EndingsAsync(long run)
    {
        var created = (await ConfirmedAsync(run)).Where(w => Text(w, "act") == "create").ToList();
        var (before, _) = Shop();
        var planned = await PlanRollBackAsync(run, [.. created.Select(w => w["id"]!.GetValue<long>())]);
        var (back, kills) = await KilledAsync(() => SendAsync(planned));
        var ended = await ConfirmedAsync(back);
        ended.Select(w => Text(w, "act")).Distinct().ShouldBe(["end"]);
        ended.Count.ShouldBe(created.Count);
        (before - Shop().Variants).ShouldBe(created.Count);
        return kills;
    }

    private async Task<int> DropsAsync()
    {
        await MapAsync($"items-{Till}", portion: 30);
        var articles = TillSkus();
        var (run, kills) = await KilledAsync(() => _narbit.StartRunAsync($"items-{Till}", preview: false));
        var created = (await ConfirmedAsync(run)).Where(w => Text(w, "act") == "create").ToList();
        created.Count.ShouldBeGreaterThan(5);
        var now = TillSkus();
        (now.Count - articles.Count).ShouldBe(created.Count);
        created.Select(w => Text(w, "targetKey")).ShouldBeUnique();
        return kills;
    }

    private async Task<int> OrdersAsync()
    {
        const string Lane = "orders-web-shop";
        var version = (await _narbit.GetAsync($"/api/lanes/{Lane}/rule/versions"))[0]!;
        var saved = await _narbit.SendAsync(
            HttpMethod.Put,
            $"/api/lanes/{Lane}/rule",
            new
            {
                baseNumber = 1,
                document = version["document"],
                guards = RunningNarbit.Unguarded,
            }
        );
        saved.StatusCode.ShouldBe(HttpStatusCode.OK, await saved.Content.ReadAsStringAsync());
        var (run, kills) = await KilledAsync(() => _narbit.StartRunAsync(Lane, preview: false));
        var posted = (await ConfirmedAsync(run)).Where(w => Text(w, "record") == "order" && Text(w, "act") == "create").ToList();
        var book = _narbit.Sandbox.Orders.Book;
        book.Documents.Count.ShouldBe(posted.Count);
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Credits.Select(c => c.ExternalNumber).ShouldBeUnique();
        book.Customers.Where(c => string.CompareOrdinal(c.Number, "40190") >= 0).Select(c => c.Email).ShouldBeUnique();
        var orders = _narbit.Sandbox.Orders.Shop.All.ToLookup(o => o.Number);
        book.Documents.ShouldAllBe(d => orders[d.ExternalNumber].First().HubNumber == d.Number);
        book.Documents.ShouldAllBe(d => orders[d.ExternalNumber].First().Total == d.Lines.Sum(l => l.Gross));
        return kills;
    }

    // Starts a run and kills the process after so many signs of life of it, again and again, until the run is over.
    private async Task<(long Run, int Kills)> KilledAsync(Func<Task<long>> start)
    {
        using var gaps = Endless(_gaps).GetEnumerator();
        var life = Next(gaps);
        var run = await start();
        var kills = 0;
        for (; kills < _most && !await OverBeforeAsync(life, run); kills++)
        {
            await _narbit.KillAsync();
            life.Dispose();
            life = Next(gaps);
            await _narbit.BeginAsync();
        }

        life.Dispose();
        await _narbit.UntilAsync(() => OverAsync(run));
        return (run, kills);
    }

    private SignsOfLife Next(IEnumerator<int> gaps)
    {
        gaps.MoveNext();
        return new SignsOfLife(_narbit.Sandbox, gaps.Current);
    }

    private async Task<bool> OverBeforeAsync(SignsOfLife life, long run)
    {
        while (!life.Enough.IsCompleted)
        {
            if (await OverAsync(run))
                return !life.Enough.IsCompleted;
            await Task.WhenAny(life.Enough, Task.Delay(100));
        }

        return false;
    }

    // Requests that reach the stand-ins, and files that are dropped in or written by the till.
    private sealed class SignsOfLife : IDisposable
    {
        private readonly SandboxHost _sandbox;
        private readonly FileSystemWatcher _drops;
        private readonly TaskCompletionSource _enough = new(TaskCreationOptions.RunContinuationsAsynchronously);
        private int _left;

        public SignsOfLife(SandboxHost sandbox, int enough)
        {
            (_sandbox, _left) = (sandbox, enough);
            foreach (var dial in sandbox.Dials.Values)
                dial.Asked += Sign;
            _drops = new FileSystemWatcher(sandbox.TillFolders.Folder, "*.csv")
            {
                IncludeSubdirectories = true,
                EnableRaisingEvents = true,
            };
            _drops.Renamed += Dropped;
        }

        public Task Enough => _enough.Task;

        private void Sign()
        {
            if (Interlocked.Decrement(ref _left) == 0)
                _enough.TrySetResult();
        }

        private void Dropped(object sender, RenamedEventArgs e) => Sign();

        public void Dispose()
        {
            _drops.Dispose();
            foreach (var dial in _sandbox.Dials.Values)
                dial.Asked -= Sign;
        }
    }

    // A run that a fault has failed is tried again, as a person would.
    private async Task<bool> OverAsync(long run)
    {
        try
        {
            var state = Text((await _narbit.GetAsync($"/api/runs/{run}"))["run"]!, "state");
            if (state == "failed")
                await _narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/again");
            return state is not ("working" or "failed");
        }
        catch (HttpRequestException)
        {
            return false;
        }
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

    // A map of what is suggested, by which everything new is created, some at a time.
    private async Task MapAsync(string lane, int portion)
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
                document = new { kind = "item", map },
                guards = RunningNarbit.Unguarded,
            }
        );
        saved.StatusCode.ShouldBe(HttpStatusCode.OK, await saved.Content.ReadAsStringAsync());
    }

    // Every write of a run that is over; what was not held is confirmed.
    private async Task<List<JsonNode>> ConfirmedAsync(long run)
    {
        var writes = new List<JsonNode>();
        for (var offset = 0; ; offset += 500)
        {
            var rows = (await _narbit.GetAsync($"/api/runs/{run}/writes?limit=500&offset={offset}"))["rows"]!.AsArray();
            writes.AddRange(rows.Select(r => r!));
            if (rows.Count < 500)
                break;
        }

        var sent = writes.Where(w => Text(w, "state") is not "held").ToList();
        sent.Where(w => Text(w, "state") != "confirmed").Select(w => w.ToJsonString()).ShouldBeEmpty();
        return sent;
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

    private static IEnumerable<int> Endless(IEnumerable<int> gaps)
    {
        while (true)
            foreach (var gap in gaps)
                yield return gap;
    }
}
