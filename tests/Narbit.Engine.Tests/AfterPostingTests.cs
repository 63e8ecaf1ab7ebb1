using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Runs;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>Orders that change in the store, and documents that change at the hub, after they were posted.</summary>
public sealed class AfterPostingTests
{
    private static readonly PostAddress Elsewhere = new("Isolde Marrow", "", "9 Quarry Rise", "Port Ember", "LM02 B1D", "IE");

    [Fact]
    public async Task What_the_store_changes_reaches_the_document_where_the_rule_says_so()
    {
        await using var bench = await Workbench.OpenAsync();
        var policy = Policy with
        {
            After = new AfterPostingRule
            {
                Goods = AfterPosting.Change,
                Address = AfterPosting.Change,
                Payment = AfterPosting.Apart,
                Cancelled = AfterPosting.TakeOut,
                While = ["open"],
            },
        };
        var lane = await PostedAsync(bench, policy);
        var (book, shop) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders.Shop);
        var posted = Plain(bench, 4);
        More(bench, posted[0]);
        shop.Change(posted[1].Id, o => o with { ShipTo = Elsewhere });
        var unpaid = shop.All.First(o => o.PaymentState == "pending" && o.HubNumber.Length > 0);
        book.Document(unpaid.HubNumber)!.Payments.ShouldBeEmpty();
        shop.Change(unpaid.Id, o => o with { PaymentState = "paid" });
        shop.Change(posted[3].Id, o => o with { State = "cancelled" });

        await DoneAsync(bench, lane);
        var dearer = book.Document(posted[0].HubNumber)!;
        dearer.Lines.Sum(l => l.Gross).ShouldBe(Now(bench, posted[0]).Total);
        book.Document(posted[1].HubNumber)!.ShipTo!.Street.ShouldBe("9 Quarry Rise");
        book.Receipts.ShouldHaveSingleItem().Amount.ShouldBe(unpaid.Total);
        book.Document(unpaid.HubNumber)!.Payments.Sum(p => p.Amount).ShouldBe(unpaid.Total);
        book.Document(posted[3].HubNumber).ShouldBeNull();

