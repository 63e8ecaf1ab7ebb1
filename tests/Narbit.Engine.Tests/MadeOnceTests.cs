using System.Globalization;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Runs;
using Narbit.Sandbox.Faults;

namespace Narbit.Engine.Tests;

/// <summary>Nothing is made twice, whatever a hub offers to ask it by, and whichever run finds out.</summary>
public sealed class MadeOnceTests
{
    private static readonly string[] Posted = ["order", "customer", "payment", "creditNote"];

    [Theory]
    [InlineData("key")]
    [InlineData("find")]
    [InlineData("both")]
    public async Task A_new_run_settles_what_a_failed_one_left_open_and_makes_nothing_again(string offers)
    {
        await using var bench = await Workbench.OpenAsync(orders: 120, edit: (id, d) => Offering(d, offers));
        var book = bench.Sandbox.Orders.Book;
        (book.HonoursKeys, book.KnowsNumbers) = (offers != "find", offers == "both");
        var lane = await OrderLaneTests.LaneAsync(bench);
        // The first write is carried out, its answer is lost, and then the hub is silent.
        bench.OfficeDial.Shares = new FaultShares(LostAfter: 0.5, FailedAfter: 0.5, WritesOnly: true);
        bench.OfficeDial.Asked += Silent;
        var failed = await bench.RunAsync(lane, preview: false);
        failed.State.ShouldBe(RunState.Failed);
        (await bench.WritesAsync(failed.Id)).ShouldContain(w => w.State == WriteState.Unknown);
        (book.Documents.Count + book.Customers.Count(IsNew)).ShouldBeGreaterThan(0);

        bench.OfficeDial.Asked -= Silent;
        bench.OfficeDial.Shares = new FaultShares();
        var next = await NextAsync(bench, lane);
        next.State.ShouldBe(RunState.Done, await bench.SaidAsync(next));
        await ShouldBeThereOnceAsync(bench);
        (await bench.WritesAsync(failed.Id)).ShouldNotContain(w => w.State == WriteState.Unknown || w.State == WriteState.Sent);

        // What was tried again of the first run finds everything settled.
        await bench.Runs.TryAgainAsync(failed.Id, default);
        await bench.EndedAsync(failed.Id);
        await ShouldBeThereOnceAsync(bench);

        void Silent()
        {
            if (bench.OfficeDial.Dealt > 0)
                bench.OfficeDial.Shares = new FaultShares(LostBefore: 1);
        }
    }

    [Fact]
    public async Task An_order_that_is_found_at_the_hub_is_known_as_posted_whenever_the_process_ends()
    {
        await using var bench = await Workbench.OpenAsync(orders: 60, edit: (id, d) => Offering(d, "both"));
        var lane = await OrderLaneTests.LaneAsync(bench);
        bench.OfficeDial.Shares = new FaultShares(LostAfter: 1, WritesOnly: true);
        bench.OfficeDial.Asked += Silent;
        var run = await bench.RunAsync(lane, preview: false);
        bench.OfficeDial.Asked -= Silent;
        bench.OfficeDial.Shares = new FaultShares();
        await SqlAsync("CREATE TRIGGER Ends BEFORE UPDATE ON OrderStandings WHEN NEW.HubKey <> '' BEGIN SELECT RAISE(ABORT, 'ended'); END");
        await AgainAsync();
        await SqlAsync("DROP TRIGGER Ends");
        (await AgainAsync()).State.ShouldBe(RunState.Done);
        await using var db = bench.Database.CreateDbContext();
        (await db.OrderStandings.CountAsync(o => o.HubKey != null)).ShouldBe(bench.Sandbox.Orders.Book.Documents.Count);

        // All of the first documents are there, and nobody knows it.
        void Silent()
        {
            if (bench.Sandbox.Orders.Book.Documents.Count > 0)
                bench.OfficeDial.Shares = new FaultShares(LostBefore: 1);
        }

        async Task<Run> AgainAsync()
        {
            await bench.Runs.TryAgainAsync(run.Id, default);
            return await bench.EndedAsync(run.Id);
        }

        async Task SqlAsync(string statement)
        {
            await using var at = bench.Database.CreateDbContext();
            await at.Database.ExecuteSqlRawAsync(statement);
        }
    }

