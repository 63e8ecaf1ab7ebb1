using System.Runtime.ExceptionServices;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data.Lanes;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Runs;
using Narbit.Sandbox.Faults;

namespace Narbit.Engine.Tests;

/// <summary>Items to real stand-ins, by maps.</summary>
public sealed class ItemLaneTests
{
    private static MapStep Step(string name, params (string Name, string Value)[] with) =>
        new(name, with.ToDictionary(w => w.Name, w => w.Value));

    private static FieldMapping Field(string target, string source, params MapStep[] steps) =>
        new()
        {
            Target = target,
            Source = new MapSource([source]),
            Steps = steps,
        };

    // What a shop would want of every item.
    private static readonly FieldMap Full = new()
    {
        Fields =
        [
            Field("sku", "sku"),
            Field("title", "title"),
            Field("option", "option"),
            Field("barcode", "barcode"),
            Field("category", "category"),
            Field("weight", "weight"),
            Field("description", "webText", Step("sanitise")),
            Field("images", "pictures", Step("images", ("base", "https://pictures.lanternmoor.example"))),
        ],
    };

    [Fact]
    public async Task A_map_on_trial_says_how_many_texts_it_cuts_and_which_is_the_first()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap());
        var map = new FieldMap { Fields = [Field("title", "title", Step("limit", ("length", "24")))] };
        var effect = (await bench.TryMapAsync(lane, map)).Fields.Single(f => f.Target == "title");
        await using var db = bench.Database.CreateDbContext();
        var titles = await db
            .Links.Join(
                db.Records.Where(r => r.SystemId == "back-office" && r.Kind == RecordKind.Item),
                l => l.HubKey,
                r => r.Key,
                (l, r) =>
                    new
                    {
                        l.Id,
                        r.Key,
                        r.Values,
                    }
            )
            .ToListAsync();
        // What is sold no more is withdrawn and not mapped.
        var cut = titles
            .Where(t =>
                Reading.StoredRecord.Values(t.Values) is var values
                && values["title"].Length > 24
                && values.GetValueOrDefault("active") != "false"
            )
            .ToList();
        effect.Cut.ShouldBe(cut.Count);
        cut.Select(c => c.Key).ShouldContain(effect.FirstCut);
    }

    // Whoever waits goes away while the first record is computed, whose text a pattern is tried on for too long.
    [Fact]
    public async Task A_trial_ends_when_nobody_waits_for_it()
    {
        const string Slow = "^(.+)+#never$";
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap());
        MapStep[] steps = [Step("surround", ("after", new string('a', 40))), Step("pattern", ("find", Slow), ("by", "b"))];
        var map = new FieldMap { Fields = [Field("title", "title", steps)] };
        using var waiting = new CancellationTokenSource();
        var computed = new HashSet<Exception>();
        void Leave(object? sender, FirstChanceExceptionEventArgs thrown)
        {
            if (thrown.Exception is not RegexMatchTimeoutException { Pattern: Slow })
                return;
            computed.Add(thrown.Exception);
            waiting.Cancel();
        }

        AppDomain.CurrentDomain.FirstChanceException += Leave;
        try
        {
            var trial = new LaneTrial(bench.Database, bench.Adapters, TimeProvider.System);
            await Should.ThrowAsync<OperationCanceledException>(trial.TryAsync(lane, new ItemDocument(map), null, null, waiting.Token));
        }
        finally
        {
            AppDomain.CurrentDomain.FirstChanceException -= Leave;
        }

        // Once for the change, once for what is shown of it; the others of the same page of records are not looked at any more.
        computed.Count.ShouldBe(2);
    }

    [Fact]
    public async Task EveryStoreReceivesItemsByItsSuggestedMap()
    {
        await using var bench = await Workbench.OpenAsync(600);
        await bench.RunAsync(Workbench.Prices, preview: true);
        foreach (var store in new[] { "web-shop", "trade-portal", "clay-lane", "quay-street-till" })
        {
            if (store != "web-shop")
            {
                var couple = await bench.AddStoreAsync(store);
                (
                    await bench.Decisions.DecideAllAsync(
                        couple.Id,
                        DecisionAct.Accept,
                        null,
                        all => all.Where(p => p.Verdict == Core.Pairing.Verdict.Certain),
                        null,
                        "Tester",
                        default
                    )
                ).Value.Count.ShouldBeGreaterThan(20);
                (await bench.Decisions.CommitAsync(couple.Id, null, "Tester", null, default)).Fault.ShouldBeNull();
            }

            var lane = await bench.AddItemLaneAsync(store, new FieldMap());
            var map = await bench.SuggestedAsync(lane);
            map.Fields.Select(f => f.Target).ShouldContain("sku");
            map.Fields.Select(f => f.Target).ShouldContain("title");
            var trial = await bench.TryMapAsync(lane, map, "title");
            trial.Faults.Where(f => f.Severity == Severity.Refuse).ShouldBeEmpty();
            trial.RequiredMapped.ShouldBe(trial.Required, store);
            await bench.SetRuleAsync(lane, new ItemDocument(map));
            var run = await bench.RunAsync(lane, preview: false);
            run.State.ShouldBe(RunState.Done, run.Why?.Words);
            await bench.ShouldBeConfirmedAsync(run.Id);
            // What a store has now is what its map says.
            var again = await bench.RunAsync(lane, preview: true);
            (await bench.WritesAsync(again.Id)).ShouldBeEmpty(store);
        }
    }

    [Fact]
    public async Task ItemsAreCreatedWithPriceAndQuantityPairedAtOnceAndTheirSistersGoUnderOneProduct()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", Full with { Publish = new PublishRule { New = NewRecords.All } });
        // The shop's people made most titles; only what is new counts here.
        var run = await bench.RunAsync(lane, preview: true);
        var created = (await bench.WritesAsync(run.Id)).Where(w => w.Act == WriteAct.Create).ToList();
        created.Count.ShouldBeGreaterThan(3);
        created.ShouldAllBe(w =>
            w.Fields.Any(f => f.Field == "price")
            && w.Fields.Any(f => f.Field == "quantity")
            && w.Fields.Single(f => f.Field == "published").New == "false"
        );
        var before = bench.Shop.Search("", 10_000).Count;
        (
            await bench.Runs.SendAsync(run.Id, new Choice(false, Only: [.. created.Select(w => w.Id)]), "Tester", default)
        ).Fault.ShouldBeNull();
        (await bench.EndedAsync(run.Id)).State.ShouldBe(RunState.Done);
        var done = (await bench.WritesAsync(run.Id)).Where(w => w.Act == WriteAct.Create).ToList();
        await bench.ShouldBeConfirmedAsync(run.Id);
        done.ShouldAllBe(w => !w.TargetKey.StartsWith('+'));
        bench.Shop.Search("", 10_000).Count.ShouldBe(before, "drafts are not shown to buyers");
        foreach (var group in done.GroupBy(w => w.Group))
            group.Select(w => bench.Product(w.TargetKey).Id).Distinct().Count().ShouldBe(1);

        await using var db = bench.Database.CreateDbContext();
        foreach (var write in done)
            (await db.Links.CountAsync(l => l.HubKey == write.SourceKey && l.OtherKey == write.TargetKey)).ShouldBe(1);
        (await db.Decisions.CountAsync(d => d.Evidence == $"created by run {run.Id}")).ShouldBe(done.Count);
        // Nothing is created twice.
        (await bench.WritesAsync((await bench.RunAsync(lane, preview: true)).Id)).ShouldNotContain(w => w.Act == WriteAct.Create);
    }

    [Fact]
    public async Task ACreationThatGetsNoAnswerIsSentAgainAndCreatesNothingTwice()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync(
            "web-shop",
            Full with
            {
                Publish = new PublishRule { New = NewRecords.All, Live = true },
            }
        );
        var before = bench.Shop.Page(1, 10_000, null, (all, _) => all.Sum(p => p.Variants.Count));
        bench.ShopDial.Shares = new FaultShares
        {
            LostAfter = 0.2,
            Error = 0.1,
            Twice = 0.2,
        };
        var run = await bench.RunAsync(lane, preview: false);
        for (var i = 0; i < 10 && run.State == RunState.Failed; i++)
        {
            (await bench.Runs.TryAgainAsync(run.Id, default)).Fault.ShouldBeNull();
            run = await bench.EndedAsync(run.Id);
        }

        bench.ShopDial.Shares = new FaultShares();
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        await bench.ShouldBeConfirmedAsync(run.Id, w => w.Act == WriteAct.Create);
        var created = (await bench.WritesAsync(run.Id)).Count(w => w.Act == WriteAct.Create);
        created.ShouldBeGreaterThan(3);
        bench.Shop.Page(1, 10_000, null, (all, _) => all.Sum(p => p.Variants.Count)).ShouldBe(before + created);
    }

    [Fact]
    public async Task ALargeCatalogueIsCreatedInPortions()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync(
            "web-shop",
            Full with
            {
                Publish = new PublishRule { New = NewRecords.All, Portion = 2 },
            }
        );
        var first = await bench.RunAsync(lane, preview: false);
        var second = await bench.RunAsync(lane, preview: false);
        var (one, two) = (
            (await bench.WritesAsync(first.Id)).Where(w => w.Act == WriteAct.Create).Select(w => w.SourceKey).ToList(),
            (await bench.WritesAsync(second.Id)).Where(w => w.Act == WriteAct.Create).Select(w => w.SourceKey).ToList()
        );
        (one.Count, two.Count).ShouldBe((2, 2));
        one.ShouldNotContain(k => two.Contains(k));
    }

    [Fact]
    public async Task ANewVariantOfAKnownItemWaitsOrFollowsInEitherDirection()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var link = (await db.Links.AsNoTracking().Where(l => !l.IsKit).ToListAsync())[0];
        var (article, product) = (bench.Sandbox.Office.Find(link.HubKey)!, bench.Product(link.OtherKey));
        // The shop's people add a size, and a product that nobody here knows.
        var (made, _) = bench.Shop.Update([
            New(product.Id, product.Title, "10 l, in a drum", "DRUM-10"),
            New(null, "A drum of something", "", "ONLY-THERE"),
        ]);
        made.ShouldAllBe(m => m.Status == "ok");
        var variant = made[0].Id.ToString(System.Globalization.CultureInfo.InvariantCulture);
        await bench.Reader.ReadSystemAsync("web-shop", full: true, default);

        var map = new FieldMap
        {
            Fields =
            [
                Field("sku", "sku"),
                Field("option", "option"),
                Field("title", "title", Step("without", ("field", "option"))),
                Field("weight", "weight"),
            ],
        };
        var lane = await bench.AddItemLaneAsync("web-shop", map);
        (await bench.WritesAsync((await bench.RunAsync(lane, preview: true)).Id)).ShouldNotContain(w => w.TargetKey == variant);

        await bench.SetRuleAsync(lane, new ItemDocument(map with { Publish = new PublishRule { NewThere = NewThere.Follow } }));
        bench.OfficeDial.Shares = new FaultShares { LostAfter = 0.3, Twice = 0.3 };
        var run = await bench.RunAsync(lane, preview: false);
        for (var i = 0; i < 10 && run.State == RunState.Failed; i++)
        {
            (await bench.Runs.TryAgainAsync(run.Id, default)).Fault.ShouldBeNull();
            run = await bench.EndedAsync(run.Id);
        }

        bench.OfficeDial.Shares = new FaultShares();
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        var write = (await bench.WritesAsync(run.Id)).Single(w => w.TargetKey == variant);
        write.ShouldSatisfyAllConditions(
            w => w.State.ShouldBe(WriteState.Confirmed, w.Fate?.Words),
            w => w.Way.ShouldBe(Way.Back),
            w => w.Act.ShouldBe(WriteAct.Create),
            w => w.Kind.ShouldBe(ChangeKind.Back)
        );
        // By the chains turned round, and for the rest as its sister is.
        bench
            .Sandbox.Office.Find(write.SourceKey)!
            .ShouldSatisfyAllConditions(
                a => a.Sku.ShouldBe("DRUM-10"),
                a => a.Option.ShouldBe("10 l, in a drum"),
                a => a.GroupCode.ShouldBe(article.GroupCode),
                a => a.TaxCode.ShouldBe(article.TaxCode),
                a => a.Category.ShouldBe(article.Category),
                a => a.Name.ShouldEndWith("10 l, in a drum"),
                a => a.WeightGrams.ShouldBe(10_500)
            );
        (await db.Links.CountAsync(l => l.HubKey == write.SourceKey && l.OtherKey == variant)).ShouldBe(1);
        // Once only, and the product that is alone there waits.
        bench.Sandbox.Office.Search("10 l, in a drum", 10).Count.ShouldBe(1);
        (await bench.WritesAsync((await bench.RunAsync(lane, preview: true)).Id)).ShouldNotContain(w => w.Act == WriteAct.Create);
        bench.Sandbox.Office.Search("ONLY-THERE", 10).ShouldBeEmpty();

        // Taken back, the record that was made here ends; the shop's stays, with nobody beside it.
        var back = (await bench.Runs.RollBackAsync(run.Id, [write.Id], "Tester", default)).Value;
        await bench.EndedAsync(back);
        var end = (await bench.WritesAsync(back)).ShouldHaveSingleItem();
        (end.Act, end.Way, end.SourceKey, end.TargetKey).ShouldBe((WriteAct.End, Way.Back, write.SourceKey, variant));
        (await bench.Runs.SendAsync(back, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(back)).State.ShouldBe(RunState.Done);
        await bench.ShouldBeConfirmedAsync(back);
        bench.Sandbox.Office.Find(write.SourceKey).ShouldBeNull();
        bench.Variant(variant).Sku.ShouldBe("DRUM-10");
        (await db.Links.CountAsync(l => l.HubKey == write.SourceKey || l.OtherKey == variant)).ShouldBe(0);
        var gone = await db.Records.AsNoTracking().Where(r => r.Key == write.SourceKey || r.Key == variant).ToListAsync();
        gone.Where(r => r.Kind == RecordKind.Item)
            .Select(r => (r.SystemId, r.GoneAt is null))
            .ShouldBe([("web-shop", true), ("back-office", false)], ignoreOrder: true);

        static Sandbox.WebShop.ShopEdit New(long? product, string title, string option, string sku) =>
            new Sandbox.WebShop.ShopEdit
            {
                VariantId = 0,
                PriceCents = 9900,
                Quantity = 4,
                Sku = sku,
                Content = new Sandbox.WebShop.ShopContent(title, null, null, option, 10.5m, null, null, null),
                New = new Sandbox.WebShop.NewVariant(product, null),
            };
    }

    [Fact]
    public async Task OnlyWhatIsChosenIsCreatedUnlessToldOtherwise()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", Full);
        (await bench.WritesAsync((await bench.RunAsync(lane, preview: true)).Id)).ShouldNotContain(w => w.Act == WriteAct.Create);
        await using var db = bench.Database.CreateDbContext();
        var couple = await db.Couples.FirstAsync(c => c.OtherId == "web-shop" && c.Kind == RecordKind.Item);
        var unpaired = (await bench.ProposalsAsync(couple.Id))
            .Where(p => p.HubKey is not null && p.OtherKey is null)
            .Select(p => p.HubKey!)
            .First();
        (
            await bench.Decisions.DecideAsync(
                couple.Id,
                [new Engine.Pairing.DecisionToMake(DecisionAct.Create, unpaired)],
                "Tester",
                default
            )
        ).Fault.ShouldBeNull();
        (await bench.Decisions.CommitAsync(couple.Id, null, "Tester", null, default)).Fault.ShouldBeNull();
        var run = await bench.RunAsync(lane, preview: true);
        (await bench.WritesAsync(run.Id)).Where(w => w.Act == WriteAct.Create).Select(w => w.SourceKey).ShouldBe([unpaired]);
    }

    [Fact]
    public async Task ALaneTakesWhatItsFiltersLetThrough()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Stock, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap());
        async Task<int> TakenAsync(params MapFilter[] filters) =>
            (await bench.TryMapAsync(lane, new FieldMap { Fields = [Field("sku", "sku")], Filters = filters })).Records;

        var all = await TakenAsync();
        var office = bench.Sandbox.Office;
        await using var db = bench.Database.CreateDbContext();
        var paired = await db.Links.Where(l => !l.IsKit).Select(l => l.HubKey).ToListAsync();
        (await TakenAsync(new MapFilter("category", Test.Under, "Glazes › Brush-on"))).ShouldBe(
            paired.Count(k => office.Find(k)!.Category == "Glazes › Brush-on")
        );
        (await TakenAsync(new MapFilter(MapFilter.Available, Test.Greater, "40"))).ShouldBe(
            paired.Count(k => office.Find(k)!.Stock.Values.Sum(s => s.OnHand - s.Allocated) > 40)
        );
        (await TakenAsync(new MapFilter(MapFilter.Changed, Test.Greater, "2020-01-01"))).ShouldBe(all);
        (await TakenAsync(new MapFilter(MapFilter.Changed, Test.Greater, "2100-01-01"))).ShouldBe(0);
        (await bench.TryMapAsync(lane, new FieldMap { Filters = [new MapFilter("colour", Test.Empty)] }))
            .Faults.Single()
            .Path.ShouldBe("filters[0]");
    }

    [Fact]
    public async Task WhatCannotBeMappedIsHeldBackWithItsReasonAndTheRestGoes()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", Full);
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        await using var db = bench.Database.CreateDbContext();
        var remarks = await db.Remarks.Where(r => r.RunId == run.Id).Select(r => r.Why.Words).ToListAsync();
        remarks.ShouldContain(m => m.Contains("leads into the local network", StringComparison.Ordinal));
        remarks.ShouldContain(m => m.Contains("is no image: it ends in .pdf", StringComparison.Ordinal));
        remarks.ShouldContain(m => m.Contains("Weight: it is required there, and would be empty", StringComparison.Ordinal));

        // Whichever field is edited, each says how many fail by it, and each reason leads to a field and a record.
        var trial = await bench.TryMapAsync(lane, Full, "sku");
        foreach (var field in new[] { "weight", "images" })
            trial.Fields.Single(f => f.Target == field).Failing.ShouldBeGreaterThan(0, field);
        trial.Fields.ShouldNotContain(f => (f.Target == "sku" || f.Target == "title") && f.Failing > 0);
        trial
            .Failures.Single(f => f.Why.Words.Contains("it is required there", StringComparison.Ordinal))
            .ShouldSatisfyAllConditions(
                f => f.Target.ShouldBe("weight"),
                f => f.SourceKey.ShouldNotBeEmpty(),
                f => f.Count.ShouldBe(remarks.Count(m => m.Contains("it is required there", StringComparison.Ordinal)))
            );
        bench
            .Shop.Page(1, 10_000, null, (all, _) => all.Select(p => p.BodyHtml).ToList())
            .ShouldNotContain(html =>
                html.Contains("script", StringComparison.Ordinal) || html.Contains("onclick", StringComparison.Ordinal)
            );
        run.Paired.ShouldBe((await bench.WritesAsync(run.Id)).Count + run.InStep + run.Remarked);
    }

    [Fact]
    public async Task OneRecordLookedAtByItselfIsAsItIsAmongAll()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await bench.RunAsync(Workbench.Stock, preview: true);
        // What its group, its stock levels, the target and its neighbours say.
        var map = new FieldMap
        {
            Fields =
            [
                Field("sku", "sku"),
                Field("title", "title"),
                Field("related", "related", Step("paired")),
                Field("weight", "weight"),
                new FieldMapping { Target = "category", Source = new MapSource(["category"], Record: SourceRecord.Parent) },
                new FieldMapping
                {
                    Target = "option",
                    Source = new MapSource(["onHand"], Record: SourceRecord.StockLevels),
                    Steps = [Step("join", ("with", " + "))],
                },
            ],
        };
        var lane = await bench.AddItemLaneAsync("web-shop", map);
        var opened = (await OpenLane.ForAsync(bench.Database, bench.Adapters, lane, default)).Value;
        var ready = ReadyMap.Make(map, opened.Sides.Map, out var faults);
        faults.ShouldBeEmpty();
        var trial = new MapLook(bench.Database, bench.Adapters);
        var (looked, related) = (0, 0);
        foreach (
            var pair in (
                await opened.Work.Reading.PairsAsync(opened, bench.Database, [new ItemDocument(map)], null, default).ToListAsync()
            ).Where((_, i) => i % 11 == 0)
        )
        {
            var look = (await trial.RecordAsync(lane, map, pair.Source.Key, default)).Value;
            look.TargetKey.ShouldBe(pair.Target.Key);
            look.Fields.Select(f => (f.Target, f.Value, f.Failure, f.There))
                .ShouldBe(
                    ready!.Fields.Select(f =>
                        f.Chain.Run(((PlacedItem)pair).Place.Record) is var run
                            ? (f.Target.Name, run.Value, run.Failure, pair.Target.Values.GetValueOrDefault(f.Target.Name))
                            : default
                    )
                );
            looked++;
            if (look.Fields.Single(f => f.Target == "related").Value is not null)
                related++;
        }

        looked.ShouldBeGreaterThan(15);
        related.ShouldBeGreaterThan(0);
        (await trial.RecordAsync(lane, map, null, default)).Value.TargetKey.ShouldNotBeNull();
        (await trial.RecordAsync(lane, map, "none such", default)).Fault!.Words.ShouldBe("Record none such is not in the lane's scope.");
    }

    [Fact]
    public async Task AListingIsHiddenWhenItsItemIsAndShownAgainAfterwards()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync(
            "web-shop",
            new FieldMap
            {
                Fields = [Field("sku", "sku")],
                Publish = new PublishRule { WhenHidden = Withdrawal.Hide },
            }
        );
        await using var db = bench.Database.CreateDbContext();
        var links = await db.Links.AsNoTracking().Where(l => !l.IsKit).ToDictionaryAsync(l => Workbench.Id(l.OtherKey), l => l.HubKey);
        var product = bench.Shop.Page(
            1,
            10_000,
            null,
            (all, _) => all.First(p => p.Published && p.Variants.Count > 1 && p.Variants.All(v => links.ContainsKey(v.Id)))
        );
        var articles = product.Variants.Select(v => links[v.Id]).ToList();

        // Its sisters are still sold, so the product stays and a person is told.
        Sell(articles[0], false);
        var run = await bench.RunAsync(lane, preview: false);
        (await db.Remarks.Where(r => r.RunId == run.Id && r.SourceKey == articles[0]).Select(r => r.Why.Code).SingleAsync()).ShouldBe(
            "sistersSold"
        );
        bench.Product($"{product.Variants[0].Id}").Published.ShouldBeTrue();

        foreach (var article in articles)
            Sell(article, false);
        run = await bench.RunAsync(lane, preview: false);
        (await bench.WritesAsync(run.Id))
            .Where(w => w.Kind == ChangeKind.Withdrawn && articles.Contains(w.SourceKey))
            .Select(w => w.State)
            .ShouldBe(articles.Select(_ => WriteState.Confirmed));
        bench.Product($"{product.Variants[0].Id}").Published.ShouldBeFalse();

        foreach (var article in articles)
            Sell(article, true);
        await bench.RunAsync(lane, preview: false);
        bench.Product($"{product.Variants[0].Id}").Published.ShouldBeTrue();

        void Sell(string article, bool active) =>
            bench.Sandbox.Office.Amend(new Sandbox.BackOffice.ArticleEdit { Number = article, Active = active }).ShouldBeNull();
    }

    [Fact]
    public async Task AListingIsEndedWhenItsItemIsOutOfStockIfToldSo()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync(
            "web-shop",
            new FieldMap
            {
                Fields = [Field("sku", "sku")],
                Publish = new PublishRule { WhenOutOfStock = Withdrawal.End },
            }
        );
        var run = await bench.RunAsync(lane, preview: true);
        var ended = (await bench.WritesAsync(run.Id)).Where(w => w.Act == WriteAct.End).ToList();
        ended.ShouldNotBeEmpty();
        (await bench.Runs.SendAsync(run.Id, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(run.Id)).State.ShouldBe(RunState.Done);
        (await bench.WritesAsync(run.Id)).ShouldAllBe(w => w.State == WriteState.Confirmed);
        bench.Shop.Lookup([.. ended.Select(w => Workbench.Id(w.TargetKey))], found => found.Count).ShouldBe(0);
    }

    [Fact]
    public async Task ANameFlowsBackWhenItWasChangedThereAndTwoChangesWaitForAPerson()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var both = new FieldMapping
        {
            Target = "title",
            Source = new MapSource(["title"]),
            Owner = Owner.Nobody,
            Flow = Flow.Both,
        };
        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap { Fields = [both] });
        // First the shop takes the back office's names, so that both sides have agreed.
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        await bench.RunAsync(lane, preview: false);
        await using var db = bench.Database.CreateDbContext();
        var links = await db.Links.AsNoTracking().Where(l => !l.IsKit).ToListAsync();
        // A product's title is that of the first of its group.
        var firsts = (await db.Records.AsNoTracking().Where(r => r.SystemId == "back-office" && r.Kind == RecordKind.Item).ToListAsync())
            .GroupBy(r => r.Group ?? r.Key)
            .Select(g => g.Min(r => r.Key))
            .ToHashSet();
        var two = links.Where(l => firsts.Contains(l.HubKey)).Take(2).ToList();
        Rename(two[0].OtherKey, "Called otherwise in the shop");
        Rename(two[1].OtherKey, "Changed in the shop");
        bench
            .Sandbox.Office.Amend(new Sandbox.BackOffice.ArticleEdit { Number = two[1].HubKey, Name = "Changed in the office" })
            .ShouldBeNull();

        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        var writes = await bench.WritesAsync(run.Id);
        writes
            .Single(w => w.SourceKey == two[0].HubKey)
            .ShouldSatisfyAllConditions(
                w => w.Way.ShouldBe(Way.Back),
                w => w.State.ShouldBe(WriteState.Confirmed),
                w => w.Kind.ShouldBe(ChangeKind.Back)
            );
        bench.Sandbox.Office.Find(two[0].HubKey)!.Name.ShouldBe("Called otherwise in the shop");
        writes
            .Single(w => w.SourceKey == two[1].HubKey)
            .ShouldSatisfyAllConditions(w => w.State.ShouldBe(WriteState.Held), w => w.Hold!.Code.ShouldBe("changedOnBoth"));
        // And then they agree again.
        var preview = await bench.RunAsync(lane, preview: true);
        writes = await bench.WritesAsync(preview.Id);
        writes.ShouldNotContain(w => w.SourceKey == two[0].HubKey);

        // A person decides for the shop's name: only the shop has changed then, so the next run takes its name over.
        var asking = writes.Single(w => w.SourceKey == two[1].HubKey);
        (await bench.Runs.LetThereCountAsync(preview.Id, [asking.Id + 100_000], "Tester", default)).Fault!.Code.ShouldBe("decide.nothing");
        (await bench.Runs.LetThereCountAsync(preview.Id, [asking.Id], "Tester", default)).Value.ShouldBe(1);
        (await bench.WritesAsync(preview.Id))
            .Single(w => w.Id == asking.Id)
            .ShouldSatisfyAllConditions(
                w => w.State.ShouldBe(WriteState.Skipped),
                w => w.Fate?.Words!.ShouldBe("Tester decided that what is there counts; the next run goes by it")
            );
        // Its sisters have the name in common; they are decided with one act.
        if (writes.Count(w => w.State == WriteState.Held) > 1)
            (await bench.Runs.LetThereCountAsync(preview.Id, null, "Tester", default)).Value.ShouldBe(
                writes.Count(w => w.State == WriteState.Held) - 1
            );
        (await bench.WritesAsync(preview.Id)).ShouldNotContain(w => w.State == WriteState.Held);
        bench.Sandbox.Office.Find(two[1].HubKey)!.Name.ShouldBe("Changed in the office");
        (await bench.WritesAsync((await bench.RunAsync(lane, preview: false)).Id))
            .Single(w => w.SourceKey == two[1].HubKey)
            .State.ShouldBe(WriteState.Confirmed);
        bench.Sandbox.Office.Find(two[1].HubKey)!.Name.ShouldBe("Changed in the shop");

        void Rename(string variant, string title) =>
            bench.Shop.Update([
                new Sandbox.WebShop.ShopEdit
                {
                    VariantId = Workbench.Id(variant),
                    Content = new Sandbox.WebShop.ShopContent(title, null, null, null, null, null, null, null),
                },
            ]);
    }

    [Fact]
    public async Task AMapForAFieldThatTheSystemNoLongerHasHoldsTheLane()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap { Fields = [Field("title", "title"), Field("colour", "title")] });
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Failed);
        run.Why?.Words!.ShouldContain(
            "The field map no longer fits its systems, so nothing is sent: colour: the target has no field “colour” any more"
        );
        bench.Shop.Applied.ShouldBeEmpty();
    }

    [Fact]
    public async Task AnItemThatIsKeptOffALaneIsLeftAlone()
    {
        await using var bench = await Workbench.OpenAsync();
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        var some = (await bench.WritesAsync(run.Id))[0];
        await using (var db = bench.Database.CreateDbContext())
        {
            db.KeptOff.Add(new KeptOff { LaneId = Workbench.Prices, SourceKey = some.SourceKey });
            await db.SaveChangesAsync();
        }

        (await bench.WritesAsync((await bench.RunAsync(Workbench.Prices, preview: true)).Id)).ShouldNotContain(w =>
            w.SourceKey == some.SourceKey
        );
    }

    [Fact]
    public async Task ALaneThatIsOffSendsNothing()
    {
        await using var bench = await Workbench.OpenAsync();
        await using (var db = bench.Database.CreateDbContext())
            await db.Lanes.Where(l => l.Id == Workbench.Prices).ExecuteUpdateAsync(s => s.SetProperty(l => l.Off, true));
        (await bench.Runs.StartAsync(Workbench.Prices, preview: false, RunTrigger.Person, "Tester", default)).Fault!.Code.ShouldBe(
            "lane.off"
        );
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        (await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default)).Fault!.Code.ShouldBe("lane.off");
    }
}
