using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Runs;
using Narbit.Sandbox.Demo;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>Orders of the web shop to the back office, and back what the shop should hear.</summary>
public sealed class OrderLaneTests
{
    internal static OrderPolicy Policy { get; } =
        new(
            new OrderRule
            {
                CutOff = Catalogue.Day.AddDays(-59),
                States = new Dictionary<string, OrderOutcome>
                {
                    ["processing"] = OrderOutcome.Take,
                    ["done"] = OrderOutcome.Take,
                    ["open"] = OrderOutcome.Wait,
                    ["cancelled"] = OrderOutcome.Skip,
                },
                Methods = new Dictionary<string, string> { ["card"] = "card", ["invoice"] = "invoice" },
                ShippingMethods = new Dictionary<string, string>
                {
                    ["standard"] = "MP",
                    ["express"] = "MX",
                    ["collect"] = "COL",
                },
                Zones = [new ShippingZone { Country = "IE", Except = ["IS"] }],
            }
        )
        {
            Back = new WayBack
            {
                Acknowledged = "accepted",
                States = new Dictionary<string, string> { ["shipped"] = "sent", ["partShipped"] = "partly sent" },
                Carriers = new Dictionary<string, string> { ["Moor Post"] = "moor" },
            },
        };

    [Fact]
    public async Task Orders_reach_the_hub_once_with_their_customers_before_them_and_the_store_hears_of_it()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await LaneAsync(bench);
        var preview = await bench.RunAsync(lane, preview: true);
        (preview.State, preview.Why?.Words).ShouldBe((RunState.Ready, null));
        var planned = await bench.WritesAsync(preview.Id);
        planned.ShouldContain(w => w.Record == RecordKind.Order && w.Act == WriteAct.Create);
        bench.Sandbox.Orders.Book.Documents.ShouldBeEmpty();
        await StandsAsync(bench, OrderStage.New, planned.Count(w => w.Record == RecordKind.Order));

        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done, await bench.SaidAsync(preview));
        var writes = await bench.WritesAsync(preview.Id);
        var made = writes.Where(w => w.Record == RecordKind.Order && w.Act == WriteAct.Create).ToList();
        made.ShouldAllBe(w => w.State == WriteState.Confirmed, await bench.SaidAsync(preview));
        var documents = bench.Sandbox.Orders.Book.Documents;
        documents.Count.ShouldBe(made.Count);
        // Right to the cent, in the shop's total and the hub's.
        var orders = First(bench);
        documents.ShouldAllBe(d => d.Lines.Sum(l => l.Gross) == orders[d.ExternalNumber].Total);
        // Told only once it was there: each has the hub's number.
        foreach (var document in documents)
            (orders[document.ExternalNumber].HubNumber, orders[document.ExternalNumber].State).ShouldBe((document.Number, "accepted"));
        await StandsAsync(bench, OrderStage.Acknowledged, made.Count);

        // A second run takes nothing again.
        var again = await bench.RunAsync(lane, preview: false);
        again.State.ShouldBe(RunState.Done, await bench.SaidAsync(again));
        (await bench.WritesAsync(again.Id)).Where(w => w.Act == WriteAct.Create && w.Record == RecordKind.Order).ShouldBeEmpty();
        bench.Sandbox.Orders.Book.Documents.Count.ShouldBe(made.Count);
    }

    [Fact]
    public async Task Every_trouble_is_held_or_waits_by_its_own_cause()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var standings = await db.OrderStandings.ToDictionaryAsync(o => o.SourceKey);
        var troubles = OrderBooks
            .Generate(bench.Sandbox.Catalogue, OrderBooks.DefaultOrders, 20_261_128)
            .Troubles.Where(t => t.System == "web-shop")
            .ToDictionary(t => t.Name, t => t.Keys);
        void Stands(string trouble, OrderStage stage, string? cause)
        {
            troubles[trouble].Count.ShouldBeGreaterThanOrEqualTo(2);
            foreach (var key in troubles[trouble])
            {
                standings[key].Stage.ShouldBe(stage, $"{trouble}: {key}, {standings[key].Words}");
                if (cause is not null)
                    standings[key].Causes.ShouldContain(c => c.Code == cause);
            }
        }

        Stands("order with an unknown SKU", OrderStage.Held, "unknownItem");
        Stands("order whose lines do not add up to its total", OrderStage.Held, "totals");
        Stands("unpaid order", OrderStage.Waiting, "payment");
        Stands("order whose payment failed", OrderStage.Held, "payment");
        Stands("cancelled order", OrderStage.Skipped, null);
        Stands("order to an island outside the shipping zones", OrderStage.Held, "outsideZone");
        Stands("order without an address", OrderStage.Held, "noAddress");
        Stands("order without a tax rate", OrderStage.Held, "taxRate");
        Stands("order with an unknown payment method", OrderStage.Held, "paymentMethod");
        Stands("two orders under one number", OrderStage.Held, "numberTwice");
        Stands("order older than the cut-off", OrderStage.Skipped, "beforeCutOff");
        Stands("order by one of two customers with the same email", OrderStage.Held, "customerAmbiguous");
        Stands("order paid with a voucher", OrderStage.New, null);
        Stands("refund of a line", OrderStage.New, null);
    }

    [Fact]
    public async Task What_is_shipped_or_given_back_afterwards_goes_the_other_way_once()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await LaneAsync(bench);
        await bench.RunAsync(lane, preview: false);
        var (book, shop) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders.Shop);
        var document = book.Documents.First(d => book.Credits.All(c => c.Document != d.Number));
        book.Ship(document.Number, all: false, "Moor Post", "MP-1").ShouldBeNull();
        book.Ship(document.Number, all: true, "Moor Post", "MP-2").ShouldBeNull();
        var order = shop.All.First(o => o.Number == document.ExternalNumber);
        shop.GiveBack(order.Id, order.Lines[0].Id, 1, gross: true).ShouldBeNull();
        var before = book.Credits.Count;

        for (var run = 0; run < 2; run++)
        {
            var ended = await bench.RunAsync(lane, preview: false);
            ended.State.ShouldBe(RunState.Done, await bench.SaidAsync(ended));
        }

        var told = shop.All.First(o => o.Id == order.Id);
        told.State.ShouldBe("sent");
        told.Parcels.Select(p => (p.Carrier, p.Tracking)).ShouldBe([("moor", "MP-1"), ("moor", "MP-2")]);
        book.Credits.Count.ShouldBe(before + 1);
        var credit = book.Credits.Single(c => c.Document == document.Number);
        credit.Lines.Sum(l => l.Gross).ShouldBe(told.Refunds.Single().Total);
        await StandsAsync(bench, OrderStage.Shipped, 1);
    }

    [Fact]
    public async Task A_posting_is_taken_back_while_the_hub_has_not_touched_it_and_the_order_rests_until_somebody_decides()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await LaneAsync(bench);
        var run = await bench.RunAsync(lane, preview: false);
        var taken = (await bench.WritesAsync(run.Id)).First(w => w.Record == RecordKind.Order && w.Act == WriteAct.Create);
        var back = await bench.Runs.RollBackAsync(run.Id, [taken.Id], "Tester", default);
        back.Fault.ShouldBeNull();
        (await bench.EndedAsync(back.Value)).State.ShouldBe(RunState.Ready);
        await bench.Runs.SendAsync(back.Value, new Choice(true), "Tester", default);
        (await bench.EndedAsync(back.Value)).State.ShouldBe(RunState.Done);
        bench.Sandbox.Orders.Book.Document(taken.TargetKey).ShouldBeNull();
        (await StandingAsync(bench, taken.SourceKey)).ShouldBe((OrderStage.Held, "takenOut", null));
        // The next runs leave it alone.
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        var number = bench.Sandbox.Orders.Shop.All.First(o => o.Id == taken.SourceKey).Number;
        bench.Sandbox.Orders.Book.Documents.ShouldNotContain(d => d.ExternalNumber == number);
        (await StandingAsync(bench, taken.SourceKey)).ShouldBe((OrderStage.Held, "takenOut", null));

        var desk = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        await using (var db = bench.Database.CreateDbContext())
            (
                await desk.UndoAsync(lane, (await db.OrderDecisions.SingleAsync(d => d.Kind == OrderChoiceKind.Rest)).Id, default)
            ).Fault.ShouldBeNull();
        (await StandingAsync(bench, taken.SourceKey)).Stage.ShouldBe(OrderStage.New);
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        bench.Sandbox.Orders.Book.Documents.Count(d => d.ExternalNumber == number).ShouldBe(1);
    }

    [Fact]
    public async Task What_the_hub_would_not_take_out_is_left_with_its_reason_and_the_store_is_told_nothing()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await LaneAsync(bench);
        var run = await bench.RunAsync(lane, preview: false);
        var taken = (await bench.WritesAsync(run.Id)).Where(w => w.Record == RecordKind.Order && w.Act == WriteAct.Create).Take(2).ToList();
        var book = bench.Sandbox.Orders.Book;
        book.Ship(taken[0].TargetKey, all: false, "Moor Post", "MP-1").ShouldBeNull();
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        var back = (await bench.Runs.RollBackAsync(run.Id, [.. taken.Select(t => t.Id)], "Tester", default)).Value;
        await bench.EndedAsync(back);
        await using (var db = bench.Database.CreateDbContext())
            (await db.Remarks.SingleAsync(r => r.RunId == back && r.Why.Code == "tooFarOn")).Why.Words.ShouldContain("was shipped");
        (await bench.WritesAsync(back)).ShouldAllBe(w => w.SourceKey == taken[1].SourceKey);

        // It is shipped after the preview was made: the hub refuses, and its store hears nothing.
        book.Ship(taken[1].TargetKey, all: false, "Moor Post", "MP-2").ShouldBeNull();
        await bench.Runs.SendAsync(back, new Choice(true), "Tester", default);
        await bench.EndedAsync(back);
        var writes = await bench.WritesAsync(back);
        writes.ShouldAllBe(w => w.State == WriteState.Failed);
        writes.Single(w => w.Way == Way.Back).Fate!.Code.ShouldBe("rollback.stays");
        book.Document(taken[1].TargetKey).ShouldNotBeNull();
        bench.Sandbox.Orders.Shop.All.First(o => o.Id == taken[1].SourceKey).HubNumber.ShouldBe(taken[1].TargetKey);
    }

    private static async Task<(OrderStage Stage, string Causes, string? Hub)> StandingAsync(Workbench bench, string order)
    {
        await using var db = bench.Database.CreateDbContext();
        var standing = await db.OrderStandings.AsNoTracking().FirstAsync(o => o.SourceKey == order);
        return (standing.Stage, string.Join(' ', standing.Causes.Select(c => c.Code)), standing.HubKey);
    }

    [Fact]
    public async Task With_every_dial_on_each_order_customer_and_credit_note_is_there_once()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await LaneAsync(bench);
        var shares = new FaultShares(0.05, 0.05, 0.02, 0.04, 0.1, 0.03);
        (bench.OfficeDial.Shares, bench.ShopDial.Shares) = (shares, shares);
        for (var n = 0; n < 3; n++)
            await bench.RunAsync(lane, preview: false);
        (bench.OfficeDial.Shares, bench.ShopDial.Shares) = (new FaultShares(), new FaultShares());
        var last = await bench.RunAsync(lane, preview: false);
        last.State.ShouldBe(RunState.Done, await bench.SaidAsync(last));

        var book = bench.Sandbox.Orders.Book;
        book.Documents.Count.ShouldBeGreaterThan(100);
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Credits.Select(c => c.ExternalNumber).ShouldBeUnique();
        book.Customers.Where(c => int.Parse(c.Number, null) >= 40_190).Select(c => c.Email).ShouldBeUnique();
        var orders = First(bench);
        book.Documents.ShouldAllBe(d => d.Lines.Sum(l => l.Gross) == orders[d.ExternalNumber].Total);
        await using var db = bench.Database.CreateDbContext();
        (await db.Counterparts.CountAsync(c => c.Kind == RecordKind.Order)).ShouldBe(book.Documents.Count);
        (await db.OrderStandings.CountAsync(o => o.Stage == OrderStage.New)).ShouldBe(0);
    }

    [Fact]
    public async Task A_rule_on_trial_counts_orders_and_money_by_itself_and_by_the_version_in_force()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        var rule = Policy.Rule with { Zones = [], OtherMethod = "card" };
        var trial = (OrderTrial)(await bench.Trial.TryAsync(lane, Policy with { Rule = rule }, null, null, default)).Value;
        trial.Trial.Taken.Count.ShouldBe(trial.InForce.Taken.Count + 4);
        trial.Trial.Held.Count.ShouldBe(trial.InForce.Held.Count - 4);
        trial.Changed.Count.ShouldBe(4);
        (trial.Trial.Taken.Worth.Single().Sum - trial.InForce.Taken.Worth.Single().Sum).ShouldBe(trial.Changed.Sum(c => c.Total.Sum));
        trial.Causes.ShouldContain(c => c.Cause == "unknownItem" && c.Count >= 3);
        trial.Records.ShouldBe(trial.Trial.Taken.Count + trial.Trial.Waiting.Count + trial.Trial.Held.Count + trial.Trial.Skipped.Count);
    }

    // The first order with each number is the one that has it.
    private static Dictionary<string, StoreOrder> First(Workbench bench) =>
        bench
            .Sandbox.Orders.Shop.All.GroupBy(o => o.Number, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);

    internal static async Task<string> LaneAsync(Workbench bench)
    {
        foreach (var system in new[] { "back-office", "web-shop" })
            (await bench.Reader.ReadSystemAsync(system, full: true, default)).Fault.ShouldBeNull();
        var lane = (
            await new LaneMaker(bench.Database, bench.Adapters, TimeProvider.System).MakeAsync(
                "order",
                "web-shop",
                "back-office",
                "Tester",
                default
            )
        );
        lane.Fault.ShouldBeNull();
        await bench.SetRuleAsync(lane.Value, Policy);
        return lane.Value;
    }

    private static async Task StandsAsync(Workbench bench, OrderStage stage, int count)
    {
        await using var db = bench.Database.CreateDbContext();
        (await db.OrderStandings.CountAsync(o => o.Stage == stage)).ShouldBe(count);
    }
}