    // What came before it in its request was made all the same, and what came after it was not.
    [Theory]
    [InlineData("key", RunState.Failed)]
    [InlineData("find", RunState.Done)]
    [InlineData("both", RunState.Failed)]
    public async Task An_order_over_which_the_hub_fails_stops_no_other(string offers, RunState ends)
    {
        await using var bench = await Workbench.OpenAsync(orders: 120, edit: (id, d) => Offering(d, offers));
        var book = bench.Sandbox.Orders.Book;
        (book.HonoursKeys, book.KnowsNumbers) = (offers != "find", false);
        var lane = await OrderLaneTests.LaneAsync(bench);
        var preview = await bench.RunAsync(lane, preview: true);
        var orders = (await bench.WritesAsync(preview.Id)).Where(w => w.Record == RecordKind.Order && w.Act == WriteAct.Create).ToList();
        book.BreaksAt = orders[7].Reference;
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(ends, await bench.SaidAsync(run));
        book.Documents.Count.ShouldBe(orders.Count - 1);
        await ShouldBeThereOnceAsync(bench);

        book.BreaksAt = null;
        (await NextAsync(bench, lane)).State.ShouldBe(RunState.Done);
        book.Documents.Count.ShouldBe(orders.Count);
        await ShouldBeThereOnceAsync(bench);
    }

    // The hub does it when nobody waits for its answer any more, and a while after it would have been asked for it at once.
    [Theory]
    [InlineData("key")]
    [InlineData("find")]
    public async Task What_a_hub_does_late_is_waited_for_before_it_is_done_again(string offers)
    {
        await using var bench = await Workbench.OpenAsync(
            orders: 120,
            edit: (id, d) =>
            {
                Offering(d, offers);
                if (id == "back-office")
                    d["limits"]!["timeoutSeconds"] = 1.5;
            }
        );
        var book = bench.Sandbox.Orders.Book;
        (book.HonoursKeys, book.KnowsNumbers) = (offers != "find", false);
        var lane = await OrderLaneTests.LaneAsync(bench);
        bench.OfficeDial.Shares = new FaultShares(DoneLate: 1, LateSeconds: 2.9, WritesOnly: true);
        bench.OfficeDial.Asked += Mended;
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, await bench.SaidAsync(run));
        await ShouldBeThereOnceAsync(bench);