        // All of it once.
        var again = await DoneAsync(bench, lane);
        (await bench.WritesAsync(again.Id)).ShouldNotContain(w => w.Way == Way.There);
        book.Receipts.Count.ShouldBe(1);
        (await StandingAsync(bench, posted[3].Id)).Stage.ShouldBe(OrderStage.Skipped);
    }

    [Fact]
    public async Task Unless_the_rule_says_so_a_person_decides_and_the_decision_is_about_this_change_alone()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await PostedAsync(bench, Policy with { After = new AfterPostingRule { While = ["open"] } });
        var (book, shop) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders.Shop);
        var posted = Plain(bench, 5);
        More(bench, posted[0]);
        shop.Change(posted[1].Id, o => o with { ShipTo = Elsewhere });
        shop.Change(posted[2].Id, o => o with { State = "cancelled" });
        More(bench, posted[3]);
        for (var n = 0; n < 2; n++)
            book.More(posted[3].HubNumber, 0).ShouldBeNull();
        More(bench, posted[4]);
        book.Ship(posted[4].HubNumber, all: true, "Moor Post", "MP-9").ShouldBeNull();

        await DoneAsync(bench, lane);
        await HeldAsync(bench, posted[0], "editedGoods");
        (await StandingAsync(bench, posted[0].Id)).Words!.ShouldContain($"the store has {Now(bench, posted[0]).Total:0.00}");
        await HeldAsync(bench, posted[1], "editedAddress");
        await HeldAsync(bench, posted[2], "cancelledLater");
        await HeldAsync(bench, posted[3], "changedOnBoth");
        await HeldAsync(bench, posted[4], "editedGoods");

        var desk = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        async Task DecideAsync(StoreOrder order, string value)
        {
            var after = (await desk.LookAsync(lane, order.Id, default)).Value.After.ShouldNotBeNull();
            after.Choices.ShouldNotBeEmpty();
            var choice = new OrderChoice(OrderChoiceKind.AfterPosting, after.Subject, value);
            (await desk.DecideAsync(lane, order.Id, choice, "Tester", default)).Fault.ShouldBeNull();
        }

        await DecideAsync(posted[0], "change");
        await DecideAsync(posted[1], "leave");
        await DecideAsync(posted[2], "takeOut");
        await DecideAsync(posted[3], "change");
        await DecideAsync(posted[4], "change");
        var unknown = new OrderChoice(OrderChoiceKind.AfterPosting, "x", "melt");
        (await desk.DecideAsync(lane, posted[0].Id, unknown, "Tester", default)).Fault!.Code.ShouldBe("choice.unknown");
        await DoneAsync(bench, lane);
        book.Document(posted[0].HubNumber)!.Lines.Sum(l => l.Gross).ShouldBe(Now(bench, posted[0]).Total);
        book.Document(posted[1].HubNumber)!.ShipTo?.Street.ShouldNotBe("9 Quarry Rise");
        book.Document(posted[2].HubNumber).ShouldBeNull();
        book.Document(posted[3].HubNumber)!.Lines.Sum(l => l.Gross).ShouldBe(Now(bench, posted[3]).Total);
        // What was shipped meanwhile is not touched, whatever was decided.
        await HeldAsync(bench, posted[4], "tooLate");

        // The next change asks anew.
        More(bench, posted[1]);
        await DoneAsync(bench, lane);
        await HeldAsync(bench, posted[1], "editedGoods");
    }

    [Fact]
    public async Task A_document_is_replaced_under_its_number_and_a_change_of_it_taken_back()
    {
        await using var bench = await Workbench.OpenAsync();
        var replaces = Policy with { After = new AfterPostingRule { Goods = AfterPosting.Replace } };
        var lane = await PostedAsync(bench, replaces);
        var book = bench.Sandbox.Orders.Book;
        var posted = Plain(bench, 2);
        More(bench, posted[0]);
        await DoneAsync(bench, lane);
        book.Document(posted[0].HubNumber).ShouldBeNull();
        await DoneAsync(bench, lane);
        var anew = book.Documents.Single(d => d.ExternalNumber == posted[0].Number);
        (anew.Number == posted[0].HubNumber).ShouldBeFalse();
        anew.Lines.Sum(l => l.Gross).ShouldBe(Now(bench, posted[0]).Total);
        Now(bench, posted[0]).HubNumber.ShouldBe(anew.Number);

        // Lines that a run changed go back to what they were.
        await bench.SetRuleAsync(lane, replaces with { After = new AfterPostingRule { Goods = AfterPosting.Change } });
        var before = book.Document(posted[1].HubNumber)!.Lines;
        More(bench, posted[1]);
        var run = await DoneAsync(bench, lane);
        book.Document(posted[1].HubNumber)!.Lines.ShouldNotBe(before);
        var write = (await bench.WritesAsync(run.Id)).Single(w => w.Way == Way.There && w.Record == RecordKind.Order);
        var back = await bench.Runs.RollBackAsync(run.Id, [write.Id], "Tester", default);
        (await bench.EndedAsync(back.Value)).State.ShouldBe(RunState.Ready);
        await bench.Runs.SendAsync(back.Value, new Choice(true), "Tester", default);
        (await bench.EndedAsync(back.Value)).State.ShouldBe(RunState.Done);
        book.Document(posted[1].HubNumber)!.Lines.ShouldBe(before);
    }

    [Fact]
    public async Task What_the_hub_changes_and_answers_goes_back_to_the_store()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await PostedAsync(bench, Policy with { Back = Policy.Back with { Changes = true } });
        var (book, shop) = (bench.Sandbox.Orders.Book, bench.Sandbox.Orders.Shop);
        // What the buyer wrote came with the order.
        var talkative = shop.All.First(o => o.Comment.Length > 0 && o.HubNumber.Length > 0);
        book.Document(talkative.HubNumber)!.Remark.ShouldBe(talkative.Comment);
        var posted = Plain(bench, 2);
        book.More(posted[0].HubNumber, 0).ShouldBeNull();
        book.Revise(posted[1].HubNumber, null, Elsewhere).ShouldBeNull();
        book.Change(posted[1].HubNumber, d => d with { Answer = "It comes on Monday." }).ShouldBeNull();

        await DoneAsync(bench, lane);
        Now(bench, posted[0]).Lines[0].Quantity.ShouldBe(posted[0].Lines[0].Quantity + 1);
        Now(bench, posted[0]).Lines.Count.ShouldBe(posted[0].Lines.Count);
        (Now(bench, posted[1]).ShipTo!.Street, Now(bench, posted[1]).Answer).ShouldBe(("9 Quarry Rise", "It comes on Monday."));

        // What came from the hub is no change of the store's.
        var again = await DoneAsync(bench, lane);
        (await bench.WritesAsync(again.Id)).Where(w => posted.Any(p => p.Id == w.SourceKey)).ShouldBeEmpty();
        (await StandingAsync(bench, posted[0].Id)).Stage.ShouldBe(OrderStage.Acknowledged);
        (await StandingAsync(bench, posted[1].Id)).Stage.ShouldBe(OrderStage.Acknowledged);
    }

    private static OrderPolicy Policy { get; } =
        OrderLaneTests.Policy with
        {
            Rule = OrderLaneTests.Policy.Rule with
            {
                States = new Dictionary<string, OrderOutcome>(OrderLaneTests.Policy.Rule.States) { ["open"] = OrderOutcome.Take },
                Payments = new Dictionary<string, OrderOutcome> { ["pending"] = OrderOutcome.Take },
            },
        };

    private static async Task<string> PostedAsync(Workbench bench, OrderPolicy policy)
    {
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.SetRuleAsync(lane, policy);
        await DoneAsync(bench, lane);
        return lane;
    }

    private static async Task<Run> DoneAsync(Workbench bench, string lane)
    {
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, await bench.SaidAsync(run));
        return run;
    }

    // Orders that were posted and have nothing odd.
    private static List<StoreOrder> Plain(Workbench bench, int count)
    {
        var numbers = bench.Sandbox.Orders.Shop.All.CountBy(o => o.Number).ToDictionary();
        return
        [
            .. bench
                .Sandbox.Orders.Shop.All.Where(o =>
                    o is { PaymentState: "paid", Refunds.Count: 0, Vouchers.Count: 0, Discounts.Count: 0, Fees.Count: 0, Comment: "" }
                    && o.HubNumber.Length > 0
                    && numbers[o.Number] == 1
                )
                .Take(count),
        ];
    }

    private static void More(Workbench bench, StoreOrder order) =>
        bench
            .Sandbox.Orders.Shop.Change(
                order.Id,
                o => Reckoning.Added(o with { Lines = [o.Lines[0] with { Quantity = o.Lines[0].Quantity + 1 }, .. o.Lines.Skip(1)] }, true)
            )
            .ShouldBeNull();

    private static StoreOrder Now(Workbench bench, StoreOrder order) => bench.Sandbox.Orders.Shop.Find([order.Id]).Single();

    private static async Task<OrderStanding> StandingAsync(Workbench bench, string key)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.OrderStandings.FirstAsync(o => o.SourceKey == key);
    }

    private static async Task HeldAsync(Workbench bench, StoreOrder order, string cause)
    {
        var standing = await StandingAsync(bench, order.Id);
        (standing.Stage, standing.Causes.Single().Code).ShouldBe((OrderStage.Held, cause), standing.Words);
        standing.HubKey.ShouldBe(order.HubNumber);
    }
}
