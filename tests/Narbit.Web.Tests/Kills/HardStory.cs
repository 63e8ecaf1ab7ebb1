using System.Globalization;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Stores;

namespace Narbit.Web.Tests;

/// <summary>
/// Everything else that Narbit does, killed while it does it: stock, orders to hubs of three habits and from four stores, readings,
/// pairs, tables, files of a workspace, acts of the mismatch desk, proofs. Afterwards the stand-ins' own books say what is true.
/// </summary>
internal sealed class HardStory(RunningNarbit narbit, Killing killing)
{
    /// <summary>What is told, each of a fresh demo.</summary>
    public static readonly IReadOnlyDictionary<string, Func<RunningNarbit, Killing, Task>> All = new Dictionary<
        string,
        Func<RunningNarbit, Killing, Task>
    >
    {
        ["prices"] = (n, k) => Dialled(n, k).PricesAsync(),
        ["roll backs"] = async (n, k) => await Dialled(n, k).RolledBackAsync(await Dialled(n, k).PricesAsync()),
        ["creations"] = (n, k) => Dialled(n, k).CreationsAsync(),
        ["endings"] = async (n, k) => await Dialled(n, k).EndingsAsync(await Dialled(n, k).CreationsAsync()),
        ["drops"] = (n, k) => Dialled(n, k).DropsAsync(),
        ["stock"] = (n, k) => new HardStory(n, k).StockAsync(),
        ["orders, hub with keys and look-up"] = (n, k) => new HardStory(n, k).OrdersAsync("both"),
        ["orders, hub with keys only"] = (n, k) => new HardStory(n, k).OrdersAsync("key"),
        ["orders, hub with look-up only"] = (n, k) => new HardStory(n, k).OrdersAsync("find"),
        ["orders of the portal"] = (n, k) => new HardStory(n, k).StoreAsync("trade-portal"),
        ["orders of the market"] = (n, k) => new HardStory(n, k).StoreAsync("clay-lane"),
        ["sales of the till"] = (n, k) => new HardStory(n, k).StoreAsync("quay-street-till"),
        ["postings taken back"] = (n, k) => Dialled(n, k).UndoneAsync(),
        ["orders of the market to the shop"] = (n, k) => Beside(n, k).OrdersAsync(),
        ["customers to the portal"] = (n, k) => Beside(n, k).CustomersAsync(),
        ["small turns"] = (n, k) => new HardStory(n, k).TurnsAsync(),
        ["readings"] = (n, k) => new HardStory(n, k).ReadingsAsync(),
        ["pairs"] = (n, k) => new HardStory(n, k).PairsAsync(),
        ["workspace files"] = (n, k) => new HardStory(n, k).ImportsAsync(),
        ["desk acts"] = (n, k) => new HardStory(n, k).DeskAsync(),
        ["proofs"] = (n, k) => new HardStory(n, k).ProofsAsync(),
    };

    private static readonly RecordKind[] Posted = [RecordKind.Order, RecordKind.Customer, RecordKind.Payment, RecordKind.CreditNote];

    private static KilledStory Dialled(RunningNarbit narbit, Killing killing)
    {
        TurnDials(narbit, "both");
        return new KilledStory(narbit, killing);
    }

    private static BesideStory Beside(RunningNarbit narbit, Killing killing)
    {
        TurnDials(narbit, "both");
        return new BesideStory(narbit, killing);
    }

    // Both sides behave badly. A hub that goes by no keys would make twice what reaches it twice, whoever asks.
    private static void TurnDials(RunningNarbit narbit, string hub)
    {
        foreach (var (name, dial) in narbit.Sandbox.Dials)
            dial.Shares = new FaultShares
            {
                TooMany = 0.03,
                Error = 0.04,
                LostBefore = 0.02,
                LostAfter = 0.04,
                FailedAfter = 0.04,
                DoneLate = 0.02,
                LateSeconds = 0.8,
                HalfPage = 0.04,
                Twice = name == "back-office" && hub == "find" ? 0 : 0.05,
                RetryAfter = 0,
            };
    }

