using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pricing;
using Narbit.Core.Stock;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Runs;
using Narbit.Sandbox.Faults;

namespace Narbit.Engine.Tests;

public sealed class RunTests
{
    [Fact]
    public async Task A_preview_shows_everything_and_writes_nothing()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        (run.State, run.Phase, run.Why?.Words).ShouldBe((RunState.Ready, RunPhase.Finished, null));
        var writes = await bench.WritesAsync(run.Id);
        (run.InStep + writes.Count + run.Remarked).ShouldBe(run.Paired);
        writes.Count.ShouldBeGreaterThan(150);
        bench.Shop.Applied.ShouldBeEmpty();

        var write = writes.First(w => w.State == WriteState.Planned);
        var field = write.Fields.ShouldHaveSingleItem();
        field.Old.ShouldBe((bench.PriceCents(write.TargetKey) / 100m).ToString("0.##", CultureInfo.InvariantCulture));
        field.New!.ShouldEndWith(".99");
        var trace = RuleJson.ReadTrace(field.Trace!);
        trace.Select(t => t.Step).ShouldBe(["pick", "sale", "bands", "currency", "tax", "ending", "floor", "compareAt"]);
        trace[^2].After.ShouldBe(field.New);
    }

    [Fact]
    public async Task Sending_a_preview_changes_the_shop_and_reads_it_back()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var planned = (await bench.WritesAsync(preview.Id)).Count(w => w.State == WriteState.Planned);
        (await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default)).Value.ShouldBe(planned);
        var run = await bench.EndedAsync(preview.Id);
        (run.State, run.Preview).ShouldBe((RunState.Done, false));
        await bench.ShouldBeCompleteAsync(run.Id);
        bench.Shop.Applied.Count.ShouldBe(planned);

        await using var db = bench.Database.CreateDbContext();
        var lane = await db.Lanes.FirstAsync(l => l.Id == Workbench.Prices);
        (await LaneStandings.OfAsync(db, [lane], default))[lane.Id].InStep.ShouldBe(run.InStep + planned);
        // What was confirmed is in the mirror at once: the next comparison finds it in step.
        var next = await bench.RunAsync(Workbench.Prices, preview: true);
        (await bench.WritesAsync(next.Id)).ShouldAllBe(w => w.State == WriteState.Held);
    }

    [Fact]
    public async Task Only_the_chosen_part_is_sent()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var chosen = (await bench.WritesAsync(preview.Id)).Where(w => w.State == WriteState.Planned).Take(7).Select(w => w.Id).ToList();
        (await bench.Runs.SendAsync(preview.Id, new Choice(false, Only: chosen), "Tester", default)).Value.ShouldBe(7);
        await bench.EndedAsync(preview.Id);
        bench.Shop.Applied.Count.ShouldBe(7);
        var after = await bench.WritesAsync(preview.Id);
        after.Where(w => w.State == WriteState.Confirmed).Select(w => w.Id).ShouldBe(chosen);
        after.Count(w => w.State == WriteState.Skipped).ShouldBeGreaterThan(100);
    }

    [Fact]
    public async Task All_but_a_few_can_be_sent_and_nothing_chosen_sends_nothing()
    {
        await using var bench = await Workbench.OpenAsync();
        var preview = await bench.RunAsync(Workbench.Stock, preview: true);
        var planned = (await bench.WritesAsync(preview.Id)).Where(w => w.State == WriteState.Planned).Select(w => w.Id).ToList();
        (await bench.Runs.SendAsync(preview.Id, new Choice(true, Except: planned), "Tester", default)).Fault!.Code.ShouldBe("send.nothing");
        (await bench.Runs.SendAsync(preview.Id, new Choice(true, Except: planned[..2]), "Tester", default)).Value.ShouldBe(
            planned.Count - 2
        );
        await bench.EndedAsync(preview.Id);
        bench.Shop.Applied.Count.ShouldBe(planned.Count - 2);
    }

    [Fact]
    public async Task A_negative_or_absurd_price_is_held_until_a_person_chooses_it()
    {
        await using var bench = await Workbench.OpenAsync();
        bench.Sandbox.Office.Edit("10002", "Studio", 5000m, null, null);
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.State.ShouldBe(RunState.Done);
        var held = (await bench.WritesAsync(run.Id)).Where(w => w.State == WriteState.Held).ToList();
        held.Select(w => w.Hold!.Words.Split(':')[0]).ShouldContain("the source's price is negative");
        held.Select(w => w.Hold!.Words).ShouldContain("the source's price is zero");
        var absurd = held.Single(w => w.SourceKey == "10002");
        absurd.Hold!.Words.ShouldContain("times what is there");
        bench.PriceCents(absurd.TargetKey).ShouldNotBe(600_000);

        (await bench.Runs.SendAsync(run.Id, new Choice(false, Only: [absurd.Id]), "Tester", default)).Value.ShouldBe(1);
        await bench.EndedAsync(run.Id);
        bench.PriceCents(absurd.TargetKey).ShouldBe(600_000);
        (await bench.WritesAsync(run.Id)).Single(w => w.Id == absurd.Id).State.ShouldBe(WriteState.Confirmed);
    }

    [Fact]
    public async Task Records_that_cannot_be_computed_are_named_with_the_cause()
    {
        await using var bench = await Workbench.OpenAsync();
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var remarks = await db.Remarks.Where(r => r.RunId == run.Id).ToListAsync();
        remarks.Count.ShouldBe(run.Remarked);
        remarks.Where(r => r.Why.Code == "unreadable").ShouldAllBe(r => r.Why.Words.Contains("the code “X” is not known"));
        remarks.Where(r => r.Why.Code == "noPrice").ShouldAllBe(r => r.Why.Words == "no price in Studio");
        var named = bench
            .Sandbox.Catalogue.Troubles.Where(t => t.Name is "tax code unknown" or "no price in the studio list")
            .SelectMany(t => t.Keys);
        remarks.Select(r => r.SourceKey!).ShouldBeSubsetOf(named);
        remarks.Count.ShouldBeGreaterThan(0);
    }

    [Fact]
    public async Task Stock_follows_the_back_office()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Stock, preview: false);
        bench.Sandbox.Office.Edit("10001", null, null, "Kilnyard", 77);
        var run = await bench.RunAsync(Workbench.Stock, preview: false);
        await bench.ShouldBeCompleteAsync(run.Id);
        var write = (await bench.WritesAsync(run.Id)).ShouldHaveSingleItem();
        var shelves = bench.Sandbox.Office.Find("10001")!.Stock.Values;
        bench.Variant(write.TargetKey).Quantity.ShouldBe(shelves.Sum(s => s.OnHand - s.Allocated));
    }

    [Fact]
    public async Task Growing_with_deliveries_remembers_where_it_started()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Stock, preview: false);
        await bench.SetRuleAsync(
            Workbench.Stock,
            new StockDocument(new StockRule { Replenish = new Replenish { Kind = ReplenishKind.FollowIncrease } })
        );
        await bench.RunAsync(Workbench.Stock, preview: false);
        await using var db = bench.Database.CreateDbContext();
        var target = (await db.Links.FirstAsync(p => p.HubKey == "10001")).OtherKey;
        var before = bench.Variant(target).Quantity;
        bench.Shop.Buy(long.Parse(target, CultureInfo.InvariantCulture), 3);
        var shelf = bench.Sandbox.Office.Find("10001")!.Stock["Kilnyard"];
        bench.Sandbox.Office.Edit("10001", null, null, "Kilnyard", shelf.OnHand + 10);
        await bench.RunAsync(Workbench.Stock, preview: false);
        bench.Variant(target).Quantity.ShouldBe(before - 3 + 10);
    }

    [Fact]
    public async Task A_refused_write_shows_the_targets_words_and_can_be_tried_again()
    {
        await using var bench = await Workbench.OpenAsync();
        bench.Sandbox.Office.Edit("10003", "Studio", 900_000m, null, null);
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        var write = (await bench.WritesAsync(run.Id)).Single(w => w.SourceKey == "10003");
        await bench.Runs.SendAsync(run.Id, new Choice(false, Only: [write.Id]), "Tester", default);
        await bench.EndedAsync(run.Id);
        var refused = (await bench.WritesAsync(run.Id)).Single(w => w.Id == write.Id);
        (refused.State, refused.Fate?.Words).ShouldBe((WriteState.Failed, "A price cannot be above 999,999.99."));
        (await bench.Runs.TryAgainAsync(run.Id, default)).Ok.ShouldBeTrue();
        (await bench.EndedAsync(run.Id)).State.ShouldBe(RunState.Done);
        (await bench.WritesAsync(run.Id)).Single(w => w.Id == write.Id).Attempts.ShouldBe(2);
    }

    [Fact]
    public async Task A_record_that_vanished_between_reading_and_writing_fails_alone()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var writes = (await bench.WritesAsync(preview.Id)).Where(w => w.State == WriteState.Planned).ToList();
        bench.Shop.Remove(long.Parse(writes[3].TargetKey, CultureInfo.InvariantCulture));
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        await bench.EndedAsync(preview.Id);
        var after = await bench.WritesAsync(preview.Id);
        var gone = after.Single(w => w.Id == writes[3].Id);
        (gone.State, gone.Fate?.Words).ShouldBe(
            (WriteState.Failed, "the record is no longer in Lanternmoor Web Shop; read it again, then look at its pair")
        );
        after.Count(w => w.State == WriteState.Confirmed).ShouldBe(writes.Count - 1);
    }

    [Fact]
    public async Task A_value_that_changed_there_since_is_not_overwritten()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var writes = (await bench.WritesAsync(preview.Id)).Where(w => w.State == WriteState.Planned).ToList();
        bench.Shop.SetPrice(long.Parse(writes[0].TargetKey, CultureInfo.InvariantCulture), 4242);
        bench.Shop.SetPrice(
            long.Parse(writes[1].TargetKey, CultureInfo.InvariantCulture),
            (int)(decimal.Parse(writes[1].Fields[0].New!, CultureInfo.InvariantCulture) * 100)
        );
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        await bench.EndedAsync(preview.Id);
        var after = await bench.WritesAsync(preview.Id);
        var overtaken = after.Single(w => w.Id == writes[0].Id);
        overtaken.State.ShouldBe(WriteState.Overtaken);
        overtaken.Fate?.Words!.ShouldContain("42.42");
        bench.PriceCents(writes[0].TargetKey).ShouldBe(4242);
        (after.Single(w => w.Id == writes[1].Id).State, after.Single(w => w.Id == writes[1].Id).Fate?.Words).ShouldBe(
            (WriteState.Confirmed, "was there already")
        );
    }

    [Fact]
    public async Task One_record_for_which_the_target_answers_500_does_not_stop_the_rest()
    {
        await using var bench = await Workbench.OpenAsync(edit: (_, d) => d["limits"]!["attempts"] = 2);
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var writes = (await bench.WritesAsync(preview.Id)).Where(w => w.State == WriteState.Planned).ToList();
        bench.Shop.Break(bench.Variant(writes[10].TargetKey).Sku, true);
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        await bench.EndedAsync(preview.Id);
        var after = await bench.WritesAsync(preview.Id);
        after.Where(w => w.State == WriteState.Failed).ShouldHaveSingleItem().Id.ShouldBe(writes[10].Id);
        after.Count(w => w.State == WriteState.Confirmed).ShouldBe(writes.Count - 1);
    }

    [Fact]
    public async Task One_lane_never_runs_twice_at_once()
    {
        await using var bench = await Workbench.OpenAsync();
        // The back office keeps silent, so that the first run is still at work when the others come.
        bench.OfficeDial.Shares = new FaultShares(LostBefore: 1);
        var starts = await Task.WhenAll(
            Enumerable.Range(0, 8).Select(_ => bench.Runs.StartAsync(Workbench.Prices, true, RunTrigger.Person, "Tester", default))
        );
        starts.Count(s => s.Ok).ShouldBe(1);
        starts.Where(s => !s.Ok).ShouldAllBe(s => s.Fault!.Code == "lane.busy" && s.Fault.Words.Contains("running already"));
        bench.OfficeDial.Shares = new FaultShares();
        await bench.Engine.WhenIdleAsync();
        (await bench.Runs.StartAsync(Workbench.Prices, true, RunTrigger.Person, "Tester", default)).Ok.ShouldBeTrue();
        await bench.Engine.WhenIdleAsync();
    }

    [Fact]
    public async Task A_newer_run_takes_the_place_of_an_older_preview()
    {
        await using var bench = await Workbench.OpenAsync();
        var first = await bench.RunAsync(Workbench.Prices, preview: true);
        await bench.RunAsync(Workbench.Prices, preview: true);
        (await bench.EndedAsync(first.Id)).State.ShouldBe(RunState.Superseded);
        (await bench.Runs.SendAsync(first.Id, new Choice(true), "Tester", default)).Fault!.Code.ShouldBe("run.superseded");
    }

    [Fact]
    public async Task A_full_disk_stops_the_run_before_anything_is_sent_and_loses_nothing()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        await bench.RunAsync(Workbench.Prices, preview: true);

        // The file may not grow by more than a few pages: a change set does not fit.
        using (bench.Database.Limit(extraPages: 4))
        {
            var run = await bench.RunAsync(Workbench.Prices, preview: false);
            run.State.ShouldBe(RunState.Failed);
            run.Why?.Words!.ShouldStartWith("The disk is full");
            bench.Shop.Applied.ShouldBeEmpty();
            (await bench.WritesAsync(run.Id)).ShouldBeEmpty();
        }

        await using var db = bench.Database.CreateDbContext();
        var failed = await db.Runs.OrderByDescending(r => r.Id).FirstAsync();
        (await bench.Runs.TryAgainAsync(failed.Id, default)).Ok.ShouldBeTrue();
        (await bench.EndedAsync(failed.Id)).State.ShouldBe(RunState.Done);
        await bench.ShouldBeCompleteAsync(failed.Id);
    }

    [Fact]
    public async Task A_target_that_is_not_there_fails_the_run_which_then_goes_on()
    {
        await using var bench = await Workbench.OpenAsync(edit: (_, d) => d["limits"]!["attempts"] = 2);
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        preview.State.ShouldBe(RunState.Ready, preview.Why?.Words);
        bench.ShopDial.Shares = new FaultShares(Error: 1);
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        var failed = await bench.EndedAsync(preview.Id);
        (failed.State, failed.Phase).ShouldBe((RunState.Failed, RunPhase.Send));
        failed.Why?.Words!.ShouldContain("failed (500)");
        bench.ShopDial.Shares = new FaultShares();
        await bench.Runs.TryAgainAsync(preview.Id, default);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
        await bench.ShouldBeCompleteAsync(preview.Id);
    }

    [Fact]
    public async Task With_every_fault_at_once_the_run_completes_and_nothing_comes_twice()
    {
        await using var bench = await Workbench.OpenAsync(edit: (_, d) => d["limits"]!["attempts"] = 15);
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        bench.ShopDial.Shares = new FaultShares(
            TooMany: 0.05,
            Error: 0.05,
            LostBefore: 0.04,
            LostAfter: 0.06,
            Twice: 0.1,
            HalfPage: 0.1,
            RetryAfter: 0
        );
        bench.OfficeDial.Shares = new FaultShares(TooMany: 0.1, Error: 0.1, HalfPage: 0.1, RetryAfter: 0);
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        bench.ShopDial.Dealt.ShouldBeGreaterThan(0);
        await bench.ShouldBeCompleteAsync(run.Id);
    }

    [Fact]
    public async Task A_system_that_may_not_be_written_is_not()
    {
        await using var bench = await Workbench.OpenAsync();
        await using (var db = bench.Database.CreateDbContext())
            await db.Systems.Where(s => s.Id == "web-shop").ExecuteUpdateAsync(s => s.SetProperty(x => x.MayWrite, false));
        var run = await bench.RunAsync(Workbench.Stock, preview: false);
        (run.State, run.Why?.Words).ShouldBe(
            (RunState.Failed, "Lanternmoor Web Shop may not be written; allow it under Systems, then try the run again.")
        );
        bench.Shop.Applied.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_scope_keeps_the_rest_out()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        await using (var db = bench.Database.CreateDbContext())
            await db.Lanes.ExecuteUpdateAsync(s => s.SetProperty(l => l.SkuStartsWith, "ugl-").SetProperty(l => l.PublishedOnly, true));
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        var writes = await bench.WritesAsync(run.Id);
        writes.Count.ShouldBeGreaterThan(10);
        writes.ShouldAllBe(w => w.Reference!.StartsWith("UGL-", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_carried_sale_and_a_compare_at_price_travel_with_the_price()
    {
        await using var bench = await Workbench.OpenAsync();
        var rule = Workbench.Markup with { Sale = SaleMode.Carry, CompareAtList = "Counter", Bands = [new PriceBand { Multiply = 0.9m }] };
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(rule));
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        var write = (await bench.WritesAsync(run.Id)).First(w => w.State == WriteState.Confirmed && w.Fields.Count == 3);
        var variant = bench.Variant(write.TargetKey);
        (variant.SaleCents < variant.PriceCents).ShouldBeTrue();
        (variant.CompareAtCents > variant.PriceCents).ShouldBeTrue();
        await bench.ShouldBeCompleteAsync(run.Id);
    }

    [Fact]
    public async Task A_trial_says_what_a_preview_would_find()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var document = new PriceDocument(Workbench.Markup);
        var trial = (ValueTrial)(await bench.Trial.TryAsync(Workbench.Prices, document, null, null, default)).Value;
        await bench.SetRuleAsync(Workbench.Prices, document);
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        var writes = await bench.WritesAsync(run.Id);
        (trial.Records, trial.Changes, trial.Held, trial.Failing).ShouldBe(
            (run.Paired, writes.Count, writes.Count(w => w.State == WriteState.Held), run.Remarked)
        );
        trial.Up.ShouldBe(writes.Count(w => w.Kind == ChangeKind.Up));
        trial.Samples.Count.ShouldBe(6);
        trial.Samples.Select(s => decimal.Parse(s.Trial!, CultureInfo.InvariantCulture)).ShouldBeInOrder();
        trial.Largest.Select(l => Math.Abs(l.Move ?? 0)).ShouldBeInOrder(SortDirection.Descending);
        trial.Samples.ShouldAllBe(s => s.Trace.Count == 8 && s.InForce != null);

        // Where all of it would be held, its amounts are amounts all the same.
        var wild = new PriceDocument(Workbench.Markup with { Bands = [new PriceBand { Multiply = 10 }] });
        var held = (ValueTrial)(await bench.Trial.TryAsync(Workbench.Prices, wild, null, null, default)).Value;
        (held.Held, held.Samples.Count, held.Field?.Unit).ShouldBe((held.Changes, 0, "€ gross"));
    }
}
