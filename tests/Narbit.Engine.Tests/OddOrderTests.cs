using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>Orders as no store should send them: each has its own clear words, and none stops the others.</summary>
public sealed class OddOrderTests
{
    [Fact]
    public async Task Each_odd_order_is_told_in_its_own_words_and_the_others_go_on()
    {
        await using var bench = await Workbench.OpenAsync();
        var shop = bench.Sandbox.Orders.Shop;
        var sound = shop.All.Where(o => o is { PaymentState: "paid", State: "processing", Refunds.Count: 0 }).Skip(20).ToList();
        var odd = new Dictionary<string, (StoreOrder Order, OrderStage Stage, string Words)>(StringComparer.Ordinal);
        var next = 0;
        void Odd(string name, OrderStage stage, string words, Func<StoreOrder, StoreOrder> spoil)
        {
            var order = sound[next++];
            shop.Change(order.Id, spoil).ShouldBeNull();
            odd[name] = (order, stage, words);
        }

        Odd("without lines", OrderStage.Held, "there is no line to take", o => o with { Lines = [] });
        Odd("quantity 0", OrderStage.Held, "must be at least 1", o => o with { Lines = [o.Lines[0] with { Quantity = 0 }] });
        Odd("5,000 lines", OrderStage.Held, "it has 5,000 lines", o => o with { Lines = Many(o.Lines[0], 5_000) });
        Odd("negative shipping", OrderStage.Held, "less than nothing", o => o with { Shipping = [new Sending("standard", -5)] });
        Odd(
            "discount above the goods",
            OrderStage.Held,
            "discounts are more than its goods",
            o => o with { Discounts = [new OnTop("all of it", 100_000)] }
        );
        Odd("two lines with one id", OrderStage.Held, "have the id 1", o => o with { Lines = [o.Lines[0], o.Lines[0]] });
        Odd(
            "a name of 10,000 characters",
            OrderStage.Held,
            "more than 1,000 characters",
            o => o with { BillTo = o.BillTo! with { Name = new string('x', 10_000) } }
        );
        Odd("vouchers above the total", OrderStage.Held, "vouchers are more", o => o with { Vouchers = [new UsedVoucher("ALL", 99_999)] });
        Odd(
            "a right-to-left address",
            OrderStage.New,
            "",
            o => o with { BillTo = o.BillTo! with { Name = "נועה כהן", Street = "רחוב הקרמיקה 12" } }
        );
        Odd("a formula in a comment", OrderStage.New, "", o => o with { Comment = "=HYPERLINK(\"http://elsewhere.example\")" });
        Odd(
            "an address of blanks",
            OrderStage.Held,
            "no whole address",
            o => o with { BillTo = o.BillTo! with { City = "  " }, ShipTo = null }
        );
        Odd(
            "nobody at all",
            OrderStage.Held,
            "no whole address",
            o => o with { BillTo = null, ShipTo = null, Email = "", Phone = "", Account = "" }
        );

        var lane = await OrderLaneTests.LaneAsync(bench);
        var run = await bench.RunAsync(lane, preview: true);
        run.State.ShouldBe(RunState.Ready, await bench.SaidAsync(run));
        await using var db = bench.Database.CreateDbContext();
        foreach (var (name, (order, stage, words)) in odd)
        {
            var standing = await db.OrderStandings.FirstAsync(o => o.SourceKey == order.Id);
            standing.Stage.ShouldBe(stage, $"{name}: {standing.Words}");
            (standing.Words ?? "").ShouldContain(words, Case.Sensitive, name);
        }

        (await db.OrderStandings.CountAsync(o => o.Stage == OrderStage.New)).ShouldBeGreaterThan(150);
    }

    [Fact]
    public async Task Another_currency_is_held_for_what_it_is()
    {
        await using var bench = await Workbench.OpenAsync();
        await using (var systems = bench.Database.CreateDbContext())
            await systems.Systems.Where(s => s.Id == "back-office").ExecuteUpdateAsync(s => s.SetProperty(x => x.Currency, "CHF"));
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var standing = await db.OrderStandings.FirstAsync(o => o.Stage == OrderStage.Held);
        (standing.Causes.Single().Code, standing.Words).ShouldBe(
            ("currency", "its amounts are in EUR, and those of Lanternmoor Back Office are in CHF")
        );
    }

