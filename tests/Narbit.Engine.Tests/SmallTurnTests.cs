using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging.Abstractions;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Core.Timetables;
using Narbit.Data.Jobs;
using Narbit.Data.Runs;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Reading;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>Small turns: what begins them, what they look at, and what a timetable would have cost on orders that happened.</summary>
public sealed class SmallTurnTests
{
    [Fact]
    public async Task A_purchase_that_is_paid_is_posted_and_its_items_told_to_the_shop_and_nothing_else_is_looked_at()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await MarketAsync(bench);
        using var jobs = Jobs.Of(bench);
        await SaveAsync(jobs, lane, Workbench.Stock);
        var looked = await bench.RunAsync(Workbench.Stock, preview: true);
        var market = bench.Sandbox.Orders.Market;
        var purchase = market.All.First(o => o.PaymentState == "pending");
        market.Change(purchase.Id, Counters.Paid);
        (await bench.Reader.ReadAsync("clay-lane", RecordKind.Order, full: false, default)).Fault.ShouldBeNull();
        var told = await jobs.Signals.TellAsync(new RecordsTouched("clay-lane", RecordKind.Order, [purchase.Id]), "Test", default);
        told.ShouldBe(["at-once"]);
        await jobs.EndedAsync(bench);

        var document = bench.Sandbox.Orders.Book.Documents.Single(d => d.ExternalNumber == purchase.Number);
        await using var db = bench.Database.CreateDbContext();
        var turn = await db.Turns.Include(t => t.Steps).SingleAsync();
        (turn.State, turn.Trigger).ShouldBe((TurnState.Done, RunTrigger.Event));
        var runs = await db.Runs.Where(r => r.TurnId == turn.Id).OrderBy(r => r.Id).ToListAsync();
        runs.Select(r => r.LaneId).ShouldBe([lane, Workbench.Stock]);
        JsonText.ReadNames(runs[0].Only).ShouldBe([purchase.Id]);
        var items = document.Lines.Where(l => l.Kind == "goods").Select(l => l.Article).ToHashSet();
        JsonText.ReadNames(runs[1].Only)!.ToHashSet().ShouldBe(items, ignoreOrder: true);
        runs[1].Paired.ShouldBeLessThanOrEqualTo(items.Count * 2);
        foreach (var write in await db.Writes.Where(w => w.RunId == runs[1].Id).Include(w => w.Fields).ToListAsync())
        {
            write.State.ShouldBe(WriteState.Confirmed);
            var left = bench.Sandbox.Office.Find(write.SourceKey)!.Stock.Values.Sum(s => s.OnHand - s.Allocated);
            write.Fields.Single().New.ShouldBe($"{Math.Max(0, left)}");
        }

