using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Orders;

namespace Narbit.Engine.Tests;

/// <summary>What the hub knows of an order, and what people decide about it.</summary>
public sealed class OrderKnowledgeTests
{
    [Fact]
    public async Task A_SKU_of_two_items_says_nothing_of_which_was_bought()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        var order = bench.Sandbox.Orders.Shop.All.Last(o => o is { State: "processing", PaymentState: "paid" });
        await ShouldStandAsync(bench, order.Id, OrderStage.New);

        // Somebody gives another listing the same SKU; whose article is another one.
        var sku = order.Lines[0].Sku;
        var other = bench.Sandbox.Catalogue.Products.SelectMany(p => p.Variants).First(v => v.Sku.Length > 0 && v.Sku != sku);
        bench.Shop.Update([new Narbit.Sandbox.WebShop.ShopEdit { VariantId = other.Id, Sku = sku }]);
        await bench.RunAsync(lane, preview: true);
        await ShouldStandAsync(bench, order.Id, OrderStage.Held, "unknownItem");
    }

    [Fact]
    public async Task A_decision_for_all_moves_all_that_wait_for_the_same_and_is_taken_back()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        var desk = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        var held = await HeldAsync(bench, "paymentMethod");
        held.Count.ShouldBeGreaterThanOrEqualTo(2);
        var choice = new OrderChoice(OrderChoiceKind.PaymentMethod, "pigeon post", "transfer");
        (await desk.DecideAsync(lane, null, choice, "Tester", default)).Value.ShouldBe(held.Count);
        (await HeldAsync(bench, "paymentMethod")).ShouldBeEmpty();
        var look = (await desk.LookAsync(lane, held[0], default)).Value;
        look.Judged.Result!.Document!.Payments.ShouldHaveSingleItem().Type.ShouldBe("transfer");

        // For one of them something else is decided, which counts for that one.
        await desk.DecideAsync(lane, held[1], choice with { Value = "cash" }, "Tester", default);
        (await desk.LookAsync(lane, held[1], default)).Value.Judged.Result!.Document!.Payments[0].Type.ShouldBe("cash");

        await using var db = bench.Database.CreateDbContext();
        foreach (var decision in await db.OrderDecisions.ToListAsync())
            (await desk.UndoAsync(lane, decision.Id, default)).Fault.ShouldBeNull();
        (await HeldAsync(bench, "paymentMethod")).ShouldBe(held, ignoreOrder: true);
        (await desk.UndoAsync(lane, 1, default)).Fault!.Code.ShouldBe("decision.unknown");
    }

    [Theory]
    [InlineData(OrderChoiceKind.Item, "9", "choice.notThere")]
    [InlineData(OrderChoiceKind.Customer, "9", "choice.notThere")]
    [InlineData(OrderChoiceKind.TaxRate, "twenty", "choice.rate")]
    [InlineData(OrderChoiceKind.TaxRate, "120", "choice.rate")]
    [InlineData(OrderChoiceKind.PaymentMethod, " ", "choice.empty")]
    [InlineData(OrderChoiceKind.ShippingMethod, null, "choice.empty")]
    public async Task A_decision_that_the_hub_could_not_follow_is_refused(OrderChoiceKind kind, string? value, string code)
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var lane = await OrderLaneTests.LaneAsync(bench);
        var desk = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        (await desk.DecideAsync(lane, null, new OrderChoice(kind, "x", value), "Tester", default)).Fault!.Code.ShouldBe(code);
        (await desk.DecideAsync("no-lane", null, new OrderChoice(kind, "x", value), "Tester", default)).Fault.ShouldNotBeNull();
        (await desk.LookAsync(Workbench.Prices, "1", default)).Fault!.Code.ShouldBe("lane.noOrders");
        (await desk.LookAsync(lane, "no-order", default)).Fault!.Code.ShouldBe("order.unknown");
    }

    [Fact]
    public async Task A_default_item_stands_in_openly_until_each_has_its_own()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        var standIn = bench.Sandbox.Catalogue.Articles[0].Number;
        await bench.SetRuleAsync(
            lane,
            OrderLaneTests.Policy with
            {
                Rule = OrderLaneTests.Policy.Rule with { UnknownItem = UnknownItem.Use, UseItem = standIn },
            }
        );
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, await bench.SaidAsync(run));
        await using var db = bench.Database.CreateDbContext();
        var standing = await db.OrderStandings.Where(o => o.UsesDefaultItem && o.HubKey != null).ToListAsync();
        standing.Count.ShouldBeGreaterThanOrEqualTo(2);
        var document = bench.Sandbox.Orders.Book.Document(standing[0].HubKey!)!;
        document.Lines.ShouldContain(l => l.Article == standIn);
    }

    [Fact]
    public async Task A_store_that_says_nothing_of_lines_or_a_hub_that_makes_no_documents_has_no_order_lane()
    {
        await using var bench = await Workbench.OpenAsync(
            items: 12,
            edit: (id, d) =>
            {
                foreach (var resource in d["resources"]!.AsArray().Where(r => r!["kind"]!.GetValue<string>() == "order"))
                    resource!.AsObject().Remove(id == "back-office" ? "create" : "children");
            }
        );
        var maker = new Narbit.Engine.Lanes.LaneMaker(bench.Database, bench.Adapters, TimeProvider.System);
        (await maker.MakeAsync("order", "web-shop", "back-office", "Tester", default)).Fault!.Code.ShouldBe("lane.noField");
        (await maker.MakeAsync("order", "back-office", "back-office", "Tester", default)).Fault.ShouldNotBeNull();
        var book = new Narbit.Engine.Lanes.Orders.OrderWork();
        var sides = LaneSides.Of(
            RecordKind.Order,
            await ConnectionAsync(bench, "back-office"),
            await ConnectionAsync(bench, "back-office")
        );
        book.Computing.Unfit(sides)!.Code.ShouldBe("lane.noCreate");
    }

    [Fact]
    public async Task A_new_lane_takes_nothing_that_is_older_than_itself()
    {
        await using var bench = await Workbench.OpenAsync();
        var maker = new Narbit.Engine.Lanes.LaneMaker(bench.Database, bench.Adapters, TimeProvider.System);
        var lane = (await maker.MakeAsync("order", "web-shop", "back-office", "Tester", default)).Value;
        var preview = await bench.RunAsync(lane, preview: true);
        (await bench.WritesAsync(preview.Id)).ShouldBeEmpty();
        await using var db = bench.Database.CreateDbContext();
        (await db.OrderStandings.CountAsync(o => o.Stage == OrderStage.Skipped && o.Causes.Any(c => c.Code == "beforeCutOff"))).ShouldBe(
            bench.Sandbox.Orders.Shop.All.Count
        );
    }

    private static async Task<Narbit.Engine.Systems.Connection> ConnectionAsync(Workbench bench, string system) =>
        (await bench.Adapters.ForAsync(system, default)).Value;

    private static async Task<List<string>> HeldAsync(Workbench bench, string cause)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db
            .OrderStandings.Where(o => o.Stage == OrderStage.Held && o.Causes.Any(c => c.Code == cause))
            .Select(o => o.SourceKey)
            .ToListAsync();
    }

    private static async Task ShouldStandAsync(Workbench bench, string order, OrderStage stage, string? cause = null)
    {
        await using var db = bench.Database.CreateDbContext();
        var standing = await db.OrderStandings.FirstAsync(o => o.SourceKey == order);
        standing.Stage.ShouldBe(stage, standing.Words);
        if (cause is not null)
            standing.Causes.ShouldContain(c => c.Code == cause);
    }
}
