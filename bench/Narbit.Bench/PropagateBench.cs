using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Search;
using Narbit.Sandbox;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Stores;
using Narbit.Sandbox.WebShop;

namespace Narbit.Bench;

/// <summary>
/// How long it takes from a purchase at the market until the other stores show what is left: by a job that runs at once, with Narbit as a
/// process of its own; beside a baseline that writes the same numbers to the stand-ins directly.
/// </summary>
internal sealed class PropagateBench : IAsyncDisposable
{
    private static readonly string[] Stores = ["web-shop", "trade-portal", "quay-street-till"];
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(20);
    private const int Plenty = 900;
    private const int MostWares = 200;
    private const int MostSecondsAfter = 120;

    private readonly SandboxHost _sandbox;
    private readonly Process _narbit;
    private readonly HttpClient _http;
    private readonly string _data;
    private readonly List<Sale> _sales = [];

    private IReadOnlyDictionary<string, IAdapter>? _writers;

    private PropagateBench(SandboxHost sandbox, Process narbit, HttpClient http, string data) =>
        (_sandbox, _narbit, _http, _data) = (sandbox, narbit, http, data);

    // An item that every store sells under one listing, and how many pieces of it there are.
    private sealed record Ware(string Article, Listing AtMarket, IReadOnlyDictionary<string, string> Keys, int Available);

    // A purchase, how many pieces are left after it, and after how many seconds each of the other stores showed so.
    private sealed record Sale(Ware Ware, int Left, long At)
    {
        public Dictionary<string, double> Seen { get; } = [];
    }

    public static async Task<int> RunAsync(string server, int items, double rate, int seconds)
    {
        await using var bench = await StartAsync(server, items);
        var wares = await bench.PrepareAsync();
        Console.WriteLine($"{items:N0} items, {wares.Count:N0} of them sold everywhere; {rate:0.#} purchases a second for {seconds} s");
        await bench.BaselineAsync(wares);
        await bench.SellAsync(wares, rate, seconds);
        return await bench.ReportAsync();
    }