    [Fact]
    public async Task A_refund_of_what_was_never_bought_is_held_and_its_order_is_taken()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: false);
        var shop = bench.Sandbox.Orders.Shop;
        var odd = shop.All.First(o => o.Refunds.Any(r => r.Lines.Any(l => l.Line == "99")));
        odd.HubNumber.ShouldNotBeEmpty();
        bench.Sandbox.Orders.Book.Credits.ShouldNotContain(c => c.Document == odd.HubNumber);
        await bench.RunAsync(lane, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var standing = await db.OrderStandings.FirstAsync(o => o.SourceKey == odd.Id);
        standing.Causes.ShouldContain(c => c.Code == "refundTooMuch");
        (standing.Stage, standing.HubKey).ShouldBe((OrderStage.Held, odd.HubNumber));
    }

    [Fact]
    public async Task A_part_that_is_chosen_brings_its_customers_along_and_nothing_else()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        var stranger = bench.Sandbox.Orders.Shop.All.Last(o => o is { State: "processing", PaymentState: "paid" });
        bench
            .Sandbox.Orders.Shop.Change(
                stranger.Id,
                o =>
                    o with
                    {
                        Email = "new@lanternmoor.example",
                        Phone = "",
                        BillTo = o.BillTo! with { Name = "Ottoline Fernlea", Postcode = "LM9 N3W" },
                    }
            )
            .ShouldBeNull();
        var preview = await bench.RunAsync(lane, preview: true);
        var chosen = (await bench.WritesAsync(preview.Id)).Single(w => w.SourceKey == stranger.Id && w.Record == RecordKind.Order);
        await bench.Runs.SendAsync(preview.Id, new Narbit.Engine.Runs.Choice(false, Only: [chosen.Id]), "Tester", default);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
        var document = bench.Sandbox.Orders.Book.Documents.ShouldHaveSingleItem();
        bench.Sandbox.Orders.Book.Customers.Single(c => c.Number == document.Customer).Email.ShouldBe("new@lanternmoor.example");
    }

    [Fact]
    public async Task What_somebody_else_has_put_under_the_same_number_is_left_alone_and_told()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        var preview = await bench.RunAsync(lane, preview: true);
        var taken = (await bench.WritesAsync(preview.Id)).First(w => w.Record == RecordKind.Order);
        var book = bench.Sandbox.Orders.Book;
        var article = bench.Sandbox.Catalogue.Articles[0].Number;
        var (number, refusal) = book.Create(
            new Narbit.Sandbox.BackOffice.OfficeDocument
            {
                Number = "",
                ExternalNumber = taken.Reference!,
                Customer = book.Customers[0].Number,
                Lines = [new("goods", article, "typed in by hand", 1, 10, 10, 2, 12, 20)],
            },
            null
        );
        refusal.ShouldBeNull();
        await bench.Runs.SendAsync(preview.Id, new Narbit.Engine.Runs.Choice(true), "Tester", default);
        await bench.EndedAsync(preview.Id);
        var write = (await bench.WritesAsync(preview.Id)).First(w => w.Id == taken.Id);
        write.State.ShouldBe(WriteState.Failed);
        write.Fate!.Code.ShouldBe("number.taken");
        write.Fate.Words.ShouldContain($"under this number already, {number}");
        book.Documents.Count(d => d.ExternalNumber == taken.Reference).ShouldBe(1);
        bench.Sandbox.Orders.Shop.All.First(o => o.Number == taken.Reference).HubNumber.ShouldBeEmpty();
    }

    private static List<OrderedLine> Many(OrderedLine line, int count) =>
        [.. Enumerable.Range(1, count).Select(n => line with { Id = n.ToString(System.Globalization.CultureInfo.InvariantCulture) })];
}
