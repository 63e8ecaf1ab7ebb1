using Microsoft.AspNetCore.Http;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;
using Narbit.Sandbox.WebShop;

namespace Narbit.Engine.Tests;

/// <summary>What must happen once happens once: decisions that meet, creations that get no answer, keys that Narbit gives.</summary>
public sealed class OnceOnlyTests
{
    [Fact]
    public async Task Of_many_who_send_a_change_set_at_once_one_does()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var sent = await AtOnceAsync(() => bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default));
        sent.Count(s => s.Fault is null).ShouldBe(1);
        // Whoever comes while it is at work is told so; whoever comes after it, that nothing is left.
        string[] told = ["run.notReady", "lane.busy", "send.nothing"];
        sent.Where(s => s.Fault is not null).Select(s => s.Fault!.Code).Distinct().ShouldBeSubsetOf(told);
        await bench.EndedAsync(preview.Id);
        await bench.ShouldBeCompleteAsync(preview.Id);
        bench.Shop.Applied.GroupBy(a => a.VariantId).ShouldAllBe(g => g.Count() == 1);
        bench.Shop.Applied.Count.ShouldBeGreaterThan(150);
    }

    [Fact]
    public async Task Of_many_who_try_a_run_again_at_once_one_does()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var broken = (await bench.WritesAsync(preview.Id)).First(w => w.State == WriteState.Planned);
        bench.Shop.Break(bench.Variant(broken.TargetKey).Sku, true);
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        await bench.EndedAsync(preview.Id);
        (await bench.WritesAsync(preview.Id)).Single(w => w.State == WriteState.Failed).Id.ShouldBe(broken.Id);

        bench.Shop.Break(bench.Variant(broken.TargetKey).Sku, false);
        var tried = await AtOnceAsync(() => bench.Runs.TryAgainAsync(preview.Id, default));
        tried.Count(t => t.Fault is null).ShouldBe(1);
        tried.Where(t => t.Fault is not null).Select(t => t.Fault!.Code).Distinct().ShouldBeSubsetOf(["run.notFailed", "lane.busy"]);
        await bench.EndedAsync(preview.Id);
        bench.Shop.Applied.Count(a => a.VariantId == Workbench.Id(broken.TargetKey)).ShouldBe(1);
    }

    [Fact]
    public async Task Of_many_who_take_a_run_back_at_once_one_counts()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        var taken = await AtOnceAsync(() => bench.Runs.RollBackAsync(run.Id, null, "Tester", default));
        taken.Where(t => t.Fault is not null).Select(t => t.Fault!.Code).Distinct().ShouldBeSubsetOf(["lane.busy"]);
        await bench.Engine.WhenIdleAsync();
        await using var db = bench.Database.CreateDbContext();
        var ready = await db.Runs.Where(r => r.RollsBack == run.Id && r.State == RunState.Ready).Select(r => r.Id).ToListAsync();
        var id = ready.ShouldHaveSingleItem("an earlier one has been superseded");
        (await AtOnceAsync(() => bench.Runs.SendAsync(id, new Choice(true), "Tester", default))).Count(s => s.Fault is null).ShouldBe(1);
        await bench.EndedAsync(id);
        bench.Shop.Applied.GroupBy(a => a.VariantId).ShouldAllBe(g => g.Count() == 2);
    }

    [Fact]
    public async Task A_run_goes_on_when_whoever_decided_it_goes_away()
    {
        await using var bench = await Workbench.OpenAsync();
        using var page = new CancellationTokenSource();
        bench.Live.Happened += e =>
        {
            if (e is { Topic: "run", Phase: "read" })
                page.Cancel();
        };
        var run = await bench.Runs.StartAsync(Workbench.Stock, preview: false, RunTrigger.Person, "Tester", page.Token);
        (await bench.EndedAsync(run.Value)).State.ShouldBe(RunState.Done);
        page.IsCancellationRequested.ShouldBeTrue();
        bench.Shop.Applied.Count.ShouldBeGreaterThan(0);
    }

    [Theory]
    [InlineData(500, WriteFate.Unknown)]
    [InlineData(503, WriteFate.Unknown)]
    [InlineData(422, WriteFate.Refused)]
    public async Task A_failure_over_a_creation_is_unknown_until_its_key_has_found_out(int status, WriteFate fate)
    {
        await using var book = await OrderBook.StartAsync(orders: 0);
        using var adapter = book.Adapter();
        // The order is made, and then the system fails to say so.
        book.Creation = body =>
        {
            foreach (var order in body["orders"]!.AsArray())
                if (status != 422)
                    book.Make(order!.AsObject());
            return Results.Json(new { error = "Something went wrong." }, statusCode: status);
        };
        RecordWrite[] orders =
        [
            .. new[] { "key-1", "key-2" }.Select(key => new RecordWrite(key, key, new Dictionary<string, string?> { ["note"] = key })
            {
                Act = WriteAct.Create,
            }),
        ];
        var answers = await adapter.WriteAsync(RecordKind.Order, orders, default);
        answers.Select(a => a.Fate).ShouldBe([fate, fate]);

        book.Creation = null;
        var again = await adapter.WriteAsync(RecordKind.Order, orders, default);
        again.Select(a => a.Fate).ShouldBe([WriteFate.Accepted, WriteFate.Accepted]);
        book.Orders.Select(o => o["once"]!.GetValue<string>()).ShouldBe(["key-1", "key-2"]);
    }

    [Fact]
    public async Task A_creation_that_ends_between_its_key_and_its_link_is_made_once()
    {
        await using var bench = await Workbench.OpenAsync();
        var (lane, preview) = await PlannedAsync(bench);
        var products = Variants(bench);
        // The database refuses the link, as if the process had ended there.
        await SqlAsync(bench, "CREATE TRIGGER NoLink BEFORE INSERT ON Links BEGIN SELECT RAISE(ABORT, 'ended here'); END");
        (await bench.Runs.SendAsync(preview, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        var cut = await bench.EndedAsync(preview);
        (cut.State, cut.Why!.Code).ShouldBe((RunState.Failed, "defect"));
        var open = (await bench.WritesAsync(preview)).Where(w => w.State == WriteState.Unknown).ToList();
        open.Count.ShouldBeGreaterThan(0);
        open.ShouldAllBe(w => w.Attempts == 1);
        var made = Variants(bench) - products;
        made.ShouldBe(open.Count, "the shop has them, and Narbit does not know");

        await SqlAsync(bench, "DROP TRIGGER NoLink");
        (await bench.Runs.TryAgainAsync(preview, default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(preview)).State.ShouldBe(RunState.Done);
        var created = (await bench.WritesAsync(preview)).Where(w => w.State == WriteState.Confirmed).ToList();
        (Variants(bench) - products).ShouldBe(created.Count);
        await using var db = bench.Database.CreateDbContext();
        foreach (var write in created)
            (await db.Links.SingleAsync(l => l.HubKey == write.SourceKey)).OtherKey.ShouldBe(write.TargetKey);
        var next = await bench.WritesAsync((await bench.RunAsync(lane, preview: true)).Id);
        next.Where(w => w.Act == WriteAct.Create).Select(w => w.SourceKey).Intersect(created.Select(w => w.SourceKey)).ShouldBeEmpty();
    }

    [Fact]
    public async Task An_order_that_the_hub_took_before_Narbit_ended_is_found_there_and_the_store_hears_of_it()
    {
        await using var bench = await Workbench.OpenAsync(orders: 60);
        var lane = await OrderLaneTests.LaneAsync(bench);
        var preview = await bench.RunAsync(lane, preview: true);
        await SqlAsync(
            bench,
            "CREATE TRIGGER NoPartner BEFORE INSERT ON Counterparts WHEN NEW.Kind = 'Order' BEGIN SELECT RAISE(ABORT, 'ended here'); END"
        );
        (await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Failed);
        var documents = bench.Sandbox.Orders.Book.Documents;
        var taken = documents.Count;
        taken.ShouldBeGreaterThan(0);

        await SqlAsync(bench, "DROP TRIGGER NoPartner");
        (await bench.Runs.TryAgainAsync(preview.Id, default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done, await bench.SaidAsync(preview));
        documents = bench.Sandbox.Orders.Book.Documents;
        documents.Count.ShouldBeGreaterThan(taken);
        documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        var orders = bench.Sandbox.Orders.Shop.All.ToLookup(o => o.Number);
        documents.ShouldAllBe(d => orders[d.ExternalNumber].First().HubNumber == d.Number);
    }

    [Fact]
    public async Task What_was_made_or_paired_by_somebody_else_meanwhile_is_not_made_again()
    {
        await using var bench = await Workbench.OpenAsync();
        var (_, preview) = await PlannedAsync(bench);
        var planned = (await bench.WritesAsync(preview)).Where(w => w.Act == WriteAct.Create).ToList();
        var (byHand, paired) = (planned[0], planned[1]);
        bench.Shop.Update([
            new ShopEdit
            {
                Key = "by-hand",
                VariantId = 0,
                PriceCents = 990,
                Quantity = 1,
                At = DateTimeOffset.UtcNow,
                Sku = byHand.Reference,
                Barcode = "",
                Content = new ShopContent(byHand.Caption, "", "Glazes", "", 1m, true, [], []),
                New = new NewVariant(null, "by-hand"),
            },
        ]);
        await using (var db = bench.Database.CreateDbContext())
        {
            var couple = await db.Couples.FirstAsync();
            var free = await db.Records.FirstAsync(r => r.SystemId == "web-shop" && !db.Links.Any(l => l.OtherKey == r.Key));
            db.Links.Add(
                new PairLink
                {
                    CoupleId = couple.Id,
                    HubKey = paired.SourceKey!,
                    OtherKey = free.Key,
                    DecisionId = 1,
                }
            );
            // The mirror of the shop is not fresh any more.
            var before = DateTimeOffset.UtcNow.AddHours(-1);
            await db.Reads.ExecuteUpdateAsync(s => s.SetProperty(r => r.StartedAt, before));
            await db.SaveChangesAsync();
        }

        (await bench.Runs.SendAsync(preview, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        await bench.EndedAsync(preview);
        var writes = (await bench.WritesAsync(preview)).ToDictionary(w => w.Id);
        (writes[byHand.Id].State, writes[byHand.Id].Fate!.Code).ShouldBe((WriteState.Overtaken, "create.there"));
        (writes[paired.Id].State, writes[paired.Id].Fate!.Code).ShouldBe((WriteState.Overtaken, "create.paired"));
        bench.Shop.Page(1, 100_000, null, (all, _) => all.SelectMany(p => p.Variants).Count(v => v.Sku == byHand.Reference)).ShouldBe(1);
        writes.Values.Where(w => w.Id != byHand.Id && w.Id != paired.Id).ShouldAllBe(w => w.State == WriteState.Confirmed);
    }

    [Fact]
    public async Task Keys_that_Narbit_gives_are_reserved_and_never_given_twice()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var reserve = new KeyReserve(bench.Database, TimeProvider.System);
        string[][] runs = [.. Enumerable.Range(0, 6).Select(run => Enumerable.Range(0, 5).Select(n => $"{run}-{n}").ToArray())];
        var given = await Task.WhenAll(runs.Select(r => Task.Run(() => reserve.GiveAsync("till", RecordKind.Item, 5000, r, default))));
        var keys = given.SelectMany(g => g.Values).Order().ToList();
        keys.ShouldBe(Enumerable.Range(5000, 30).Select(n => (long)n));
        // A creation that is tried again has the key that it had, after a restart too.
        var again = await new KeyReserve(bench.Database, TimeProvider.System).GiveAsync(
            "till",
            RecordKind.Item,
            5000,
            ["3-2", "new"],
            default
        );
        again["3-2"].ShouldBe(given[3]["3-2"]);
        again["new"].ShouldBe(5030);
        // Another system counts for itself.
        (await reserve.GiveAsync("other", RecordKind.Item, 1, ["x"], default))["x"]
            .ShouldBe(1);
    }

    [Fact]
    public async Task A_new_key_lies_above_those_of_records_that_are_gone()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        long highest;
        await using (var db = bench.Database.CreateDbContext())
        {
            highest = (await db.Records.Where(r => r.SystemId == "web-shop").Select(r => r.Key).ToListAsync()).Max(Workbench.Id);
            await db.Records.ExecuteUpdateAsync(s => s.SetProperty(r => r.GoneAt, DateTimeOffset.UtcNow));
        }

        (await new KeyReserve(bench.Database, TimeProvider.System).GiveAsync("web-shop", RecordKind.Item, 1, ["x"], default))["x"]
            .ShouldBe(highest + 1);
    }

    // An item lane with a few new items, planned and not sent.
    private static async Task<(string Lane, long Preview)> PlannedAsync(Workbench bench)
    {
        await bench.RunAsync(Workbench.Prices, preview: true);

        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap());
        var map = await bench.SuggestedAsync(lane);
        await bench.SetRuleAsync(
            lane,
            new ItemDocument(
                map with
                {
                    Publish = new PublishRule { New = NewRecords.All, Portion = 4 },
                }
            )
        );
        var preview = await bench.RunAsync(lane, preview: true);
        // Only the creations are of interest here.
        await using (var db = bench.Database.CreateDbContext())
            await db.Writes.Where(w => w.RunId == preview.Id && w.Act != WriteAct.Create).ExecuteDeleteAsync();
        (await bench.WritesAsync(preview.Id)).Count.ShouldBeGreaterThan(1, await bench.SaidAsync(preview));
        return (lane, preview.Id);
    }

    private static int Variants(Workbench bench) => bench.Shop.Page(1, 100_000, null, (all, _) => all.Sum(p => p.Variants.Count));

    private static async Task SqlAsync(Workbench bench, string statement)
    {
        await using var db = bench.Database.CreateDbContext();
        await db.Database.ExecuteSqlRawAsync(statement);
    }

    private static Task<Outcome<T>[]> AtOnceAsync<T>(Func<Task<Outcome<T>>> act) =>
        Task.WhenAll(Enumerable.Range(0, 8).Select(_ => Task.Run(act)));
}