    private async Task StockAsync()
    {
        const string Lane = "stock-web-shop";
        TurnDials(narbit, "both");
        await narbit.UnguardAsync(Lane);
        foreach (var article in narbit.Sandbox.Catalogue.Articles.Take(160))
        foreach (var (location, shelf) in article.Stock.Take(1))
            narbit.Sandbox.Office.Edit(article.Number, null, null, location, shelf.OnHand + 7);
        var run = await killing.RunAsync(() => narbit.StartRunAsync(Lane, preview: false));
        var writes = await killing.ConfirmedAsync(run);
        writes.Count.ShouldBeGreaterThan(60);
        foreach (var write in writes)
        {
            var id = long.Parse(Text(write, "targetKey"), CultureInfo.InvariantCulture);
            var there = narbit.Sandbox.Shop.Lookup([id], found => found.Single().Variant.Quantity);
            there.ShouldBe(int.Parse(Text(write, "new"), CultureInfo.InvariantCulture), write.ToJsonString());
        }

        var applied = narbit.Sandbox.Shop.Applied.Where(a => a.Quantity is not null).ToList();
        applied.Select(a => a.Key).ShouldBeUnique();
        applied.Count.ShouldBe(writes.Count);
    }

    private async Task OrdersAsync(string hub)
    {
        var book = narbit.Sandbox.Orders.Book;
        (book.HonoursKeys, book.KnowsNumbers) = (hub != "find", hub == "both");
        await narbit.DescribeAsync("back-office", document => Offer(document, hub));
        TurnDials(narbit, hub);
        await new KilledStory(narbit, killing).OrdersAsync(givesUp: hub == "find");

        // Goods are sent and come back; the other way is killed too.
        var shop = narbit.Sandbox.Orders.Shop;
        var sent = book.Documents.Where(d => book.Credits.All(c => c.Document != d.Number)).Take(40).ToList();
        foreach (var document in sent)
        {
            book.Ship(document.Number, all: true, "Moor Post", $"MP-{document.Number}");
            var order = shop.All.First(o => o.Number == document.ExternalNumber);
            shop.GiveBack(order.Id, order.Lines[0].Id, 1, gross: true);
        }

        var back = shop.All.Where(o => o.Refunds.Count > 0).Select(o => o.Number).ToHashSet(StringComparer.Ordinal);
        await killing.SettledAsync(() => narbit.StartRunAsync("orders-web-shop", preview: false), givesUp: hub == "find");
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Credits.Select(c => c.ExternalNumber).ShouldBeUnique();
        book.Receipts.Select(r => r.ExternalNumber).Where(e => e.Length > 0).ShouldBeUnique();
        var credited = book.Credits.Select(c => c.Document).ToHashSet(StringComparer.Ordinal);
        var owed = sent.Where(d => back.Contains(d.ExternalNumber)).ToList();
        owed.Count.ShouldBeGreaterThan(20);
        owed.Where(d => !credited.Contains(d.Number)).Select(d => d.ExternalNumber).ShouldBeEmpty();
        foreach (var document in sent)
            shop.All.First(o => o.Number == document.ExternalNumber).Parcels.Select(p => p.Tracking).ShouldBe([$"MP-{document.Number}"]);
    }

    private static void Offer(JsonNode description, string hub)
    {
        var kinds = Posted.Select(k => System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(k.ToString())).ToList();
        foreach (var resource in description["resources"]!.AsArray().Where(r => kinds.Contains(Text(r!, "kind"))))
        {
            if (resource!["create"] is not JsonObject create)
                continue;
            if (hub == "key")
                resource.AsObject().Remove("find");
            create["honoursKeys"] = hub != "find";
        }
    }

