using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;
using Narbit.Core.People;
using Narbit.Core.Records;
using Narbit.Data.Mismatches;
using Narbit.Data.Orders;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Pairing;
using Narbit.Engine.People;
using Narbit.Engine.Runs;
using Narbit.Sandbox.Faults;
using static Narbit.Engine.Tests.Desks;

namespace Narbit.Engine.Tests;

/// <summary>What does not match is found wherever it is, and settled through the same doors as everything else.</summary>
public sealed class MismatchTests
{
    [Fact]
    public async Task What_a_comparison_could_not_settle_is_open_until_the_next_one_no_longer_finds_it()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var held = (await OpenAsync(bench, "held.price.sourceZero"))[0];
        (held.LaneId, held.SystemId, held.OtherSystemId).ShouldBe((Workbench.Prices, "back-office", "web-shop"));
        held.Worth!.Value.ShouldBeGreaterThan(0);
        (await OpenAsync(bench, "value.noPrice")).ShouldNotBeEmpty();
        (await OpenAsync(bench, "work.preview")).Single().RunId.ShouldBe(held.RunId);
        var unreadable = await OpenAsync(bench, "read.unreadable");
        unreadable.Select(m => m.SystemId).ShouldContain("back-office");

        bench.Sandbox.Office.Edit(held.Key, "Studio", 12.5m, null, null);
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        (await OneAsync(bench, held.Id)).State.ShouldBe(MismatchState.Gone);
        (await OpenAsync(bench, "read.unreadable")).Select(m => m.Id).ShouldBe(unreadable.Select(m => m.Id), ignoreOrder: true);
    }

    [Fact]
    public async Task Likely_pairs_are_taken_all_at_once_as_a_batch_and_given_back()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        await BookOf(bench).LookAtAllAsync(default);
        var likely = await OpenAsync(bench, "pair.likely");
        likely.Count.ShouldBeGreaterThan(20);
        var (desk, ids) = (DeskOf(bench), likely.ConvertAll(m => m.Id));
        var taken = (await desk.TakeAsync(ids, null, "Ines", default)).Value;
        taken.Count.ShouldBe(likely.Count);
        (await bench.LinksAsync(couple.Id)).Count.ShouldBe(likely.Count);
        (await OneAsync(bench, ids[0])).ShouldSatisfyAllConditions(
            m => m.State.ShouldBe(MismatchState.Settled),
            m => m.SettledBy.ShouldBe("Ines"),
            m => m.ActId.ShouldBe(taken.ActId)
        );
        // Somebody else settles the same: nothing happens twice, and it is said who was first.
        (await desk.TakeAsync(ids[..1], null, "Noor", default)).Fault!.Words.ShouldContain("Ines has settled it meanwhile");

        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Value.Count.ShouldBe(likely.Count);
        (await bench.LinksAsync(couple.Id)).ShouldBeEmpty();
        (await OpenAsync(bench, "pair.likely")).Count.ShouldBe(likely.Count);
        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault!.Code.ShouldBe("mismatch.undone");
    }

    [Fact]
    public async Task One_that_cannot_be_decided_holds_up_none_of_the_others()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        await BookOf(bench).LookAtAllAsync(default);
        var likely = (await OpenAsync(bench, "pair.likely")).Where(m => m.SystemId == "trade-portal").Take(5).ToList();
        // Somebody has decided the second one at the pair desk meanwhile.
        (
            await bench.Decisions.DecideAsync(
                couple.Id,
                [new DecisionToMake(DecisionAct.SetAside, OtherKey: likely[1].Key, Reason: "sold only there")],
                "Noor",
                default
            )
        ).Fault.ShouldBeNull();
        var taken = (await DeskOf(bench).TakeAsync([.. likely.Select(m => m.Id)], null, "Ines", default)).Value;
        taken.Count.ShouldBe(4);
        taken.Words.ShouldBe("4 paired");
        taken.NotTaken.Single().MismatchId.ShouldBe(likely[1].Id);
        (await OneAsync(bench, likely[1].Id)).State.ShouldBe(MismatchState.Open);
    }

    [Fact]
    public async Task A_way_out_that_is_another_by_now_is_refused()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        await bench.AddStoreAsync("trade-portal");
        await BookOf(bench).LookAtAllAsync(default);
        var one = (await OpenAsync(bench, "pair.likely"))[0];
        var desk = DeskOf(bench);
        var suggested = (await desk.SuggestAsync([one], default)).Single();
        var way = suggested.Suggestion;
        (await desk.TakeAsync([one.Id], "0000000000000000", "Ines", default)).Fault!.Code.ShouldBe("mismatch.changed");
        (await desk.TakeAsync([one.Id], suggested.Fingerprint, "Ines", default)).Value.Count.ShouldBe(1);
    }

    [Fact]
    public async Task A_code_is_entered_by_its_name_as_a_version_that_the_next_run_takes()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap());
        var map = new FieldMap
        {
            Fields =
            [
                new FieldMapping
                {
                    Target = "category",
                    Source = new MapSource(["category"]),
                    Steps = [new MapStep("crosswalk", new Dictionary<string, string> { ["table"] = "Shelves" })],
                },
            ],
            Crosswalks = [new Crosswalk { Name = "Shelves", Entries = [new CrosswalkEntry("Glazes › Brush-on", "Glazes › Brush-on")] }],
        };
        await bench.SetRuleAsync(lane, new ItemDocument(map));
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var missing = await OpenAsync(bench, "value.crosswalk");
        missing.Count.ShouldBeGreaterThan(20);
        var desk = DeskOf(bench);
        var alike = missing.Where(m => m.Subject == missing[0].Subject).ToList();
        var way = (await desk.SuggestAsync(alike, default))[0].Suggestion;
        (way.Act, way.Learns).ShouldBe(("code", true));

        var cut = await CutOffAsync(bench, [.. alike.Select(m => m.Id)]);
        (await MapAsync(bench, lane)).Crosswalks[0].Entries.Count.ShouldBe(2);
        (await desk.UndoAsync(cut, "Ines", default)).Fault.ShouldBeNull();
        (await MapAsync(bench, lane)).Crosswalks[0].Entries.Count.ShouldBe(1);

        var taken = (await desk.TakeAsync([.. alike.Select(m => m.Id)], null, "Ines", default)).Value;
        taken.Count.ShouldBe(alike.Count);
        (await MapAsync(bench, lane))
            .Crosswalks[0]
            .Entries.ShouldContain(e => missing[0].Subject == $"Shelves: {e.From}" && e.To == way.Value);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "value.crosswalk")).ShouldNotContain(m => m.Subject == missing[0].Subject);

        (await desk.LearnedAsync(default)).Single().Lessons.Single().Words.ShouldContain($" → {way.Value} in the crosswalk");
        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault.ShouldBeNull();
        (await desk.LearnedAsync(default)).Single().UndoneBy.ShouldBe("Ines");
        (await MapAsync(bench, lane)).Crosswalks[0].Entries.Count.ShouldBe(1);
        // What somebody is changing is not changed under them.
        await using (var db = bench.Database.CreateDbContext())
        {
            db.Drafts.Add(
                new Data.Lanes.LaneDraft
                {
                    LaneId = lane,
                    Person = "Ines",
                    BaseNumber = 1,
                    Document = "{}",
                    Window = "1",
                    At = DateTimeOffset.UtcNow,
                }
            );
            await db.SaveChangesAsync();
        }

        (await OpenAsync(bench, "value.crosswalk"))[0].Subject.ShouldNotBeNull();
        (await desk.TakeAsync([missing[^1].Id], null, "Ines", default)).Fault!.Words.ShouldContain("not saved");
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "work.draft")).Single().Words.ShouldBe("Ines has changed the map and not saved it");
    }

    [Fact]
    public async Task What_an_unknown_SKU_is_holds_for_every_order_and_is_taken_back()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var unknown = (await OpenAsync(bench, "order.unknownItem"))
            .Where(m => m.Subject!.StartsWith("OLD-", StringComparison.Ordinal))
            .ToList();
        unknown.Count.ShouldBe(3);
        unknown.ShouldAllBe(m => m.Worth > 0 && m.Currency == "EUR" && m.Hint != null);
        var desk = DeskOf(bench);
        var ways = await desk.SuggestAsync(unknown, default);
        ways.Count.ShouldBe(3, "each line says what it was called");
        ways.ShouldAllBe(w => w.Suggestion.Because == "the title is the same");

        var cut = await CutOffAsync(bench, [.. unknown.Select(m => m.Id)]);
        (await InForceAsync(bench)).ShouldBe(1);
        (await desk.UndoAsync(cut, "Ines", default)).Fault.ShouldBeNull();
        (await InForceAsync(bench)).ShouldBe(0);

        var taken = (await desk.TakeAsync([.. unknown.Select(m => m.Id)], null, "Ines", default)).Value;
        taken.Count.ShouldBe(3);
        await using (var db = bench.Database.CreateDbContext())
        {
            var decided = await db.OrderDecisions.Where(d => d.UndoneAt == null).ToListAsync();
            decided.Select(d => d.Subject).ShouldBe(unknown.Select(m => m.Subject), ignoreOrder: true);
            decided.ShouldAllBe(d => d.Kind == OrderChoiceKind.Item && d.OrderKey == null);
            var keys = unknown.ConvertAll(m => m.Key);
            (await db.OrderStandings.CountAsync(o => keys.Contains(o.SourceKey) && o.Causes.Any(c => c.Code == "unknownItem"))).ShouldBe(0);
        }

        await BookOf(bench).LookAtAllAsync(default);
        (await OneAsync(bench, unknown[0].Id)).State.ShouldBe(MismatchState.Settled);
        var learned = (await desk.LearnedAsync(default)).Single();
        learned.Lessons.Count.ShouldBe(3, "three SKUs are known from now on");
        learned.Lessons.ShouldAllBe(l => l.Acted == 0);

        // Tomorrow's order with one of them is taken without a question, and the lesson says that it acted.
        var sold = bench.Sandbox.Orders.Shop.All.First(o => o.Id == unknown[0].Key);
        bench.Sandbox.Orders.Shop.Place(n =>
            sold with
            {
                Id = $"{n}",
                Number = $"W{n}",
                PlacedAt = DateTimeOffset.UtcNow.AddMinutes(1),
                HubNumber = "",
            }
        );
        await bench.RunAsync(lane, preview: true);
        await using (var db = bench.Database.CreateDbContext())
            (await db.OrderStandings.OrderByDescending(o => o.PlacedAt).FirstAsync()).Causes.ShouldNotContain(c => c.Code == "unknownItem");
        (await desk.LearnedAsync(default))
            .Single()
            .Lessons.Single(l => l.Words.StartsWith(unknown[0].Subject!, StringComparison.Ordinal))
            .Acted.ShouldBe(1);
        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault.ShouldBeNull();
        await using var after = bench.Database.CreateDbContext();
        (
            await after.OrderStandings.CountAsync(o => o.Stage == OrderStage.Held && o.Causes.Any(c => c.Code == "unknownItem"))
        ).ShouldBeGreaterThan(2);
    }

    private static async Task<int> InForceAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.OrderDecisions.CountAsync(d => d.UndoneAt == null);
    }

    [Fact]
    public async Task A_small_difference_is_made_up_for_in_that_order_alone()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var off = await OpenAsync(bench, "order.totals");
        off.Count.ShouldBeGreaterThanOrEqualTo(2);
        (await DeskOf(bench).TakeAsync([off[0].Id], null, "Ines", default)).Value.Count.ShouldBe(1);
        await using var db = bench.Database.CreateDbContext();
        (await db.OrderDecisions.SingleAsync()).ShouldSatisfyAllConditions(
            d => d.Kind.ShouldBe(OrderChoiceKind.Difference),
            d => d.OrderKey.ShouldBe(off[0].Key)
        );
    }

    [Fact]
    public async Task A_correction_is_shown_as_a_preview_before_it_is_sent()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var missing = (await OpenAsync(bench, "ready.skuMissing"))
            .Where(m => m is { Proposal: not null, SystemId: "back-office" })
            .ToList();
        missing.ShouldNotBeEmpty();
        var taken = (await DeskOf(bench).TakeAsync([missing[0].Id], null, "Ines", default)).Value;
        var run = await bench.EndedAsync(taken.RunId!.Value);
        run.State.ShouldBe(RunState.Ready, await bench.SaidAsync(run));
        (await bench.WritesAsync(run.Id)).Single().Fields.Single().New.ShouldBe(missing[0].Proposal);
        (await DeskOf(bench).UndoAsync(taken.ActId!.Value, "Ines", default)).Fault.ShouldBeNull();
        (await bench.Runs.SendAsync(run.Id, new Choice(true), "Ines", default)).Fault.ShouldNotBeNull("it was given up");
    }

    [Fact]
    public async Task A_system_that_flaps_is_one_mismatch_with_its_history()
    {
        await using var bench = await Workbench.OpenAsync();
        for (var round = 0; round < 3; round++)
        {
            bench.OfficeDial.Shares = new FaultShares(Error: 1, RetryAfter: 0);
            await bench.Reader.ReadAsync("back-office", RecordKind.Item, full: true, default);
            await BookOf(bench).LookAtAllAsync(default);
            (await OpenAsync(bench, "system.silent")).Single().SystemId.ShouldBe("back-office");
            bench.OfficeDial.Shares = new FaultShares();
            await bench.Reader.ReadAsync("back-office", RecordKind.Item, full: true, default);
            await BookOf(bench).LookAtAllAsync(default);
            (await OpenAsync(bench, "system.silent")).ShouldBeEmpty();
        }

        await using var db = bench.Database.CreateDbContext();
        (await db.Mismatches.SingleAsync(m => m.Cause == "system.silent")).CameBack.ShouldBe(2);
    }

    [Fact]
    public async Task What_is_refused_is_told_and_tried_once_more()
    {
        await using var bench = await Workbench.OpenAsync();
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        bench.ShopDial.Shares = new FaultShares(Error: 1, RetryAfter: 0);
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        await bench.EndedAsync(preview.Id);
        bench.ShopDial.Shares = new FaultShares();
        await BookOf(bench).LookAtAllAsync(default);
        var stopped = await OpenAsync(bench, "run.failed");
        stopped.Single().RunId.ShouldBe(preview.Id);
        (await DeskOf(bench).TakeAsync([stopped[0].Id], null, "Ines", default)).Value.Count.ShouldBe(1);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "run.failed")).ShouldBeEmpty();
    }

    [Fact]
    public async Task Who_is_forgotten_is_not_named_at_the_desk_either()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        await using var db = bench.Database.CreateDbContext();
        var stuck = await db.Mismatches.AsNoTracking().FirstAsync(m => m.Kind == RecordKind.Order && m.Key != "" && m.Caption != null);
        var order = bench.Sandbox.Orders.Shop.All.First(o => o.Id == stuck.Key);
        await new PersonDesk(bench.Database, bench.Adapters, TimeProvider.System).AnonymiseAsync(order.Email, default);
        (await OneAsync(bench, stuck.Id)).Caption.ShouldBe(Anonymity.Mark);
        await BookOf(bench).LookAtAllAsync(default);
        (await OneAsync(bench, stuck.Id)).Caption.ShouldBe(Anonymity.Mark);
    }

    [Fact]
    public async Task Stock_below_zero_and_a_partner_that_is_gone_are_found()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Stock, preview: true);
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        var link = (await bench.LinksAsync(couple.Id))[0];
        await using (var db = bench.Database.CreateDbContext())
            await db
                .Records.Where(r => r.SystemId == "back-office" && r.Key == link.HubKey && r.Kind == RecordKind.Item)
                .ExecuteUpdateAsync(s => s.SetProperty(r => r.GoneAt, DateTimeOffset.UtcNow));
        bench.Sandbox.Office.Edit("10002", null, null, "Kilnyard", -3);
        await bench.Reader.ReadAsync("back-office", RecordKind.StockLevel, full: true, default);
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "stock.gone")).Single().Key.ShouldBe(link.OtherKey);
        (await OpenAsync(bench, "stock.belowZero")).Single().Pieces.ShouldBe(3);
    }

    [Fact]
    public async Task A_lane_that_is_removed_takes_its_mismatches_with_it_and_putting_off_wants_a_time_to_come()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var held = (await OpenAsync(bench, "held.price.sourceZero"))[0];
        var desk = DeskOf(bench);
        (await desk.PutOffAsync([held.Id], DateTimeOffset.UtcNow.AddMinutes(-1), "Ines", default)).Fault!.Code.ShouldBe("mismatch.past");
        (await desk.RemarkAsync([held.Id], "  ", "Ines", default)).Fault!.Code.ShouldBe("mismatch.noWords");
        var waits = (await OpenAsync(bench, "work.preview"))[0];
        (await desk.TakeAsync([waits.Id], null, "Ines", default)).Fault!.Code.ShouldBe("mismatch.noWayOut");
        await using (var db = bench.Database.CreateDbContext())
            await db
                .Lanes.Where(l => l.Id == Workbench.Prices)
                .ExecuteUpdateAsync(s => s.SetProperty(l => l.RemovedAt, DateTimeOffset.UtcNow));
        await BookOf(bench).LookAtAllAsync(default);
        (await OneAsync(bench, held.Id)).State.ShouldBe(MismatchState.Gone);
    }

    private static async Task<FieldMap> MapAsync(Workbench bench, string lane)
    {
        var opened = await Lanes.OpenLane.ForAsync(bench.Database, bench.Adapters, lane, default);
        return opened.Value.Document.Mapped!;
    }
}
