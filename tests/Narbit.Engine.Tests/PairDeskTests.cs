using Microsoft.EntityFrameworkCore;
using Narbit.Adapters.Files;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Tests;

public sealed class PairDeskTests
{
    [Fact]
    public async Task Two_lanes_that_pair_the_same_systems_at_once_store_one_pairing()
    {
        await using var bench = await Workbench.OpenAsync();
        foreach (var id in new[] { "back-office", "web-shop" })
            await bench.Reader.ReadAsync(id, RecordKind.Item, full: true, default);
        var (hub, shop) = (
            (await bench.Adapters.ForAsync("back-office", default)).Value,
            (await bench.Adapters.ForAsync("web-shop", default)).Value
        );
        var step = bench.Pairing;
        await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => Task.Run(() => step.PairAsync(hub, shop, RecordKind.Item, default))));
        var linked = await step.PairAsync(hub, shop, RecordKind.Item, default);
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        var links = await bench.LinksAsync(couple.Id);
        links.Count.ShouldBe(linked);
        links.Select(l => l.OtherKey).ShouldBeUnique();
        links
            .Select(l => l.HubKey)
            .Concat((await bench.ProposalsAsync(couple.Id)).Where(p => p.HubKey != null).Select(p => p.HubKey!))
            .ToHashSet()
            .Count.ShouldBe(240);
    }

    [Fact]
    public async Task Decisions_wait_are_committed_in_part_and_taken_back()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        var likely = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Verdict.Likely).Take(3).ToList();
        var made = await bench.Decisions.DecideAsync(
            couple.Id,
            [.. likely.Select(p => new DecisionToMake(DecisionAct.Accept, p.HubKey, p.OtherKey))],
            "Ines",
            default
        );
        (await bench.LinksAsync(couple.Id)).ShouldBeEmpty();

        var committed = (await bench.Decisions.CommitAsync(couple.Id, made.Value.Take(2).ToList(), "Ines", "the first two", default)).Value;
        committed.Committed.ShouldBe(2);
        (await bench.LinksAsync(couple.Id)).Select(l => l.OtherKey).ShouldBe(likely.Take(2).Select(p => p.OtherKey!), ignoreOrder: true);
        (await bench.Decisions.WithdrawAsync(couple.Id, null, "Ines", default))!.HubKey.ShouldBe(likely[2].HubKey);
        (await bench.Decisions.WithdrawAsync(couple.Id, null, "Ines", default)).ShouldBeNull();

        (await bench.Decisions.UndoAsync(committed.BatchId!.Value, "Ines", default)).Value.Committed.ShouldBe(2);
        (await bench.LinksAsync(couple.Id)).ShouldBeEmpty();
        (await bench.Decisions.UndoAsync(committed.BatchId!.Value, "Ines", default)).Fault!.Code.ShouldBe("batch.undone");
        await using var db = bench.Database.CreateDbContext();
        var kept = await db.Decisions.Where(d => d.CoupleId == couple.Id).OrderBy(d => d.Id).ToListAsync();
        kept.Select(d => d.State).ShouldBe([DecisionState.Undone, DecisionState.Undone, DecisionState.ThrownAway]);
        kept[0]
            .ShouldSatisfyAllConditions(
                d => d.By.ShouldBe("Ines"),
                d => d.Verdict.ShouldBe("likely"),
                d => d.Evidence.ShouldContain("titles")
            );
    }

    [Fact]
    public async Task Unpairing_can_be_taken_back_too()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        var link = (await bench.LinksAsync(couple.Id))[0];
        await DecideAsync(bench, couple.Id, new DecisionToMake(DecisionAct.Unpair, OtherKey: link.OtherKey));
        var unpaired = (await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default)).Value;
        (await bench.LinksAsync(couple.Id)).ShouldNotContain(l => l.OtherKey == link.OtherKey);
        await bench.Decisions.UndoAsync(unpaired.BatchId!.Value, "Ines", default);
        (await bench.LinksAsync(couple.Id)).ShouldContain(l =>
            l.OtherKey == link.OtherKey && l.HubKey == link.HubKey && l.DecisionId == link.DecisionId
        );
    }

    [Fact]
    public async Task Undoing_what_pairing_linked_by_itself_does_not_let_it_come_back()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        var linked = (await bench.LinksAsync(couple.Id)).Count;
        await using var db = bench.Database.CreateDbContext();
        await bench.Decisions.UndoAsync((await db.Batches.FirstAsync()).Id, "Ines", default);
        (await bench.Desk.PairAsync(couple.Id, read: false, default)).Value.ShouldBe(0);
        (await bench.ProposalsAsync(couple.Id)).Count(p => p.Verdict == Verdict.Certain).ShouldBe(linked);
        (await bench.RunAsync(Workbench.Prices, preview: true)).Paired.ShouldBe(0);
    }

    [Fact]
    public async Task Two_people_cannot_decide_the_same_record()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        var proposals = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Verdict.Certain).Take(2).ToList();
        await DecideAsync(bench, couple.Id, new DecisionToMake(DecisionAct.Accept, proposals[0].HubKey, proposals[0].OtherKey));
        var second = await bench.Decisions.DecideAsync(
            couple.Id,
            [
                new DecisionToMake(DecisionAct.Accept, proposals[1].HubKey, proposals[1].OtherKey),
                new DecisionToMake(DecisionAct.SetAside, proposals[0].HubKey, Reason: "not sold there"),
            ],
            "Tomas",
            default
        );
        second.Fault!.ShouldSatisfyAllConditions(
            f => f.Code.ShouldBe("record.decided"),
            f => f.Words.ShouldContain("Ines decided this record"),
            f => f.Words.ShouldContain("Nothing of yours was kept")
        );
        await using var db = bench.Database.CreateDbContext();
        (await db.Decisions.CountAsync(d => d.State == DecisionState.Waiting)).ShouldBe(1);

        // Of many that try at the very same time, one gets it.
        var free = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Verdict.Certain).Skip(5).First();
        var tries = await Task.WhenAll(
            Enumerable
                .Range(0, 6)
                .Select(i =>
                    Task.Run(() =>
                        bench.Decisions.DecideAsync(
                            couple.Id,
                            [new DecisionToMake(DecisionAct.Accept, free.HubKey, free.OtherKey)],
                            $"P{i}",
                            default
                        )
                    )
                )
        );
        tries.Count(t => t.Ok).ShouldBe(1);
    }

    [Fact]
    public async Task A_record_that_is_gone_cannot_be_paired_nor_committed()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        var proposals = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Verdict.Certain).Take(2).ToList();
        await DecideAsync(bench, couple.Id, new DecisionToMake(DecisionAct.Accept, proposals[0].HubKey, proposals[0].OtherKey));
        await using (var db = bench.Database.CreateDbContext())
            await db
                .Records.Where(r => r.SystemId == "trade-portal" && (r.Key == proposals[0].OtherKey || r.Key == proposals[1].OtherKey))
                .ExecuteUpdateAsync(s => s.SetProperty(r => r.GoneAt, DateTimeOffset.UtcNow));
        (
            await bench.Decisions.DecideAsync(
                couple.Id,
                [new DecisionToMake(DecisionAct.Accept, proposals[1].HubKey, proposals[1].OtherKey)],
                "Ines",
                default
            )
        ).Fault!.Code.ShouldBe("record.gone");
        (
            await bench.Decisions.DecideAsync(
                couple.Id,
                [new DecisionToMake(DecisionAct.Accept, proposals[1].HubKey, "E-none")],
                "Ines",
                default
            )
        ).Fault!.Code.ShouldBe("record.unknown");
        var committed = (await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default)).Value;
        committed.Committed.ShouldBe(0);
        committed.Faults.ShouldHaveSingleItem().Message.ShouldContain("is gone since this was decided");
    }

    [Fact]
    public async Task What_stands_alone_is_set_aside_in_one_act_whatever_else_is_decided()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("quay-street-till");
        var alone = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Verdict.None).ToList();
        await DecideAsync(
            bench,
            couple.Id,
            new DecisionToMake(DecisionAct.SetAside, OtherKey: alone.First(p => p.HubKey is null).OtherKey, Reason: "a service")
        );
        await DecideAsync(
            bench,
            couple.Id,
            new DecisionToMake(DecisionAct.SetAside, alone.First(p => p.HubKey is not null).HubKey, Reason: "not sold there")
        );
        var left = alone.Count(p => p.HubKey is not null) - 1;
        (
            await bench.Decisions.DecideAllAsync(
                couple.Id,
                DecisionAct.SetAside,
                "not sold there",
                q => q.Where(p => p.Verdict == Verdict.None && p.HubKey != null),
                left,
                "Ines",
                default
            )
        ).Value.Count.ShouldBe(left);
    }

    [Fact]
    public async Task What_cannot_be_decided_says_why()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        var links = await bench.LinksAsync(couple.Id);
        async Task<string> CodeAsync(DecisionToMake decision) =>
            (await bench.Decisions.DecideAsync(couple.Id, [decision], "Ines", default)).Fault!.Code;
        (await CodeAsync(new DecisionToMake(DecisionAct.Accept, links[0].HubKey))).ShouldBe("decision.incomplete");
        (await CodeAsync(new DecisionToMake(DecisionAct.SetAside, links[0].HubKey, Reason: " "))).ShouldBe("decision.incomplete");
        (await CodeAsync(new DecisionToMake(DecisionAct.Kit, OtherKey: links[0].OtherKey, Parts: []))).ShouldBe("decision.incomplete");
        (await CodeAsync(new DecisionToMake(DecisionAct.Accept, links[0].HubKey, links[1].OtherKey))).ShouldBe("record.paired");
        (await bench.Decisions.DecideAsync(999, [new DecisionToMake(DecisionAct.Accept, "1", "2")], "Ines", default)).Fault!.Code.ShouldBe(
            "couple.unknown"
        );
        (await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default)).Fault!.Code.ShouldBe("pairs.nothing");
        (await bench.Decisions.DecideAllAsync(couple.Id, DecisionAct.Accept, null, q => q, 12345, "Ines", default)).Fault!.Code.ShouldBe(
            "pairs.moved"
        );
    }

    [Fact]
    public async Task A_kit_gets_the_stock_that_its_scarcest_item_allows()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("clay-lane");
        var kit = bench.Sandbox.Market.Search("Turning kit", 1).Single();
        var table = $"hub_key,sku,system,quantity\n{string.Join('\n', kit.Kit.Select(k => $"{k.Article},{kit.Sku},CM,{k.Quantity}"))}\n";
        (await ImportAsync(bench, couple, table)).Value.ShouldSatisfyAllConditions(r => r.Taken.ShouldBe(1), r => r.Faults.ShouldBeEmpty());
        await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default);
        (await bench.LinksAsync(couple.Id)).Count(l => l.IsKit && l.OtherKey == kit.Id).ShouldBe(2);

        var run = await bench.RunAsync("stock-clay-lane", preview: true);
        var possible = kit.Kit.Min(k => Available(bench, k.Article) / k.Quantity);
        (await bench.WritesAsync(run.Id))
            .First(w => w.TargetKey == kit.Id)
            .Fields[0]
            .New.ShouldBe(Math.Min(20, possible).ToString(System.Globalization.CultureInfo.InvariantCulture));
        (await bench.WritesAsync((await bench.RunAsync("prices-clay-lane", preview: true)).Id)).ShouldNotContain(w =>
            w.TargetKey == kit.Id
        );
    }

    [Fact]
    public async Task Listings_share_an_item_and_the_exposure_is_shown()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("clay-lane");
        var twin = bench.Sandbox.Market.Search("for studio potters", 9).First(l => l.Barcode.Length > 0);
        var original = bench.Sandbox.Market.Search("", 500).First(l => l.Barcode == twin.Barcode);
        var article = bench.Sandbox.Catalogue.Articles.First(a => "0" + a.Barcode == twin.Barcode);
        (await bench.ProposalsAsync(couple.Id)).ShouldNotContain(p =>
            p.Verdict == Verdict.Certain && (p.OtherKey == twin.Id || p.OtherKey == original.Id)
        );
        await DecideAsync(bench, couple.Id, new DecisionToMake(DecisionAct.Accept, article.Number, original.Id));
        await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default);
        await bench.Desk.PairAsync(couple.Id, read: false, default);

        // The twin of a listing finds the item although it has its listing already.
        var proposal = (await bench.ProposalsAsync(couple.Id)).First(p => p.OtherKey == twin.Id);
        var candidate = PairJson.Candidates(proposal.Candidates)[0];
        candidate.Taken.ShouldBeTrue();
        await DecideAsync(bench, couple.Id, new DecisionToMake(DecisionAct.Share, candidate.Key, twin.Id));
        await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default);

        var item = (await new ItemOverview(bench.Database, bench.Adapters).OfAsync(candidate.Key, default))!;
        item.Listings.Count.ShouldBe(2);
        item.Promised.ShouldBe(item.Listings.Sum(l => l.Quantity!.Value));
        item.Exposure.ShouldBe(Math.Max(0, item.Promised - item.Available));
        item.Available.ShouldBe(Available(bench, candidate.Key));
        (await new ItemOverview(bench.Database, bench.Adapters).OfAsync("none", default)).ShouldBeNull();
    }

    [Theory]
    [InlineData(StockTakingWay.ByHand)]
    [InlineData(StockTakingWay.TakeOver)]
    [InlineData(StockTakingWay.Publish)]
    public async Task A_stock_taking_does_what_its_numbers_said(StockTakingWay way)
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("quay-street-till");
        var (hub, other) = (
            (await bench.Adapters.ForAsync("back-office", default)).Value,
            (await bench.Adapters.ForAsync("quay-street-till", default)).Value
        );
        var taking = new StockTaking(bench.Database, bench.Decisions, bench.Pairing, TimeProvider.System);
        var forecast = await taking.ForecastAsync(couple.Id, default);
        await using var db = bench.Database.CreateDbContext();
        async Task AtWorkAsync(DateTimeOffset? since) =>
            await db.Couples.Where(c => c.Id == couple.Id).ExecuteUpdateAsync(s => s.SetProperty(c => c.TakingSince, since));
        await AtWorkAsync(DateTimeOffset.UtcNow);
        (await taking.TakeAsync(hub, other, couple, way, "Ines", default)).Fault!.Code.ShouldBe("taking.busy");
        (await bench.LinksAsync(couple.Id)).ShouldBeEmpty();
        // What a killed process left behind does not block for ever.
        await AtWorkAsync(DateTimeOffset.UtcNow.AddHours(-1));
        (await taking.TakeAsync(hub, other, couple, way, "Ines", default)).Value.ShouldBe(
            way == StockTakingWay.ByHand ? 0 : forecast.Certain + forecast.HubAlone
        );

        (await bench.LinksAsync(couple.Id)).Count.ShouldBe(way == StockTakingWay.ByHand ? 0 : forecast.Certain);
        (await db.SetAsides.CountAsync(a => a.ToCreate)).ShouldBe(way == StockTakingWay.Publish ? forecast.HubAlone : 0);
        (await db.SetAsides.CountAsync(a => !a.ToCreate)).ShouldBe(way == StockTakingWay.TakeOver ? forecast.HubAlone : 0);
        (await db.Couples.AsNoTracking().FirstAsync(c => c.Id == couple.Id)).ShouldSatisfyAllConditions(
            c => c.Way.ShouldBe(way),
            c => c.TakingSince.ShouldBeNull(),
            c => c.AcceptsCertain.ShouldBe(way != StockTakingWay.ByHand)
        );
    }

    [Fact]
    public async Task A_stock_taking_is_a_batch_like_any_other_and_can_be_taken_back()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("clay-lane");
        var before = (await bench.ProposalsAsync(couple.Id)).Count;
        var (hub, other) = (
            (await bench.Adapters.ForAsync("back-office", default)).Value,
            (await bench.Adapters.ForAsync("clay-lane", default)).Value
        );
        await new StockTaking(bench.Database, bench.Decisions, bench.Pairing, TimeProvider.System).TakeAsync(
            hub,
            other,
            couple,
            StockTakingWay.TakeOver,
            "Ines",
            default
        );
        await using var db = bench.Database.CreateDbContext();
        foreach (
            var batch in await db.Batches.AsNoTracking().Where(b => b.CoupleId == couple.Id).OrderByDescending(b => b.Id).ToListAsync()
        )
            (await bench.Decisions.UndoAsync(batch.Id, "Ines", default)).Value.Faults.ShouldBeEmpty();
        await bench.Desk.PairAsync(couple.Id, read: false, default);
        (await bench.LinksAsync(couple.Id)).ShouldBeEmpty();
        (await db.SetAsides.CountAsync(a => a.CoupleId == couple.Id)).ShouldBe(0);
        (await bench.ProposalsAsync(couple.Id)).Count.ShouldBe(before);
        (await db.Couples.AsNoTracking().FirstAsync(c => c.Id == couple.Id)).ShouldSatisfyAllConditions(
            c => c.AcceptsCertain.ShouldBeFalse(),
            c => c.Way.ShouldBeNull()
        );

        // And it can be put back as it was.
        var first = await db.Batches.AsNoTracking().Where(b => b.CoupleId == couple.Id).OrderBy(b => b.Id).FirstAsync();
        (await bench.Decisions.RedoAsync(first.Id, default)).Value.ShouldSatisfyAllConditions(
            r => r.Committed.ShouldBe(first.Decisions),
            r => r.Faults.ShouldBeEmpty()
        );
        (await bench.Decisions.RedoAsync(first.Id, default)).Fault!.Code.ShouldBe("batch.inForce");
        (await db.Couples.AsNoTracking().FirstAsync(c => c.Id == couple.Id)).ShouldSatisfyAllConditions(
            c => c.AcceptsCertain.ShouldBeTrue(),
            c => c.Way.ShouldBe(StockTakingWay.TakeOver)
        );
    }

    [Fact]
    public async Task What_was_thrown_away_comes_back_but_for_what_somebody_decided_otherwise_meanwhile()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("clay-lane");
        var certain = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Verdict.Certain).Take(3).ToList();
        DecisionToMake[] pairs = [.. certain.Select(p => new DecisionToMake(DecisionAct.Accept, p.HubKey, p.OtherKey))];
        foreach (var pair in pairs)
            await DecideAsync(bench, couple.Id, pair);
        var (count, at) = await bench.Decisions.ThrowAwayAsync(couple.Id, "Ines", default);
        count.ShouldBe(3);
        await DecideAsync(
            bench,
            couple.Id,
            new DecisionToMake(DecisionAct.SetAside, OtherKey: certain[1].OtherKey, Reason: "sold elsewhere")
        );
        var back = (await bench.Decisions.BringBackAsync(couple.Id, at, default)).Value;
        back.Committed.ShouldBe(2);
        back.Faults.ShouldHaveSingleItem()
            .Message.ShouldBe($"meanwhile Ines decided otherwise: {certain[1].OtherKey} set aside: sold elsewhere");
        (await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default)).Value.Committed.ShouldBe(3);
        (await bench.LinksAsync(couple.Id)).Select(l => l.OtherKey).ShouldBe([certain[0].OtherKey, certain[2].OtherKey], ignoreOrder: true);
        (await bench.Decisions.BringBackAsync(couple.Id, at.AddTicks(1), default)).Fault!.Code.ShouldBe("pairs.nothing");
    }

    [Fact]
    public async Task Before_a_batch_is_undone_it_is_said_what_was_written_by_its_pairs()
    {
        await using var bench = await Workbench.OpenAsync();
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        await using var db = bench.Database.CreateDbContext();
        var confirmed = await db.Writes.CountAsync(w => w.RunId == run.Id && w.State == WriteState.Confirmed);
        var batch = await db.Batches.AsNoTracking().OrderBy(b => b.Id).FirstAsync();
        (await bench.Decisions.UsedByAsync(batch.Id, default)).ShouldBe([new RunByPairs(run.Id, confirmed)]);
    }

    [Fact]
    public async Task A_kit_with_a_part_that_is_gone_waits_on()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("clay-lane");
        var kit = bench.Sandbox.Market.Search("Class pack", 1).Single();
        await DecideAsync(
            bench,
            couple.Id,
            new DecisionToMake(DecisionAct.Kit, OtherKey: kit.Id, Parts: [new KitItem(kit.Kit[0].Article, 10)])
        );
        await using (var db = bench.Database.CreateDbContext())
            await db
                .Records.Where(r => r.SystemId == "back-office" && r.Kind == RecordKind.Item && r.Key == kit.Kit[0].Article)
                .ExecuteUpdateAsync(s => s.SetProperty(r => r.GoneAt, DateTimeOffset.UtcNow));
        (await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default))
            .Value.Faults.ShouldHaveSingleItem()
            .Message.ShouldContain("of the kit is gone");
        (await bench.Decisions.ThrowAwayAsync(couple.Id, "Ines", default)).Count.ShouldBe(1);
    }

    [Fact]
    public async Task A_pair_table_is_taken_in_whole_or_not_at_all()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        var certain = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Verdict.Certain).Take(2).ToList();
        var table =
            $"hub_key;sku\n{certain[0].HubKey};{certain[0].OtherKey}\n{certain[1].HubKey};{certain[1].OtherKey}\n10001;no such thing\n";
        var report = (await ImportAsync(bench, couple, table)).Value;
        report.ShouldSatisfyAllConditions(r => r.Lines.ShouldBe(3), r => r.Taken.ShouldBe(0), r => r.Pairs.ShouldBe(2));
        report.Faults.ShouldHaveSingleItem().ShouldBe(new TableFault(4, "Studio Trade Portal has no record “no such thing”"));
        (await ImportAsync(bench, couple, table, whatFits: true)).Value.Taken.ShouldBe(2);
        await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default);

        // What was taken out is taken in again as it is.
        var other = await PairSide.LoadAsync(
            bench.Database,
            (await bench.Adapters.ForAsync("trade-portal", default)).Value,
            RecordKind.Item,
            default
        );
        using var file = new MemoryStream();
        TableOut.Write(
            file,
            ".xlsx",
            PairTableImport.Columns,
            await new PairTableImport(bench.Database, bench.Decisions).ExportAsync(couple, other, default)
        );
        (
            await ImportAsync(bench, couple, Table.Read(new MemoryStream(file.ToArray()), "pairs.xlsx", PairTableImport.Shape))
        ).Value.ShouldSatisfyAllConditions(r => r.Already.ShouldBe(2), r => r.Faults.ShouldBeEmpty());
    }

    [Fact]
    public async Task A_lane_that_is_closed_sends_nothing_until_it_is_opened()
    {
        await using var bench = await Workbench.OpenAsync();
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        (await bench.Desk.CloseAsync(couple, close: true, "Ines", default)).Count.ShouldBe(2);
        (
            await bench.Runs.StartAsync(Workbench.Prices, preview: false, RunTrigger.Person, "Ines", default)
        ).Fault!.ShouldSatisfyAllConditions(f => f.Code.ShouldBe("lane.closed"), f => f.Words.ShouldContain("Ines closed this lane"));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        (await bench.Runs.SendAsync(preview.Id, new Runs.Choice(All: true), "Ines", default)).Fault!.Code.ShouldBe("lane.closed");
        bench.Shop.Applied.ShouldBeEmpty();
        await bench.Desk.CloseAsync(couple, close: false, "Ines", default);
        (await bench.Runs.SendAsync(preview.Id, new Runs.Choice(All: true), "Ines", default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
    }

    [Fact]
    public async Task A_run_that_is_sending_stops_at_the_next_batch_when_its_lane_is_closed()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        var batches = 0;
        bench.Live.Happened += what =>
        {
            if (what is { Topic: "run", Phase: "send", Done: > 0 } && ++batches == 1)
                bench.Desk.CloseAsync(couple, close: true, "Ines", default).GetAwaiter().GetResult();
        };
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.ShouldSatisfyAllConditions(r => r.State.ShouldBe(RunState.Failed), r => r.Why?.Words!.ShouldContain("Ines closed this lane"));
        bench.Shop.Applied.Count.ShouldBe(25);
        await bench.Desk.CloseAsync(couple, close: false, "Ines", default);
        await bench.Runs.TryAgainAsync(run.Id, default);
        (await bench.EndedAsync(run.Id)).State.ShouldBe(RunState.Done);
        await bench.ShouldBeCompleteAsync(run.Id);
    }

    [Fact]
    public async Task The_way_a_store_writes_SKUs_is_learned_and_helps_with_the_rest()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        (await bench.Desk.LearnAsync(couple, default)).ShouldBeNull();
        var before = await bench.ProposalsAsync(couple.Id);
        var some = before.Where(p => p.Verdict == Verdict.Certain).Take(12).ToList();
        await bench.Decisions.DecideAsync(
            couple.Id,
            [.. some.Select(p => new DecisionToMake(DecisionAct.Accept, p.HubKey, p.OtherKey))],
            "Ines",
            default
        );
        await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default);
        var learned = (await bench.Desk.LearnAsync(couple, default))!;
        learned.Habit.ShouldBe(new SkuHabit("LM.", ""));
        learned.WouldHelp.ShouldBeGreaterThan(50);
        await bench.Desk.SetHabitAsync(couple.Id, learned.Habit, default);
        (await bench.ProposalsAsync(couple.Id))
            .Count(p => p.Verdict == Verdict.Certain)
            .ShouldBeGreaterThan(before.Count(p => p.Verdict == Verdict.Certain) - 12 + 50);
    }

    [Fact]
    public async Task What_was_decided_for_the_first_store_helps_with_the_next()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        // An item without SKU, which a person has paired in the web shop with a listing that has one.
        await bench.RunAsync(Workbench.Prices, preview: true);
        var shop = (await bench.Desk.EnsureAllAsync(default))[0];
        var nameless = bench.Sandbox.Catalogue.Articles.First(a => a.Sku.Length == 0);
        var listing =
            (await bench.LinksAsync(shop.Id)).FirstOrDefault(l => l.HubKey == nameless.Number)?.OtherKey
            ?? (await bench.ProposalsAsync(shop.Id)).First(p => p.HubKey == nameless.Number).OtherKey!;
        bench.Variant(listing).Sku = "WS-ONLY-1";
        bench.Sandbox.Till.Edit([
            new Sandbox.Stores.ListingEdit
            {
                Id = "101",
                Sku = "ws only 1",
                Barcode = "",
            },
        ]);
        bench.Sandbox.Till.Find(["101"], l => l[0].Title = nameless.Name.ToUpperInvariant()[..Math.Min(24, nameless.Name.Length)]);
        bench.Sandbox.Till.Edit([new Sandbox.Stores.ListingEdit { Id = "101", Price = 1.5m }]);
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        await bench.Desk.PairAsync(shop.Id, read: false, default);
        if ((await bench.LinksAsync(shop.Id)).All(l => l.OtherKey != listing))
        {
            await DecideAsync(bench, shop.Id, new DecisionToMake(DecisionAct.Accept, nameless.Number, listing));
            await bench.Decisions.CommitAsync(shop.Id, null, "Ines", null, default);
        }

        var till = await bench.AddStoreAsync("quay-street-till");
        var proposal = (await bench.ProposalsAsync(till.Id)).First(p => p.OtherKey == "101");
        proposal.HubKey.ShouldBe(nameless.Number);
        PairJson.Words(proposal.Evidence).ShouldContain("in Lanternmoor Web Shop the same SKU WS-ONLY-1 was paired with this item");
    }

    [Fact]
    public async Task A_correction_goes_through_a_preview_and_makes_a_pair_possible()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var couple = (await bench.Desk.EnsureAllAsync(default))[0];
        var twice = bench.Sandbox.Catalogue.Troubles.First(t => t is { Name: "sku used twice", System: "web-shop" }).Keys[1];
        var sku = bench.Variant(twice).Sku;
        int Bearers() => bench.Shop.Page(1, 100_000, null, (all, _) => all.SelectMany(p => p.Variants).Count(v => v.Sku == sku));
        Bearers().ShouldBe(2);
        var lane = (await bench.Corrections.CorrectAsync("web-shop", [new Correction(twice, "sku", "MENDED-1")], "Ines", default)).Value;
        var preview = await bench.RunAsync(lane, preview: true);
        var write = (await bench.WritesAsync(preview.Id)).ShouldHaveSingleItem();
        write.Fields[0].ShouldSatisfyAllConditions(f => f.New.ShouldBe("MENDED-1"), f => f.Old.ShouldBe(bench.Variant(twice).Sku));
        bench.Variant(twice).Sku.ShouldNotBe("MENDED-1");
        await bench.Runs.SendAsync(preview.Id, new Runs.Choice(All: true), "Ines", default);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
        bench.Variant(twice).Sku.ShouldBe("MENDED-1");
        Bearers().ShouldBe(1);

        (await bench.Corrections.CorrectAsync("back-office", [new Correction("10018", "cost", "1")], "Ines", default)).Fault!.Code.ShouldBe(
            "correction.notWritable"
        );
        (await bench.Corrections.CorrectAsync("web-shop", [new Correction(twice, "sku", "")], "Ines", default)).Fault!.Code.ShouldBe(
            "correction.empty"
        );
        var office = (
            await bench.Corrections.CorrectAsync(
                "back-office",
                [new Correction("10018", "sku", "GLZ-MOS-X"), new Correction("10018", "weight", "1.25")],
                "Ines",
                default
            )
        ).Value;
        (await bench.RunAsync(office, preview: false)).State.ShouldBe(RunState.Done);
        bench
            .Sandbox.Office.Find("10018")
            .ShouldSatisfyAllConditions(a => a!.Sku.ShouldBe("GLZ-MOS-X"), a => a!.WeightGrams.ShouldBe(1250));
    }

    [Fact]
    public async Task Customers_are_paired_like_items()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        await bench.AddStoreAsync("trade-portal");
        var couple = (await bench.Desk.EnsureAllAsync(default)).First(c => c.Kind == RecordKind.Customer);
        await bench.Desk.PairAsync(couple.Id, read: true, default);
        var proposals = await bench.ProposalsAsync(couple.Id);
        proposals.Count(p => p.HubKey is not null).ShouldBe(91);
        // The generator made account n of customer n.
        foreach (var pair in proposals.Where(p => p.Verdict is Verdict.Certain or Verdict.Likely))
            (int.Parse(pair.HubKey!, System.Globalization.CultureInfo.InvariantCulture) - 40_100).ShouldBe(
                int.Parse(pair.OtherKey![2..], System.Globalization.CultureInfo.InvariantCulture) - 300
            );
        var twice = bench.Sandbox.Catalogue.Troubles.First(t => t.Name == "same email for two customers").Keys;
        proposals.Count(p => p.Verdict == Verdict.Certain).ShouldBeGreaterThan(60);
        twice.Count.ShouldBeGreaterThan(1);
    }

    [Theory]
    [InlineData("trade-portal", "portal entries")]
    [InlineData("clay-lane", "market listings")]
    [InlineData("quay-street-till", "till articles")]
    public async Task Prices_and_stock_reach_each_further_store(string id, string label)
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync(id);
        (await (await bench.AdapterAsync(id)).TestAsync(default)).ShouldSatisfyAllConditions(
            t => t.Ok.ShouldBeTrue(t.Message),
            t => t.Message.ShouldContain(label)
        );
        var certain = (await bench.ProposalsAsync(couple.Id)).Count(p => p.Verdict == Verdict.Certain);
        await bench.Decisions.DecideAllAsync(
            couple.Id,
            DecisionAct.Accept,
            null,
            q => q.Where(p => p.Verdict == Verdict.Certain),
            certain,
            "Ines",
            default
        );
        await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default);
        // With the fault dial on, where there is one.
        if (bench.Sandbox.Dials.TryGetValue(id, out var dial))
            dial.Shares = new Sandbox.Faults.FaultShares(
                TooMany: 0.05,
                Error: 0.05,
                LostBefore: 0.03,
                LostAfter: 0.05,
                Twice: 0.08,
                HalfPage: 0.05,
                RetryAfter: 0
            );
        var sent = 0;
        foreach (var lane in new[] { $"prices-{id}", $"stock-{id}" })
        {
            var run = await bench.RunAsync(lane, preview: false);
            run.ShouldSatisfyAllConditions(
                r => r.Why?.Words.ShouldBeNull(),
                r => r.State.ShouldBe(RunState.Done),
                r => r.Paired.ShouldBe(certain)
            );
            await bench.ShouldBeConfirmedAsync(run.Id, w => w.Hold is null);
            sent += (await bench.WritesAsync(run.Id)).Count(w => w.State == WriteState.Confirmed);
        }

        sent.ShouldBeGreaterThan(20);

        bench.Sandbox.Dials.GetValueOrDefault(id)?.Shares = new Sandbox.Faults.FaultShares();
        foreach (var store in new[] { bench.Sandbox.Portal, bench.Sandbox.Market })
            store.Applied.Select(a => a.Key).ShouldBeUnique();
    }

    private static int Available(Workbench bench, string article) =>
        Math.Max(0, bench.Sandbox.Office.Find(article)!.Stock.Values.Sum(s => s.OnHand - s.Allocated));

    private static async Task DecideAsync(Workbench bench, long couple, DecisionToMake decision) =>
        (await bench.Decisions.DecideAsync(couple, [decision], "Ines", default)).Fault.ShouldBeNull();

    private static Task<Core.Outcome<PairTableReport>> ImportAsync(Workbench bench, Couple couple, string text, bool whatFits = false) =>
        ImportAsync(bench, couple, Table.ReadText(text, PairTableImport.Shape), whatFits);

    private static async Task<Core.Outcome<PairTableReport>> ImportAsync(
        Workbench bench,
        Couple couple,
        IEnumerable<Core.Outcome<TableRow>> rows,
        bool whatFits = false
    )
    {
        var (hub, other) = (
            (await bench.Adapters.ForAsync(couple.HubId, default)).Value,
            (await bench.Adapters.ForAsync(couple.OtherId, default)).Value
        );
        return await new PairTableImport(bench.Database, bench.Decisions).ImportAsync(
            couple,
            await PairSide.LoadAsync(bench.Database, hub, couple.Kind, default),
            await PairSide.LoadAsync(bench.Database, other, couple.Kind, default),
            rows,
            whatFits,
            "Ines",
            default
        );
    }
}
