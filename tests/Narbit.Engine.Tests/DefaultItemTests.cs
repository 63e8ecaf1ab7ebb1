using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Pairing;
using Narbit.Engine.Runs;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Demo;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>What was booked under a rule's default item is found, given its item, and posted again.</summary>
public sealed class DefaultItemTests
{
    private const string Unknown = "SLIP-CAST-9";

    [Fact]
    public async Task What_was_booked_under_the_default_item_is_posted_again_under_its_own()
    {
        await using var bench = await Workbench.OpenAsync();
        var (lane, desk) = await PostedAsync(bench);
        var use = await UseAsync(desk, Unknown);
        (use.Orders, use.Posted, use.Quantity, use.Anew).ShouldBe((2, 2, 5, 0));
        use.Worth.ShouldBe([new Amount("EUR", 50m)]);
        use.Title.ShouldBe("A slip that nobody paired");
        var booked = Documents(bench, Unknown).ToList();
        booked.ShouldAllBe(d => d.Lines.Any(l => l.Article == Default(bench)));

        var own = Article(bench, 3);
        (
            await desk.GiveAsync(lane, new GivenItem(Unknown, own, ItemMemory.Orders, PostsAnew: true), "Tester", default)
        ).Fault.ShouldBeNull();
        (await UseAsync(desk, Unknown)).Anew.ShouldBe(2);
        // It is said before it is done: a preview takes the documents out.
        var preview = await bench.RunAsync(lane, preview: true);
        (await bench.WritesAsync(preview.Id)).Count(w => w is { Act: WriteAct.End, Way: Way.There }).ShouldBe(2);
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done, await bench.SaidAsync(preview));
        booked.ShouldAllBe(d => bench.Sandbox.Orders.Book.Document(d.Number) == null);
        await DoneAsync(bench, lane);
        var anew = Documents(bench, Unknown).ToList();
        anew.Count.ShouldBe(2);
        anew.ShouldAllBe(d => d.Lines.Any(l => l.Article == own) && d.Lines.All(l => l.Article != Default(bench)));
        anew.Select(d => d.Lines.Sum(l => l.Gross)).ShouldBe(booked.Select(d => d.Lines.Sum(l => l.Gross)));
        (await desk.AllAsync(lane, default)).ShouldNotContain(u => u.Sku == Unknown);