    private static async Task<PropagateBench> StartAsync(string server, int items)
    {
        var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: items, Orders: 20));
        var data = Directory.CreateTempSubdirectory("narbit-propagate");
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true };
        var port = FreePort();
        string[] args =
        [
            server,
            "--urls",
            $"http://127.0.0.1:{port}",
            "--data",
            data.FullName,
            "--sandbox",
            sandbox.Address.ToString(),
            "--files",
            sandbox.Folder,
        ];
        foreach (var arg in args)
            start.ArgumentList.Add(arg);
        var narbit = Process.Start(start)!;
        narbit.OutputDataReceived += (_, _) => { };
        narbit.BeginOutputReadLine();
        var http = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{port}"), Timeout = TimeSpan.FromMinutes(5) };
        return new PropagateBench(sandbox, narbit, http, data.FullName);
    }

    // Everything that is certain is paired, nothing is guarded, and a job for the market runs at once.
    private async Task<IReadOnlyList<Ware>> PrepareAsync()
    {
        foreach (var store in new[] { "clay-lane", "trade-portal", "quay-street-till" })
            await PairAsync(store);
        string[] lanes = ["orders-clay-lane", .. Stores.Select(s => $"stock-{s}")];
        var rule = (await _http.GetFromJsonAsync<JsonNode>("/api/lanes/stock-trade-portal/rule/versions"))![0]!["document"]!;
        // The till shows what there is everywhere, as the others do, and is brought in step by its file.
        foreach (var lane in lanes)
            await UnguardAsync(lane, lane == "stock-quay-street-till" ? rule : null);
        var secret = await SendAsync(HttpMethod.Post, "/api/systems/clay-lane/hook/secret", null);
        _sandbox.Notices.To = (new Uri(_http.BaseAddress!, "/hooks/clay-lane"), secret!["secret"]!.GetValue<string>());
        await SendAsync(
            HttpMethod.Post,
            "/api/jobs",
            new
            {
                name = "Market",
                lanes = lanes.Select(l => new { lane = l }),
                atOnce = true,
            }
        );
        // Orders that were there before are taken first.
        await SendAsync(HttpMethod.Post, "/api/lanes/orders-clay-lane/runs", new { preview = false });
        await IdleAsync();
        await FindableAsync();
        return [.. (await LinkedAsync()).Select(Plentiful)];
    }

    // There is plenty of it, and every store shows as much.
    private Ware Plentiful(Ware ware)
    {
        _sandbox.Office.Edit(ware.Article, null, null, Locations.Kilnyard, Plenty);
        var available = Available(ware.Article);
        foreach (var store in Stores)
            if (Of(store) is { } state)
                state.Edit([new ListingEdit { Id = ware.Keys[store], Quantity = available }]);
            else
                _sandbox.Shop.Update([
                    new ShopEdit { VariantId = long.Parse(ware.Keys[store], CultureInfo.InvariantCulture), Quantity = available },
                ]);
        return ware with { Available = available };
    }

    // What is linked once in each store.
    private async Task<IReadOnlyList<Ware>> LinkedAsync()
    {
        await using var db = new Database(Path.Combine(_data, "narbit.db")).CreateDbContext();
        var couples = await db.Couples.Where(c => c.Kind == RecordKind.Item).ToDictionaryAsync(c => c.Id, c => c.OtherId);
        var links = await db
            .Links.Where(l => !l.IsKit)
            .Select(l => new
            {
                l.CoupleId,
                l.HubKey,
                l.OtherKey,
            })
            .ToListAsync();
        var wares = new List<Ware>();
        foreach (var item in links.GroupBy(l => l.HubKey))
        {
            var own = item.GroupBy(l => couples[l.CoupleId]).Where(g => g.Count() == 1).ToDictionary(g => g.Key, g => g.First().OtherKey);
            if (
                !own.TryGetValue("clay-lane", out var market)
                || !Stores.All(own.ContainsKey)
                || Of("clay-lane")!.Find([market], l => l.Count == 1 ? l[0] : null) is not { Price: > 0, Sku.Length: > 0 } listing
            )
                continue;
            wares.Add(new Ware(item.Key, listing, own, 0));
        }

        return [.. wares.Take(MostWares)];
    }

    private int Available(string article) => _sandbox.Office.Find(article)?.Stock.Values.Sum(s => s.OnHand - s.Allocated) ?? 0;

    private StoreState? Of(string store) =>
        store switch
        {
            "clay-lane" => _sandbox.Market,
            "trade-portal" => _sandbox.Portal,
            "quay-street-till" => _sandbox.Till,
            _ => null,
        };

    private int? Shown(string store, string key) =>
        Of(store) is { } state
            ? state.Find([key], l => l.Count == 1 ? l[0].Quantity : (int?)null)
            : _sandbox.Shop.Lookup<int?>([long.Parse(key, CultureInfo.InvariantCulture)], v => v.Count == 1 ? v[0].Variant.Quantity : null);

    private async Task SellAsync(IReadOnlyList<Ware> wares, double rate, int seconds)
    {
        var buy = Counters.Market(_sandbox.Orders.Market).Sell;
        var sold = wares.ToDictionary(w => w.Article, _ => 0);
        var total = (int)(rate * seconds);
        var clock = Stopwatch.StartNew();
        for (var n = 0; clock.Elapsed.TotalSeconds < seconds + MostSecondsAfter; )
        {
            for (; n < total && clock.Elapsed.TotalSeconds >= n / rate; n++)
                Buy(wares[n % wares.Count], sold, buy);
            Look();
            if (n == total && _sales.TrueForAll(s => s.Seen.Count == Stores.Length))
                break;
            await Task.Delay(5);
        }
    }

    private void Buy(Ware ware, Dictionary<string, int> sold, Func<Listing, int, Func<string, string>, string> buy)
    {
        buy(ware.AtMarket, 1, _ => "");
        var placed = _sandbox.Orders.Market.All[^1];
        _sandbox.Orders.Market.Change(placed.Id, Buyer);
        _sales.Add(new Sale(ware, ware.Available - ++sold[ware.Article], Stopwatch.GetTimestamp()));
    }

    // Everybody buys once, and nobody is like anybody else.
    private static StoreOrder Buyer(StoreOrder order)
    {
        var paid = Counters.Paid(order);
        return paid with { BillTo = paid.BillTo! with { Name = $"Buyer {order.Id}" } };
    }

    // A store shows what is left once it shows no more than that.
    private void Look()
    {
        foreach (var sale in _sales)
            if (sale.Seen.Count < Stores.Length)
                foreach (var store in Stores)
                    if (!sale.Seen.ContainsKey(store) && Shown(store, sale.Ware.Keys[store]) <= sale.Left)
                        sale.Seen[store] = Stopwatch.GetElapsedTime(sale.At).TotalSeconds;
    }

    private async Task<int> ReportAsync()
    {
        var lost = _sales.Count(s => s.Seen.Count < Stores.Length);
        foreach (var store in Stores)
            Tell(store, [.. _sales.Where(s => s.Seen.ContainsKey(store)).Select(s => s.Seen[store])]);
        Tell("all three", [.. _sales.Where(s => s.Seen.Count == Stores.Length).Select(s => s.Seen.Values.Max())]);
        _narbit.Refresh();
        var turns = await _http.GetFromJsonAsync<JsonNode>("/api/timetable/turns?limit=500&Outcome=done");
        var runs = await _http.GetFromJsonAsync<JsonNode>("/api/runs?limit=500");
        var requests = runs!["rows"]!.AsArray().Sum(r => r!["traffic"]!["requests"]!.GetValue<int>());
        Console.WriteLine(
            $"{_sales.Count:N0} purchases, {lost} not seen everywhere; {turns!["total"]} turns; {requests:N0} requests in the last "
                + $"{Math.Min(500, runs["total"]!.GetValue<int>())} runs; {_narbit.WorkingSet64 >> 20:N0} MiB"
        );
        return lost == 0 ? 0 : 1;
    }

    private static void Tell(string what, List<double> seconds)
    {
        if (seconds.Count == 0)
            return;
        seconds.Sort();
        double At(double share) => seconds[Math.Min(seconds.Count - 1, (int)(seconds.Count * share))];
        Console.WriteLine($"{what}: {At(0.5):0.00} s in the middle, {At(0.95):0.00} s for 95 %, {seconds[^1]:0.00} s at most");
    }

    // The same numbers, written to the same stores by the same adapters, with nothing in between.
    private async Task BaselineAsync(IReadOnlyList<Ware> wares)
    {
        var took = new List<double>();
        foreach (var ware in wares.Take(40))
        {
            var begun = Stopwatch.GetTimestamp();
            await Task.WhenAll(Writers.Select(w => w.Value.WriteAsync(RecordKind.Item, [Write(w.Key, ware)], default)));
            took.Add(Stopwatch.GetElapsedTime(begun).TotalSeconds);
        }

        Tell("baseline, written directly to the shop and the portal", took);
    }

    private IReadOnlyDictionary<string, IAdapter> Writers =>
        _writers ??= new[] { "web-shop", "trade-portal" }.ToDictionary(
            id => id,
            id =>
            {
                var document = SystemDocument.Read(File.ReadAllText(Path.Combine("demo", "systems", $"{id}.json"))).Value;
                var credential =
                    id == "web-shop" ? new Credential("narbit", "shopfront-demo") : new Credential(null, "studio-trade-demo-token");
                var address = document.Address.Replace(
                    "http://127.0.0.1:5181",
                    _sandbox.Address.ToString().TrimEnd('/'),
                    StringComparison.Ordinal
                );
                return document
                    .Adapter(address, credential, new OutboundPolicy(AllowLoopback: true, Files: null), TimeProvider.System)
                    .Value;
            }
        );

    private RecordWrite Write(string store, Ware ware)
    {
        var field = Writers[store].Kinds.First(k => k.Kind == RecordKind.Item).Fields.Find(FieldRole.OnHand)!;
        var shown = Shown(store, ware.Keys[store])!.Value;
        return new RecordWrite(ware.Keys[store], $"{Guid.NewGuid():N}", new Dictionary<string, string?> { [field.Name] = $"{shown}" });
    }

    private async Task PairAsync(string store)
    {
        var couple = await UntilAsync(
            async () =>
                (await _http.GetFromJsonAsync<JsonNode>("/api/couples"))!
                    .AsArray()
                    .FirstOrDefault(c =>
                        c!["other"]!["id"]!.GetValue<string>() == store
                        && c["kind"]!.GetValue<string>() == "item"
                        && c["counts"]!["certain"]!.GetValue<int>() > 0
                    ),
            $"{store} to be compared"
        );
        var path = $"/api/couples/{couple["id"]}";
        foreach (var show in new[] { "certain", "likely" })
            if (couple["counts"]![show]!.GetValue<int>() is > 0 and var expected)
                await SendAsync(
                    HttpMethod.Post,
                    $"{path}/decisions/all",
                    new
                    {
                        act = "accept",
                        show,
                        expected,
                    }
                );
        await SendAsync(HttpMethod.Post, $"{path}/commit", new { only = (long[]?)null, note = (string?)null });
    }

    private async Task UnguardAsync(string lane, JsonNode? document)
    {
        var newest = (await _http.GetFromJsonAsync<JsonNode>($"/api/lanes/{lane}/rule/versions"))![0]!;
        var guards = new JsonObject();
        foreach (var (name, value) in newest["guards"]!.AsObject())
            guards[name] = value?.GetValueKind() is System.Text.Json.JsonValueKind.True or System.Text.Json.JsonValueKind.False
                ? false
                : null;
        await SendAsync(
            HttpMethod.Put,
            $"/api/lanes/{lane}/rule",
            new
            {
                baseNumber = newest["number"]!.GetValue<int>(),
                document = document ?? newest["document"],
                guards,
            }
        );
    }

    private Task<JsonNode> IdleAsync() =>
        UntilAsync(
            async () =>
                (await _http.GetFromJsonAsync<JsonNode>("/api/runs?outcome=working"))! is var runs && runs["total"]!.GetValue<int>() == 0
                    ? runs
                    : null,
            "runs to be over"
        );

    // What was read for the first time is taken into the search index in the minutes after; measured is what comes then.
    private Task<JsonNode> FindableAsync()
    {
        var (store, read) = (new SearchStore(new Database(Path.Combine(_data, "narbit.db"))), DateTimeOffset.UtcNow.UtcTicks);
        return UntilAsync(async () => await store.UpToAsync(default) > read ? JsonValue.Create(true) : null, "records to be findable");
    }

    private static async Task<JsonNode> UntilAsync(Func<Task<JsonNode?>> look, string what)
    {
        var begun = Stopwatch.StartNew();
        while (begun.Elapsed < Patience)
        {
            try
            {
                if (await look() is { } found)
                    return found;
            }
            catch (HttpRequestException)
            {
                // It is still starting.
            }

            await Task.Delay(200);
        }

        throw new TimeoutException($"Waited for {what}.");
    }

    private async Task<JsonNode?> SendAsync(HttpMethod method, string path, object? body)
    {
        using var request = new HttpRequestMessage(method, path) { Content = JsonContent.Create(body ?? new { }) };
        using var answer = await _http.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        if (!answer.IsSuccessStatusCode)
            throw new InvalidOperationException($"{path}: {(int)answer.StatusCode} {text}");
        return text.Length == 0 ? null : JsonNode.Parse(text);
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    public async ValueTask DisposeAsync()
    {
        _narbit.Kill(entireProcessTree: true);
        await _narbit.WaitForExitAsync();
        _narbit.Dispose();
        _http.Dispose();
        await _sandbox.DisposeAsync();
    }
}