        void Mended()
        {
            if (bench.OfficeDial.Dealt > 5)
                bench.OfficeDial.Shares = new FaultShares();
        }
    }

    // A run is stopped while its first request is under way; what it asked for is done seconds later, when another run was begun.
    [Fact]
    public async Task What_a_stopped_run_left_under_way_does_not_overwrite_what_the_next_one_sends()
    {
        await using var bench = await Workbench.OpenAsync(edit: Impatient);
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var stopped = await StoppedUnderWayAsync(bench, Workbench.Prices);
        var sent = (await bench.WritesAsync(stopped)).First(w => w.State == WriteState.Unknown);
        bench.Sandbox.Office.Edit(sent.SourceKey, "Studio", decimal.Parse(sent.Fields[0].New!, CultureInfo.InvariantCulture), null, null);

        var next = await bench.RunAsync(Workbench.Prices, preview: false);
        next.State.ShouldBe(RunState.Done, await bench.SaidAsync(next));
        var prices = bench.Shop.Applied.Where(a => a.VariantId.ToString(CultureInfo.InvariantCulture) == sent.TargetKey).ToList();
        prices.Count.ShouldBe(2, "the late one and the new one");
        prices[^1].Key.ShouldNotBe(sent.IdempotencyKey);
        bench.Variant(sent.TargetKey).PriceCents.ShouldBe(prices[^1].PriceCents!.Value);
        (await bench.WritesAsync(stopped)).ShouldNotContain(w => w.State == WriteState.Unknown);
    }

    private static void Impatient(string id, JsonObject description)
    {
        if (id == "web-shop")
            description["limits"]!["timeoutSeconds"] = 2;
    }

    private static async Task<long> StoppedUnderWayAsync(Workbench bench, string lane)
    {
        bench.ShopDial.Shares = new FaultShares(DoneLate: 1, LateSeconds: 3.5, WritesOnly: true);
        var underWay = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        bench.ShopDial.Kept += Gone;
        var run = (await bench.Runs.StartAsync(lane, false, RunTrigger.Person, "Tester", default)).Value;
        await underWay.Task;
        (await bench.Runs.StopAsync(run, "Tester", default)).Fault.ShouldBeNull();
        bench.ShopDial.Kept -= Gone;
        (await bench.EndedAsync(run)).Why!.Code.ShouldBe("run.stopped");
        bench.ShopDial.Shares = new FaultShares();
        return run;

        void Gone() => underWay.TrySetResult();
    }

    [Fact]
    public async Task Keys_of_creations_are_the_same_in_every_run_until_one_is_settled_and_say_nothing_of_the_record()
    {
        await using var bench = await Workbench.OpenAsync(orders: 60);
        var lane = await OrderLaneTests.LaneAsync(bench);
        var (first, second) = (await KeysAsync(bench, lane), await KeysAsync(bench, lane));
        first.Count.ShouldBeGreaterThan(10);
        second.ShouldBe(first, ignoreOrder: true);
        first.Values.ShouldBeUnique();
        first.ShouldAllBe(k => !k.Value.Contains(k.Key.Split(' ')[1]));

        var run = await bench.RunAsync(lane, preview: false);
        var taken = (await bench.WritesAsync(run.Id)).First(w => w.Record == RecordKind.Order && w.Act == WriteAct.Create);
        var back = (await bench.Runs.RollBackAsync(run.Id, [taken.Id], "Tester", default)).Value;
        await bench.EndedAsync(back);
        await bench.Runs.SendAsync(back, new Choice(true), "Tester", default);
        (await bench.EndedAsync(back)).State.ShouldBe(RunState.Done);
        var desk = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        await using (var db = bench.Database.CreateDbContext())
            await desk.UndoAsync(lane, (await db.OrderDecisions.SingleAsync(d => d.Kind == OrderChoiceKind.Rest)).Id, default);
        // What was taken out is made anew under another key, or the hub would say that it has it.
        var anew = await KeysAsync(bench, lane);
        anew[$"Order {taken.SourceKey}"].ShouldNotBe(taken.IdempotencyKey);
    }

    [Theory]
    [InlineData(502)]
    [InlineData(408)]
    [InlineData(429)]
    [InlineData(200)]
    public async Task What_may_have_been_done_is_not_repeated_without_a_key_that_the_system_honours(int status)
    {
        await using var book = await OrderBook.StartAsync(orders: 0);
        using var adapter = book.Adapter(d =>
        {
            var orders = d["resources"]![0]!;
            orders["create"]!["honoursKeys"] = false;
            orders["find"] = new JsonObject
            {
                ["field"] = "note",
                ["path"] = "orders",
                ["parameter"] = "notes",
            };
            d["limits"]!["attempts"] = 6;
        });
        var asked = 0;
        book.Creation = body =>
        {
            asked++;
            foreach (var order in body["orders"]!.AsArray())
                book.Make(order!.AsObject());
            return Microsoft.AspNetCore.Http.Results.Content("<html>No</html>", "text/html", statusCode: status);
        };
        RecordWrite[] orders =
        [
            .. new[] { "a", "b" }.Select(key => new RecordWrite(key, key, new Dictionary<string, string?> { ["note"] = key })
            {
                Act = WriteAct.Create,
            }),
        ];
        var answers = await adapter.WriteAsync(RecordKind.Order, orders, default);
        answers.ShouldAllBe(a => a.Fate == WriteFate.Unknown);
        (asked, book.Orders.Count).ShouldBe((1, 2));
    }

    // The first attempt is carried out behind a 502; what is said to the second, with the same key, is no answer to the first.
    [Theory]
    [InlineData(401, WriteFate.Unknown)]
    [InlineData(403, WriteFate.Unknown)]
    [InlineData(404, WriteFate.Unknown)]
    [InlineData(409, WriteFate.Unknown)]
    [InlineData(422, WriteFate.Refused)]
    public async Task A_no_to_a_repetition_does_not_say_that_nothing_was_done(int status, WriteFate fate)
    {
        await using var book = await OrderBook.StartAsync(orders: 0);
        using var adapter = book.Adapter(d => d["limits"]!["attempts"] = 6);
        var asked = 0;
        book.Creation = body =>
        {
            if (asked++ == 0)
                book.Make(body["orders"]![0]!.AsObject());
            return Microsoft.AspNetCore.Http.Results.Content("{}", "application/json", statusCode: asked == 1 ? 502 : status);
        };
        RecordWrite Order(bool inDoubt) =>
            new("a", "a", new Dictionary<string, string?> { ["note"] = "a" }) { Act = WriteAct.Create, InDoubt = inDoubt };
        (await adapter.WriteAsync(RecordKind.Order, [Order(inDoubt: false)], default))[0].Fate.ShouldBe(fate);
        book.Orders.Count.ShouldBe(1);
        // The same where the attempt was another run's; who was never in doubt takes a no for a no.
        (await adapter.WriteAsync(RecordKind.Order, [Order(inDoubt: true)], default))[0]
            .Fate.ShouldBe(fate);
        (await adapter.WriteAsync(RecordKind.Order, [Order(inDoubt: false)], default))[0].Fate.ShouldBe(WriteFate.Refused);
    }

    [Fact]
    public async Task A_hub_that_lets_nobody_in_for_a_while_is_not_believed_to_have_done_nothing_before()
    {
        await using var bench = await Workbench.OpenAsync(orders: 120, edit: (id, d) => Offering(d, "key"));
        var book = bench.Sandbox.Orders.Book;
        (book.HonoursKeys, book.KnowsNumbers) = (true, false);
        var lane = await OrderLaneTests.LaneAsync(bench);
        bench.OfficeDial.Shares = new FaultShares(FailedAfter: 1, WritesOnly: true);
        bench.OfficeDial.Asked += Closed;
        for (var runs = 0; runs < 2; runs++)
        {
            var closed = await bench.RunAsync(lane, preview: false);
            closed.State.ShouldBe(RunState.Failed, await bench.SaidAsync(closed));
        }

        bench.OfficeDial.Asked -= Closed;
        bench.OfficeDial.Shares = new FaultShares();
        (await NextAsync(bench, lane)).State.ShouldBe(RunState.Done);
        await ShouldBeThereOnceAsync(bench);

        void Closed()
        {
            if (book.Documents.Count > 0)
                bench.OfficeDial.Shares = new FaultShares(Forbids: 1, WritesOnly: true);
        }
    }

    [Theory]
    [InlineData(false, WriteFate.Unknown, 1)]
    [InlineData(true, WriteFate.Accepted, 2)]
    public async Task A_list_that_is_added_to_is_not_added_to_twice(bool keys, WriteFate fate, int asked)
    {
        await using var book = await OrderBook.StartAsync(orders: 1);
        using var adapter = book.Adapter(d =>
        {
            var orders = d["resources"]![0]!;
            orders["children"]![0]!["adds"] = true;
            orders["write"]!["method"] = "PUT";
            orders["write"]!["honoursKeys"] = keys;
        });
        book.FailsOnce = true;
        var line = new Dictionary<string, string> { ["sku"] = "A-1", ["count"] = "1" };
        var lists = new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> { ["lines"] = [line] };
        var write = new RecordWrite(book.Orders[0]["no"]!.ToString(), "once", new Dictionary<string, string?>())
        {
            Children = new RecordChildren(lists),
        };
        (await adapter.WriteAsync(RecordKind.Order, [write], default))[0].Fate.ShouldBe(fate);
        book.Received.Count.ShouldBe(asked);
    }

    [Fact]
    public async Task A_system_that_fails_over_one_record_takes_the_others()
    {
        await using var bench = await Workbench.OpenAsync(
            edit: (id, d) =>
            {
                if (id == "web-shop")
                    d["resources"]![0]!["write"]!["honoursKeys"] = false;
            }
        );
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var broken = (await bench.WritesAsync(preview.Id)).First(w => w.State == WriteState.Planned);
        bench.Shop.Break(bench.Variant(broken.TargetKey).Sku, true);
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
        var writes = await bench.WritesAsync(preview.Id);
        writes.Where(w => w.State == WriteState.Failed).Select(w => w.Id).ShouldBe([broken.Id]);
        writes.Count(w => w.State == WriteState.Confirmed).ShouldBeGreaterThan(150);
        bench.Shop.Applied.GroupBy(a => a.VariantId).ShouldAllBe(g => g.Count() == 1);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    public void A_description_by_which_something_might_be_made_twice_is_refused(int single)
    {
        var description = OrderBook.Description();
        var create = description["resources"]![0]!["create"]!.AsObject();
        create["honoursKeys"] = false;
        if (single == 1)
            foreach (var name in new[] { "records", "batchSize", "results", "resultRequest" })
                create.Remove(name);
        var fault = RestDocument.Read(description.ToJsonString()).Fault;
        fault!.Words.ShouldContain("otherwise one without an answer might be made twice");
        fault.Words.ShouldContain("resources[0].create");
    }

    // The run that comes after a failed one.
    private static async Task<Run> NextAsync(Workbench bench, string lane)
    {
        var next = await bench.RunAsync(lane, preview: false);
        if (next.State == RunState.Done)
            return next;
        return await bench.RunAsync(lane, preview: false);
    }

    private static void Offering(JsonObject description, string offers)
    {
        foreach (var resource in description["resources"]!.AsArray().Where(r => Posted.Contains(r!["kind"]!.ToString())))
        {
            if (resource!["create"] is not JsonObject create)
                continue;
            if (offers == "key")
                resource.AsObject().Remove("find");
            create["honoursKeys"] = offers != "find";
        }
    }

    private static bool IsNew(Sandbox.BackOffice.OfficeCustomer customer) => int.Parse(customer.Number, null) >= 40_190;

    private static async Task ShouldBeThereOnceAsync(Workbench bench)
    {
        var book = bench.Sandbox.Orders.Book;
        book.Documents.Count.ShouldBeGreaterThan(20);
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Credits.Select(c => c.ExternalNumber).ShouldBeUnique();
        book.Customers.Where(IsNew).Select(c => c.Email).ShouldBeUnique();
        await using var db = bench.Database.CreateDbContext();
        (await db.Counterparts.CountAsync(c => c.Kind == RecordKind.Order)).ShouldBe(book.Documents.Count);
        var orders = bench.Sandbox.Orders.Shop.All.ToLookup(o => o.Number);
        book.Documents.ShouldAllBe(d => orders[d.ExternalNumber].First().HubNumber == d.Number);
    }

    private static async Task<Dictionary<string, string>> KeysAsync(Workbench bench, string lane)
    {
        var preview = await bench.RunAsync(lane, preview: true);
        return (await bench.WritesAsync(preview.Id))
            .Where(w => w is { Act: WriteAct.Create, Way: Way.There })
            .ToDictionary(w => $"{w.Record} {w.SourceKey}", w => w.IdempotencyKey);
    }
}