        // The lane's standing is that of its last comparison of everything, which a person may still be looking at.
        (await db.Runs.SingleAsync(r => r.Id == looked.Id)).State.ShouldBe(RunState.Ready);
        (await db.Lanes.SingleAsync(l => l.Id == Workbench.Stock)).ComparedRunId.ShouldNotBe(runs[1].Id);
    }

    [Fact]
    public async Task What_a_lane_writes_is_news_to_others_and_none_to_the_jobs_that_it_came_through()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await MarketAsync(bench, runs: false);
        using var jobs = Jobs.Of(bench);
        await SaveAsync(jobs, Workbench.Stock);
        var run = await bench.RunAsync(lane, preview: false);
        await jobs.Signals.WroteAsync(run.Id, default);
        await using var db = bench.Database.CreateDbContext();
        var turn = await db.Turns.SingleAsync();
        var items = TurnScope.Read(turn.Scope!).Of("back-office", RecordKind.Item);
        items.Count.ShouldBeGreaterThan(3);
        await jobs.EndedAsync(bench);

        // The turn's own run is told to nobody it came through, so that jobs do not begin each other for ever.
        var own = await db.Runs.SingleAsync(r => r.TurnId == turn.Id);
        await jobs.Signals.WroteAsync(own.Id, default);
        (await db.Turns.CountAsync()).ShouldBe(1);
        (
            await jobs.Signals.TellAsync(
                new RecordsTouched("back-office", RecordKind.Item, ["10001"]) { Through = ["at-once"] },
                "x",
                default
            )
        ).ShouldBeEmpty();
    }

    [Fact]
    public async Task A_change_list_and_a_file_that_arrives_are_looked_at_where_nothing_else_tells()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Stock, preview: false);
        using var jobs = Jobs.Of(bench);
        var till = await OtherStoresTests.LaneAsync(
            bench,
            "quay-street-till",
            new OrderPolicy(OtherStoresTests.Rule(take: ["closed"], wait: ["open"]))
        );
        await bench.Reader.ReadAsync("quay-street-till", RecordKind.Order, full: false, default);
        await jobs.Desk.SaveAsync(null, Of(till, Workbench.Stock) with { LookEverySeconds = 2 }, default);
        // Each looks at once the first time; what was there before is no news.
        await Watch(bench, jobs).LookAsync(default);
        (await ScopesAsync(bench)).ShouldBeEmpty();
        bench.Sandbox.Office.Edit("10002", null, null, "Kilnyard", 77);
        await Watch(bench, jobs).LookAsync(default);
        (await ScopesAsync(bench)).Single().Of("back-office", RecordKind.StockLevel).ShouldContain(k => k.StartsWith("10002"));

        var watch = Watch(bench, jobs);
        await watch.LookAsync(default);
        var sales = bench.Sandbox.Orders.Till;
        sales.Change(sales.All.First(s => s.State == "open").Id, Narbit.Sandbox.Till.TillSales.Closed);
        var deadline = DateTime.UtcNow.AddSeconds(60);
        while (!(await ScopesAsync(bench)).Exists(s => s.Of("quay-street-till", RecordKind.Order).Count > 0) && DateTime.UtcNow < deadline)
            await watch.LookAsync(default);
        (await ScopesAsync(bench)).ShouldContain(s => s.Of("quay-street-till", RecordKind.Order).Count > 0);
    }

    [Fact]
    public async Task What_a_process_found_or_wrote_and_did_not_tell_is_told_by_the_next()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await MarketAsync(bench, runs: false);
        using var jobs = Jobs.Of(bench);
        (await jobs.Desk.SaveAsync(null, Of(Workbench.Stock) with { LookEverySeconds = 2 }, default)).Fault.ShouldBeNull();
        await bench.RunAsync(lane, preview: false);
        await jobs.Signals.CatchUpAsync(default);
        var items = (await ScopesAsync(bench)).Single().Of("back-office", RecordKind.Item);
        items.Count.ShouldBeGreaterThan(3);
        await jobs.EndedAsync(bench);
        // Whoever was told is not told again, and what the job itself wrote is no news to it.
        await jobs.Signals.CatchUpAsync(default);
        (await ScopesAsync(bench)).Count.ShouldBe(1);

        bench.Sandbox.Office.Edit("10002", null, null, "Kilnyard", 77);
        await bench.Reader.ReadAsync("back-office", RecordKind.StockLevel, full: false, default);
        var watch = Watch(bench, jobs);
        await watch.LookAsync(default);
        (await ScopesAsync(bench))[^1].Of("back-office", RecordKind.StockLevel).ShouldContain(k => k.StartsWith("10002"));
    }

    [Fact]
    public async Task A_timetable_is_tried_on_orders_that_happened_beside_others()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.AddStoreAsync("clay-lane");
        var orders = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(orders, preview: true);
        using var jobs = Jobs.Of(bench);
        var advisor = new Advisor(bench.Database, bench.Adapters, TimeProvider.System);
        var document = Of(orders, Workbench.Stock, "stock-clay-lane") with
        {
            AtOnce = false,
            Timetable = new Timetable
            {
                Zone = "UTC",
                Every = new TimetableSteps { Minutes = 60 },
            },
        };
        var own = (await advisor.AdviseAsync(null, document, null, default)).Value;
        own.Orders.ShouldBeGreaterThan(100);
        own.Options.Select(o => (o.Way, o.Minutes)).ShouldBe([("this", 60), ("every", 5), ("every", 15), ("every", 60), ("atOnce", 0)]);
        own.Options[0].ShouldBeEquivalentTo(own.Options[3] with { Way = "this" });
        own.Options.Select(o => o.Oversold).Max().ShouldBe(own.Options[0].Oversold);
        own.Options.ShouldAllBe(o => o.Accepted + o.Missed <= own.Orders);
        (own.Hours.Count, own.Parts.Count).ShouldBe((24, 5));
        own.Sentence.ShouldStartWith("In 60 days this would have oversold ");

        // One piece, bought in two stores ten minutes apart.
        var from = new DateTimeOffset(2026, 11, 1, 8, 0, 0, TimeSpan.Zero);
        var file = new ReplayedFile(
            from,
            new Dictionary<string, long> { ["A"] = 1 },
            [new(from.AddMinutes(10), "web-shop", "A", 1), new(from.AddMinutes(20), "clay-lane", "A", 1)],
            []
        );
        var tried = (await advisor.AdviseAsync(null, document, file, default)).Value;
        tried.Options.Select(o => o.Oversold).ShouldBe([1, 0, 0, 1, 0]);
        tried.Items.Single().ShouldBe(new WorstItem("A", null, null, 1, 1, 0));
        tried.Hours[8].ShouldBe(1);
        // What is held back is not sold twice, and not once either: the one piece stays on the shelf.
        tried.Parts[0].ShouldBe(new PartOption(1, 100, 0, 2));
        (
            await advisor.AdviseAsync(null, document, file with { Stock = new Dictionary<string, long> { ["A"] = -1 } }, default)
        ).Fault!.Code.ShouldBe("replay.invalid");
    }

    private static NewsWatch Watch(Workbench bench, Jobs jobs) =>
        new(bench.Database, bench.Adapters, bench.Reader, jobs.Signals, TimeProvider.System, NullLogger<NewsWatch>.Instance);

    private static JobDocument Of(params string[] lanes) =>
        new()
        {
            Name = "At once",
            AtOnce = true,
            Lanes = [.. lanes.Select(l => new LaneInJob(l))],
        };

    private static async Task SaveAsync(Jobs jobs, params string[] lanes) =>
        (await jobs.Desk.SaveAsync(null, Of(lanes), default)).Fault.ShouldBeNull();

    // The market's purchases go to the hub, and the shop is in step with it.
    private static async Task<string> MarketAsync(Workbench bench, bool runs = true)
    {
        await bench.RunAsync(Workbench.Stock, preview: false);
        var rule = OtherStoresTests.Rule(take: ["paid"], wait: ["unpaid"]) with
        {
            Methods = OtherStoresTests.Words("market", "transfer"),
            ShippingMethods = OtherStoresTests.Words("home", "MP"),
        };
        var lane = await OtherStoresTests.LaneAsync(bench, "clay-lane", new OrderPolicy(rule));
        if (runs)
            await bench.RunAsync(lane, preview: false);
        return lane;
    }

    private static async Task<List<TurnScope>> ScopesAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return [.. (await db.Turns.Where(t => t.Scope != null).ToListAsync()).Select(t => TurnScope.Read(t.Scope!))];
    }
}
