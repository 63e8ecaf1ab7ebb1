using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Runs;
using Narbit.Sandbox.WebShop;

namespace Narbit.Engine.Tests;

public sealed class RollBackTests
{
    [Fact]
    public async Task AGuardStopsBeforeTheFirstWriteAndAPersonSendsTheRest()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        // Somebody typed 8 instead of 108 %; only the glazes of one band are hit, so that there is a rest.
        await bench.SetRuleAsync(
            Workbench.Prices,
            new PriceDocument(
                Workbench.PlainPrice with
                {
                    Bands =
                    [
                        new PriceBand
                        {
                            From = 0,
                            To = 8,
                            Multiply = 0.5m,
                        },
                    ],
                }
            ),
            new GuardLimits { ChangedShare = null, BelowCost = false }
        );
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.State.ShouldBe(RunState.Ready);
        bench.Shop.Applied.ShouldBeEmpty();
        var tripped = TrippedGuard.Read(run.Tripped).Single();
        tripped.Kind.ShouldBe(GuardKind.PriceMove);
        tripped.Worst.Count.ShouldBe(5);
        var writes = await bench.WritesAsync(run.Id);
        writes.Count(w => w.Guards == "priceMove").ShouldBe(tripped.Count);

        var rest = await bench.Runs.SendAsync(run.Id, new Choice(true, WithoutGuarded: true), "Tester", default);
        rest.Value.ShouldBe(writes.Count(w => w.Guards.Length == 0 && w.State == WriteState.Planned));
        await bench.EndedAsync(run.Id);
        writes = await bench.WritesAsync(run.Id);
        writes.Where(w => w.Guards.Length > 0).ShouldAllBe(w => w.State == WriteState.Skipped);
        writes.Where(w => w.Guards.Length == 0 && w.State != WriteState.Held).ShouldAllBe(w => w.State == WriteState.Confirmed);
    }

    [Fact]
    public async Task NothingIsSentWhenAPersonSaysNone()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup), new GuardLimits());
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.State.ShouldBe(RunState.Ready);
        (await bench.Runs.DismissAsync(run.Id, "Tester", default)).Fault.ShouldBeNull();
        run = await bench.EndedAsync(run.Id);
        (run.State, run.Why?.Words).ShouldBe((RunState.Done, "Nothing was sent: Tester decided so."));
        (await bench.WritesAsync(run.Id)).ShouldAllBe(w => w.State == WriteState.Skipped);
        bench.Shop.Applied.ShouldBeEmpty();
        (await bench.Runs.DismissAsync(run.Id, "Tester", default)).Fault!.Code.ShouldBe("run.notReady");
    }

    [Fact]
    public async Task What_was_empty_before_and_cannot_be_emptied_stays_and_the_other_fields_go_back()
    {
        await using var bench = await Workbench.OpenAsync();
        static FieldMapping Field(string target, params string[] sources) => new() { Target = target, Source = new MapSource(sources) };
        // Two listings without a barcode; one of them has another category than its item, too.
        bench.Shop.Update([
            new ShopEdit { VariantId = 90_010, Barcode = "" },
            new ShopEdit
            {
                VariantId = 90_020,
                Barcode = "",
                Content = new ShopContent(null, null, "elsewhere", null, null, null, null, null),
            },
        ]);
        var map = new FieldMap { Fields = [Field("barcode", "barcode"), Field("category", "category")] };
        var lane = await bench.AddItemLaneAsync("web-shop", map, new GuardLimits { ChangedShare = null });
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        var written = (await bench.WritesAsync(run.Id)).Where(w => w.State == WriteState.Confirmed).ToList();
        bool Gave(PlannedWrite w) => w.Fields.Exists(f => f.Field == "barcode" && f.Old is null);
        var mixed = written.Where(w => Gave(w) && w.Fields.Count == 2).ToList();
        var alone = written.Where(w => Gave(w) && w.Fields.Count == 1).ToList();
        (mixed.Count, alone.Count).ShouldBe((1, 1));

        var back = await bench.EndedAsync((await bench.Runs.RollBackAsync(run.Id, null, "Tester", default)).Value);
        var planned = await bench.WritesAsync(back.Id);
        foreach (var write in mixed)
            planned
                .Single(w => w.TargetKey == write.TargetKey)
                .Fields.OrderBy(f => f.Position)
                .Select(f => (f.Field, f.Stays))
                .ShouldBe([("category", false), ("barcode", true)]);
        planned.ShouldNotContain(w => alone.Any(a => a.TargetKey == w.TargetKey));
        await using (var db = bench.Database.CreateDbContext())
            (await db.Remarks.Where(r => r.RunId == back.Id).ToListAsync())
                .Select(r => (r.TargetKey, r.Why.Code))
                .ShouldBe(alone.Select(w => ((string?)w.TargetKey, "cannotEmpty")), ignoreOrder: true);
        // Nothing is tried that cannot succeed.
        (await bench.Runs.SendAsync(back.Id, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        await bench.EndedAsync(back.Id);
        await bench.ShouldBeConfirmedAsync(back.Id);
    }

    [Fact]
    public async Task ARunIsTakenBackWhereTheShopStillHoldsWhatItWrote()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await using (var db = bench.Database.CreateDbContext())
        {
            db.Jobs.Add(
                new Data.Jobs.Job
                {
                    Id = "hourly",
                    Name = "Hourly",
                    Lanes = [new Data.Jobs.JobLane { LaneId = Workbench.Prices }],
                }
            );
            await db.SaveChangesAsync();
        }

        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        var sent = (await bench.WritesAsync(run.Id)).Where(w => w.State == WriteState.Confirmed).ToList();
        sent.Count.ShouldBeGreaterThan(100);
        // The shop's people changed one since, and one is gone.
        bench.Shop.SetPrice(Workbench.Id(sent[0].TargetKey), 12_345);
        bench.Shop.Remove(Workbench.Id(sent[1].TargetKey));

        var started = await bench.Runs.RollBackAsync(run.Id, null, "Tester", default);
        started.Fault.ShouldBeNull();
        var back = await bench.EndedAsync(started.Value);
        (back.State, back.RollsBack).ShouldBe((RunState.Ready, run.Id));
        var planned = await bench.WritesAsync(back.Id);
        planned.Count.ShouldBe(sent.Count - 1);
        await using (var db = bench.Database.CreateDbContext())
        {
            var remarks = await db.Remarks.Where(r => r.RunId == back.Id).ToListAsync();
            remarks.Select(r => r.Why.Code).ShouldBe(["movedOn"]);
            remarks.Single(r => r.Why.Code == "movedOn").Why.Words.ShouldContain("was changed to 123.45 since run");
        }

        (await bench.Runs.SendAsync(back.Id, new Choice(true), "Tester", default)).Value.ShouldBe(sent.Count - 1);
        await bench.EndedAsync(back.Id);
        (await bench.WritesAsync(back.Id))
            .Single(w => w.State != WriteState.Confirmed)
            .ShouldSatisfyAllConditions(
                w => w.TargetKey.ShouldBe(sent[1].TargetKey),
                w => w.Fate?.Words!.ShouldContain("no longer in Lanternmoor Web Shop")
            );
        foreach (var write in sent.Skip(2))
            (bench.PriceCents(write.TargetKey) / 100m).ShouldBe(Amount(write.Fields[0].Old));
        bench.PriceCents(sent[0].TargetKey).ShouldBe(12_345);
        (await bench.WritesAsync(run.Id)).Where(w => w.State == WriteState.Confirmed).Skip(2).ShouldAllBe(w => w.TakenBackIn == back.Id);
        await using (var db = bench.Database.CreateDbContext())
            (await db.Lanes.SingleAsync(l => l.Id == Workbench.Prices)).Paused.ShouldBeTrue(
                "the next run of the timetable would send it again"
            );
        (await bench.Runs.RollBackAsync(run.Id, [.. sent.Skip(2).Select(w => w.Id)], "Tester", default)).Fault!.Code.ShouldBe(
            "rollback.nothing"
        );
    }

    [Fact]
    public async Task ChosenRecordsAreTakenBackAndTheRestStays()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        var sent = (await bench.WritesAsync(run.Id)).Where(w => w.State == WriteState.Confirmed).ToList();
        var started = await bench.Runs.RollBackAsync(run.Id, [sent[3].Id, sent[4].Id], "Tester", default);
        await bench.EndedAsync(started.Value);
        (await bench.Runs.SendAsync(started.Value, new Choice(true), "Tester", default)).Value.ShouldBe(2);
        await bench.EndedAsync(started.Value);
        foreach (var write in sent.Take(10))
            (bench.PriceCents(write.TargetKey) / 100m).ShouldBe(
                Amount(write == sent[3] || write == sent[4] ? write.Fields[0].Old : write.Fields[0].New)
            );
    }

    [Fact]
    public async Task WhatARunCreatedIsEndedWhenItIsTakenBack()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync(
            "web-shop",
            new FieldMap
            {
                Fields = [.. new[] { "sku", "title", "weight" }.Select(f => new FieldMapping { Target = f, Source = new MapSource([f]) })],
                Publish = new PublishRule
                {
                    New = NewRecords.All,
                    Portion = 3,
                    Live = true,
                },
            }
        );
        var run = await bench.RunAsync(lane, preview: false);
        var created = (await bench.WritesAsync(run.Id)).Where(w => w.Act == WriteAct.Create && w.State == WriteState.Confirmed).ToList();
        created.Count.ShouldBe(3);
        var started = await bench.Runs.RollBackAsync(run.Id, [.. created.Select(w => w.Id)], "Tester", default);
        await bench.EndedAsync(started.Value);
        (await bench.WritesAsync(started.Value)).ShouldAllBe(w => w.Act == WriteAct.End);
        await bench.Runs.SendAsync(started.Value, new Choice(true), "Tester", default);
        (await bench.EndedAsync(started.Value)).State.ShouldBe(RunState.Done);
        bench.Shop.Lookup([.. created.Select(w => Workbench.Id(w.TargetKey))], found => found.Count).ShouldBe(0);
        await using var db = bench.Database.CreateDbContext();
        (await db.Links.CountAsync(l => created.Select(w => w.TargetKey).Contains(l.OtherKey))).ShouldBe(0);
    }

    [Fact]
    public async Task OnlyWhatWasSentCanBeTakenBack()
    {
        await using var bench = await Workbench.OpenAsync();
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        (await bench.Runs.RollBackAsync(preview.Id, null, "Tester", default)).Fault!.Code.ShouldBe("run.notDone");
        (await bench.Runs.RollBackAsync(4711, null, "Tester", default)).Fault!.Code.ShouldBe("run.unknown");
    }

    [Fact]
    public async Task TheDatabaseNotesByItselfWhatChangedInAnItem()
    {
        await using var bench = await Workbench.OpenAsync();
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        var write = (await bench.WritesAsync(run.Id))[0];
        var old = bench.PriceCents(write.TargetKey);
        bench.Shop.SetPrice(Workbench.Id(write.TargetKey), 77_700);
        await bench.RunAsync(Workbench.Prices, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var change = await db.ValueChanges.SingleAsync();
        (change.SystemId, change.Key, change.Field, change.Old, change.New).ShouldBe(
            ("web-shop", write.TargetKey, "price", Numbers.Plain(old / 100m), "777")
        );
    }

    private static decimal Amount(string? text) => decimal.Parse(text!, System.Globalization.CultureInfo.InvariantCulture);
}