    private async Task StoreAsync(string store)
    {
        await narbit.PairAsync(store);
        await narbit.UnguardAsync($"orders-{store}");
        TurnDials(narbit, "both");
        var (book, drawer) = (narbit.Sandbox.Orders.Book, Drawer(store));
        // What is bought while it runs is in the next run.
        for (var round = 0; round < 3; round++)
        {
            // From the second round on it is what the hub has taken before.
            var posted = book.Documents.Select(d => d.ExternalNumber).ToHashSet(StringComparer.Ordinal);
            var sold = drawer.All.Last(o => o.Lines.Count > 0 && (round == 0 || posted.Contains(o.Number)));
            for (var n = 0; n < 4; n++)
                drawer.Place(number => Bought(sold, store, number));
            await killing.SettledAsync(() => narbit.StartRunAsync($"orders-{store}", preview: false));
        }

        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Credits.Select(c => c.ExternalNumber).ShouldBeUnique();
        book.Documents.Count.ShouldBeGreaterThan(10);
        var orders = drawer.All.ToLookup(o => o.Number);
        book.Documents.ShouldAllBe(d => orders[d.ExternalNumber].First().Total == d.Lines.Sum(l => l.Gross));
        await narbit.StoredAsync(async db =>
        {
            // Whatever the store has was read, from files that are put away too.
            var read = await db.Records.CountAsync(r => r.SystemId == store && r.Kind == RecordKind.Order && r.GoneAt == null);
            read.ShouldBe(drawer.All.Count);
            var posted = await db.OrderStandings.Where(o => o.HubKey != null && o.LaneId == $"orders-{store}").ToListAsync();
            posted.Select(o => o.HubKey).ShouldBeUnique();
            posted.Count.ShouldBe(book.Documents.Count);
        });
    }