        // Once only: what is there now stays.
        var again = await DoneAsync(bench, lane);
        (await bench.WritesAsync(again.Id)).ShouldNotContain(w => w.Way == Way.There);
    }

    [Fact]
    public async Task Given_once_it_is_for_these_orders_and_a_document_that_is_too_far_on_stays()
    {
        await using var bench = await Workbench.OpenAsync();
        var (lane, desk) = await PostedAsync(bench);
        var own = Article(bench, 3);
        var shipped = Documents(bench, Unknown).First();
        bench.Sandbox.Orders.Book.Ship(shipped.Number, all: true, "Moor Post", "MP-9").ShouldBeNull();
        await DoneAsync(bench, lane);
        await desk.GiveAsync(lane, new GivenItem(Unknown, own, ItemMemory.Once, PostsAnew: true), "Tester", default);
        await DoneAsync(bench, lane);
        Place(bench, 1);
        await DoneAsync(bench, lane);

        bench.Sandbox.Orders.Book.Document(shipped.Number).ShouldNotBeNull();
        var left = await UseAsync(desk, Unknown);
        (left.Orders, left.Posted).ShouldBe((2, 2));
        await using var db = bench.Database.CreateDbContext();
        var standings = await db.OrderStandings.Where(o => o.Skus.Any(s => s.Sku == Unknown)).OrderBy(o => o.Id).ToListAsync();
        standings.SelectMany(s => s.Causes).Select(c => c.Code).ShouldBe(["tooLate"]);
        standings.Count.ShouldBe(3);
        var look = await new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System).LookAsync(
            lane,
            standings.Single(s => s.Causes.Count > 0).SourceKey,
            default
        );
        var after = look.Value.After.ShouldNotBeNull();
        (after.Parts.Count, after.Choices.Count).ShouldBe((0, 0));
        OrderWords.Of(after.Held).ShouldContain("too far on");
    }

    [Fact]
    public async Task Kept_as_a_pair_every_lane_knows_it_and_what_cannot_be_kept_is_refused_in_words()
    {
        await using var bench = await Workbench.OpenAsync();
        foreach (var system in new[] { "back-office", "web-shop" })
            (await bench.Reader.ReadSystemAsync(system, full: true, default)).Fault.ShouldBeNull();
        var couple = (await bench.Desk.EnsureAllAsync(default)).First(c => c.OtherId == "web-shop" && c.Kind == RecordKind.Item);
        (await bench.Desk.PairAsync(couple.Id, read: false, default)).Fault.ShouldBeNull();
        var listing = await UnpairedAsync(bench);
        var (lane, desk) = await PostedAsync(bench, listing.Reference!);
        var own = Article(bench, 3);
        async Task<string?> RefusedAsync(string sku, string item, ItemMemory memory, string of) =>
            (await desk.GiveAsync(of, new GivenItem(sku, item, memory, PostsAnew: true), "Tester", default)).Fault?.Code;
        (await RefusedAsync(listing.Reference!, "none", ItemMemory.Orders, lane)).ShouldBe("choice.notThere");
        (await RefusedAsync(Unknown, own, ItemMemory.Pair, lane)).ShouldBe("choice.noListing");
        (await RefusedAsync(Unknown, own, ItemMemory.Orders, "nowhere")).ShouldBe("lane.unknown");

        (await RefusedAsync(listing.Reference!, own, ItemMemory.Pair, lane)).ShouldBeNull();
        await using (var db = bench.Database.CreateDbContext())
            (await db.Links.SingleAsync(l => l.OtherKey == listing.Key)).HubKey.ShouldBe(own);
        // The same again is no other pair.
        (await RefusedAsync(listing.Reference!, own, ItemMemory.Pair, lane)).ShouldBeNull();
        await DoneAsync(bench, lane);
        await DoneAsync(bench, lane);
        Documents(bench, listing.Reference!).ShouldAllBe(d => d.Lines.Any(l => l.Article == own));
    }

    private static string Article(Workbench bench, int place) => bench.Sandbox.Office.Search("", 10)[place].Number;

    private static string Default(Workbench bench) => Article(bench, 0);

    private static async Task<(string Lane, DefaultItemDesk Desk)> PostedAsync(Workbench bench, string sku = Unknown)
    {
        var lane = await OrderLaneTests.LaneAsync(bench);
        Place(bench, 3, sku);
        Place(bench, 2, sku);
        var rule = OrderLaneTests.Policy.Rule with { UnknownItem = UnknownItem.Use, UseItem = Default(bench) };
        await bench.SetRuleAsync(
            lane,
            OrderLaneTests.Policy with
            {
                Rule = rule,
                After = new AfterPostingRule { While = ["open"] },
            }
        );
        await DoneAsync(bench, lane);
        var orders = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        var pairs = new DecisionDesk(bench.Database, TimeProvider.System);
        return (lane, new DefaultItemDesk(bench.Database, orders, pairs, TimeProvider.System));
    }

    private static void Place(Workbench bench, int quantity, string sku = Unknown) =>
        bench.Sandbox.Orders.Shop.Place(n =>
            Reckoning.Added(
                new StoreOrder
                {
                    Id = $"{39_000 + n}",
                    Number = $"W{39_000 + n}",
                    PlacedAt = Catalogue.Day,
                    State = "processing",
                    PaymentState = "paid",
                    Method = "card",
                    Email = "una.slip@lanternmoor.example",
                    ShipTo = new PostAddress("Una Slip", "", "4 Quarry Rise", "Port Ember", "LM02 B1D", "IE"),
                    Lines = [new OrderedLine("1", sku, "A slip that nobody paired", quantity, 10, 0, 23)],
                    Shipping = [new Sending("standard", 4.90m)],
                },
                gross: true
            )
        );

    private static IEnumerable<OfficeDocument> Documents(Workbench bench, string sku)
    {
        var numbers = bench.Sandbox.Orders.Shop.All.Where(o => o.Lines.Any(l => l.Sku == sku)).Select(o => o.Number).ToHashSet();
        return bench.Sandbox.Orders.Book.Documents.Where(d => numbers.Contains(d.ExternalNumber)).OrderBy(d => d.ExternalNumber);
    }

    private static async Task<Data.Mirror.MirrorRecord> UnpairedAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.Records.FirstAsync(r =>
            r.SystemId == "web-shop" && r.Kind == RecordKind.Item && r.Reference != null && !db.Links.Any(l => l.OtherKey == r.Key)
        );
    }

    private static async Task<DefaultItemUse> UseAsync(DefaultItemDesk desk, string sku) =>
        (await desk.AllAsync(null, default)).Single(u => u.Sku == sku);

    private static async Task<Run> DoneAsync(Workbench bench, string lane)
    {
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, await bench.SaidAsync(run));
        return run;
    }
}