    // Purchases of which the market's notices tell; whatever was taken of them is worked by whoever starts again.
    private async Task TurnsAsync()
    {
        const string Lane = "orders-clay-lane";
        await narbit.PairAsync("clay-lane");
        await narbit.UnguardAsync(Lane);
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: false));
        await narbit.AddJobAsync(Lane, everyMinutes: 1440, atOnce: true);
        var told = await narbit.SendAsync(HttpMethod.Post, "/api/systems/clay-lane/hook/secret", new { });
        var secret = Text((await told.Content.ReadFromJsonAsync<JsonNode>())!, "secret");
        var (notices, market, book) = (narbit.Sandbox.Notices, narbit.Sandbox.Orders.Market, narbit.Sandbox.Orders.Book);
        notices.To = (new Uri(narbit.Address, "/hooks/clay-lane"), secret);
        notices.Shares = new Sandbox.Orders.NoticeShares(Twice: 0.3, Late: 0.2);
        TurnDials(narbit, "both");
        var posted = book.Documents.Select(d => d.ExternalNumber).ToHashSet(StringComparer.Ordinal);
        var sold = market.All.Last(o => posted.Contains(o.Number)) with { State = "paid", PaymentState = "paid" };
        for (var round = 0; round < killing.Rounds; round++)
        {
            var before = market.All.Count;
            await killing.WorkAsync(
                async () =>
                {
                    for (var n = 0; n < 4; n++)
                        market.Place(number => Bought(sold, "clay-lane", number));
                    await narbit.UntilAsync(() => ToldAllAsync(market.All.Skip(before)));
                },
                () => Task.FromResult(market.All.Skip(before).All(o => o.HubNumber.Length > 0))
            );
        }

        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        var numbers = book.Documents.ToDictionary(d => d.ExternalNumber, d => d.Number, StringComparer.Ordinal);
        market.All.TakeLast(4 * killing.Rounds).ShouldAllBe(o => numbers[o.Number] == o.HubNumber);
    }

    private async Task<bool> ToldAllAsync(IEnumerable<Sandbox.Orders.StoreOrder> orders)
    {
        var told = false;
        await narbit.StoredAsync(async db =>
        {
            var keys = await db.HookEvents.Select(e => e.RecordKey).ToListAsync();
            told = orders.All(o => keys.Contains(o.Id));
        });
        return told;
    }

    /// <summary>What was sold once, bought again as the order of a number.</summary>
    internal static Sandbox.Orders.StoreOrder Bought(Sandbox.Orders.StoreOrder sold, string store, int number) =>
        sold with
        {
            Id = $"{number + 70_000}",
            Number = store == "quay-street-till" ? Sandbox.Till.TillSales.Receipt(number + 70_000) : $"{sold.Number[..1]}{number + 70_000}",
            HubNumber = "",
            External = "",
            Refunds = [],
            Parcels = [],
        };

    private Sandbox.Orders.StoreOrders Drawer(string store) =>
        store switch
        {
            "trade-portal" => narbit.Sandbox.Orders.Portal,
            "clay-lane" => narbit.Sandbox.Orders.Market,
            _ => narbit.Sandbox.Orders.Till,
        };

    private async Task ReadingsAsync()
    {
        TurnDials(narbit, "both");
        var shop = narbit.Sandbox.Shop;
        var variants = Variants();
        foreach (var id in variants.Take(40))
            shop.SetPrice(id, 12_34);
        foreach (var id in variants.TakeLast(3))
            shop.Remove(id);
        string[] systems = ["web-shop", "back-office", "trade-portal", "clay-lane", "web-shop"];
        foreach (var system in systems.Take(killing.Rounds))
        {
            await ReadAsync(system, killed: true);
            // One is taken away between two pages, wherever the reading is.
            shop.Remove(Variants()[5]);
        }

        foreach (var dial in narbit.Sandbox.Dials.Values)
            dial.Shares = new FaultShares();
        foreach (var system in new[] { "web-shop", "back-office", "trade-portal", "clay-lane" })
            await ReadAsync(system, killed: false);
        await narbit.StoredAsync(async db =>
        {
            (await LiveAsync(db, "web-shop", RecordKind.Item)).ShouldBe(Variants().ConvertAll(Key).Order(StringComparer.Ordinal));
            (await LiveAsync(db, "back-office", RecordKind.Item)).ShouldBe(
                narbit.Sandbox.Catalogue.Articles.Select(a => a.Number).Order(StringComparer.Ordinal)
            );
            (await LiveAsync(db, "trade-portal", RecordKind.Item)).ShouldBe(Listed(narbit.Sandbox.Portal));
            (await LiveAsync(db, "clay-lane", RecordKind.Item)).ShouldBe(Listed(narbit.Sandbox.Market));
        });
    }

    private static List<string> Listed(StoreState store) =>
        store.Read(0, int.MaxValue, null, (all, _) => all.Select(l => l.Id).Order(StringComparer.Ordinal).ToList());

    private List<long> Variants() =>
        narbit.Sandbox.Shop.Page(1, 100_000, null, (all, _) => all.SelectMany(p => p.Variants).Select(v => v.Id).ToList());

    private static string Key(long id) => id.ToString(CultureInfo.InvariantCulture);

    private static Task<List<string>> LiveAsync(NarbitContext db, string system, RecordKind kind) =>
        db.Records.Where(r => r.SystemId == system && r.Kind == kind && r.GoneAt == null).Select(r => r.Key).OrderBy(k => k).ToListAsync();

    // A whole reading. Nobody takes one up that was cut off but who asks for the next.
    private async Task ReadAsync(string system, bool killed)
    {
        List<MirrorRead> before = [];
        await narbit.StoredAsync(async db => before = await NewestAsync(db, system));
        var asked = -1;
        async Task AskAsync()
        {
            asked = killing.Kills;
            var answer = await narbit.SendAsync(HttpMethod.Post, $"/api/systems/{system}/read", new { full = true });
            answer.IsSuccessStatusCode.ShouldBeTrue(await answer.Content.ReadAsStringAsync());
        }

        async Task<bool> IsReadAsync()
        {
            List<MirrorRead> now = [];
            await narbit.StoredAsync(async db => now = await NewestAsync(db, system));
            var mine = now.Where(r => before.All(b => b.Id != r.Id)).ToList();
            if (mine.Count == before.Count && mine.TrueForAll(r => r.State == ReadState.Done))
                return true;
            if (asked != killing.Kills || mine.Exists(r => r.State == ReadState.Failed))
                await AskAsync();
            return false;
        }

        if (killed)
        {
            await killing.WorkAsync(AskAsync, IsReadAsync);
            return;
        }

        await AskAsync();
        await narbit.UntilAsync(IsReadAsync);
    }

    private static Task<List<MirrorRead>> NewestAsync(NarbitContext db, string system) =>
        db
            .Reads.AsNoTracking()
            .Where(r => r.SystemId == system && !db.Reads.Any(o => o.SystemId == system && o.Kind == r.Kind && o.Id > r.Id))
            .ToListAsync();

    private async Task PairsAsync()
    {
        const string Store = "trade-portal";
        var couple = await narbit.CoupleAsync(Store);
        var (id, certain) = (couple["id"]!.GetValue<long>(), couple["counts"]!["certain"]!.GetValue<int>());
        certain.ShouldBeGreaterThan(40);
        var before = await LinksAsync(id);
        async Task<int> CountedAsync(string count) => (await narbit.CoupleAsync(Store))["counts"]![count]!.GetValue<int>();
        async Task<bool> WholeAsync(string count, int none, int all)
        {
            var now = await CountedAsync(count);
            now.ShouldBeOneOf(none, all);
            return now == all;
        }

        async Task<bool> InForceAsync(int none, int all)
        {
            var links = await LinksAsync(id);
            links.Count.ShouldBeOneOf(none, all);
            links.Select(l => l.Hub).ShouldBeUnique();
            return links.Count == all;
        }

        Task<HttpResponseMessage> Asked(string path, object? body = null) =>
            narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/{path}", body);
        var accepts = new
        {
            act = "accept",
            show = "certain",
            expected = certain,
        };
        var commits = new { only = (long[]?)null, note = "killed" };
        await killing.ActAsync(() => Asked("decisions/all", accepts), () => WholeAsync("waiting", 0, certain));
        await killing.ActAsync(() => Asked("commit", commits), () => InForceAsync(before.Count, before.Count + certain));
        var table = await narbit.Http.GetStringAsync($"/api/couples/{id}/table?form=csv");
        var batch = (await narbit.GetAsync($"/api/couples/{id}/batches"))[0]!["id"]!.GetValue<long>();
        await killing.ActAsync(() => Asked($"batches/{batch}/undo"), () => InForceAsync(before.Count + certain, before.Count));
        (await LinksAsync(id)).ShouldBe(before, ignoreOrder: true);
        (await narbit.SendAsync(HttpMethod.Delete, $"/api/couples/{id}/decisions")).Dispose();
        await killing.ActAsync(() => TableAsync(id, table), () => WholeAsync("waiting", 0, certain));
        await killing.ActAsync(() => Asked("commit", commits), () => InForceAsync(before.Count, before.Count + certain));
    }

    private async Task<HttpResponseMessage> TableAsync(long couple, string table)
    {
        using var form = new MultipartFormDataContent();
        using var file = new ByteArrayContent(Encoding.UTF8.GetBytes(table));
        form.Add(file, "file", "pairs.csv");
        return await narbit.Http.PostAsync($"/api/couples/{couple}/table", form);
    }

    private async Task<List<(string Hub, string Other)>> LinksAsync(long couple)
    {
        List<(string, string)> links = [];
        await narbit.StoredAsync(async db =>
            links = [.. (await db.Links.AsNoTracking().Where(l => l.CoupleId == couple).ToListAsync()).Select(l => (l.HubKey, l.OtherKey))]
        );
        return links;
    }

    private async Task ImportsAsync()
    {
        var plain = await narbit.Http.GetByteArrayAsync("/api/workspace/files");
        foreach (var lane in new[] { "prices-web-shop", "stock-web-shop", "items-web-shop" })
        {
            await narbit.AddJobAsync(lane, 1440);
            (
                await narbit.SendAsync(HttpMethod.Put, $"/api/lanes/{lane}/name", new { name = $"{lane}, renamed" })
            ).EnsureSuccessStatusCode();
            await narbit.UnguardAsync(lane);
        }

        var other = await narbit.Http.GetByteArrayAsync("/api/workspace/files");
        for (var round = 0; round < killing.Rounds; round++)
            foreach (var files in new[] { plain, other })
                await TakeAsync(files);
    }

    private async Task TakeAsync(byte[] files)
    {
        async Task<JsonNode> LookAsync()
        {
            var answer = await SentAsync("look", files);
            return (await answer.Content.ReadFromJsonAsync<JsonNode>())!;
        }

        var looked = await LookAsync();
        looked["faults"]!.AsArray().ShouldBeEmpty();
        var all = looked["changes"]!.AsArray().Count;
        all.ShouldBeGreaterThan(3);
        await killing.ActAsync(
            () => SentAsync($"?basis={looked["basis"]}", files),
            async () =>
            {
                looked = await LookAsync();
                // All of it or nothing.
                looked["changes"]!.AsArray().Count.ShouldBeOneOf(0, all);
                return looked["changes"]!.AsArray().Count == 0;
            }
        );
    }

    private async Task<HttpResponseMessage> SentAsync(string path, byte[] files)
    {
        using var form = new MultipartFormDataContent();
        using var file = new ByteArrayContent(files);
        form.Add(file, "file", "workspace.zip");
        return await narbit.Http.PostAsync($"/api/workspace/files/{path}", form);
    }

    private async Task DeskAsync()
    {
        foreach (var store in new[] { "trade-portal", "clay-lane" })
            await narbit.UntilMismatchAsync($"cause=pair.likely&system={store}", rows => rows.Count > 1);
        var likely = (await narbit.UntilMismatchAsync("cause=pair.likely", _ => true)).Select(m => m!["id"]!.GetValue<long>()).ToArray();
        var take = new { act = "take", ids = likely };
        var before = await AllLinksAsync();
        for (var round = 0; round < killing.Rounds; round++)
        {
            await killing.ActAsync(
                () => narbit.SendAsync(HttpMethod.Post, "/api/mismatches/acts", take),
                async () => await OpenOfAsync(likely) == 0 || (await AllLinksAsync()).Count > before.Count
            );
            // Whatever was done of it is taken back by the acts that are written down.
            await killing.ActAsync(
                async () => await narbit.SendAsync(HttpMethod.Post, $"/api/mismatches/acts/{await NewestActAsync()}/undo"),
                async () => await NewestActAsync() is null
            );
            (await AllLinksAsync()).ShouldBe(before, ignoreOrder: true);
            await narbit.UntilAsync(async () => await OpenOfAsync(likely) == likely.Length);
        }
    }

    private async Task<int> OpenOfAsync(long[] ids)
    {
        var open = 0;
        await narbit.StoredAsync(async db =>
            open = await db.Mismatches.CountAsync(m => ids.Contains(m.Id) && m.State == Data.Mismatches.MismatchState.Open)
        );
        return open;
    }

    private async Task<long?> NewestActAsync()
    {
        long? act = null;
        await narbit.StoredAsync(async db =>
            act = await db
                .MismatchActs.Where(a => a.UndoneAt == null && a.Kind == Data.Mismatches.MismatchActKind.Applied)
                .MaxAsync(a => (long?)a.Id)
        );
        return act;
    }

    private async Task<List<(long Couple, string Hub, string Other)>> AllLinksAsync()
    {
        List<(long, string, string)> links = [];
        await narbit.StoredAsync(async db =>
            links = [.. (await db.Links.AsNoTracking().ToListAsync()).Select(l => (l.CoupleId, l.HubKey, l.OtherKey))]
        );
        return links;
    }

    private async Task ProofsAsync()
    {
        TurnDials(narbit, "both");
        var killed = await ProveAsync(start => killing.WorkAsync(start, IsProvedAsync));
        foreach (var dial in narbit.Sandbox.Dials.Values)
            dial.Shares = new FaultShares();
        var quiet = await ProveAsync(async start =>
        {
            await start();
            await narbit.UntilAsync(IsProvedAsync);
        });
        killed.ShouldBe(quiet);
        killed.Count.ShouldBeGreaterThan(8);
    }

    private async Task<bool> IsProvedAsync() => !(await narbit.GetAsync("/api/proofs"))["atWork"]!.GetValue<bool>();

    // What a round found, without its instants.
    private async Task<List<string>> ProveAsync(Func<Func<Task>, Task> prove)
    {
        await prove(async () => (await narbit.SendAsync(HttpMethod.Post, "/api/proofs")).EnsureSuccessStatusCode());
        List<string> found = [];
        await narbit.StoredAsync(async db =>
        {
            var round = await db.ProofRounds.MaxAsync(r => r.Id);
            found =
            [
                .. (await db.Proofs.AsNoTracking().Where(p => p.RoundId == round).OrderBy(p => p.LaneId).ToListAsync()).Select(p =>
                    $"{p.LaneId}: {p.Records} {p.RecordsInStep} {p.ToSend} {p.ChangedThere} {p.Mistaken} {p.Why?.Code}"
                ),
            ];
        });
        return found;
    }

    private static string Text(JsonNode node, string name) => node[name]!.GetValue<string>();
}
