using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Pairing;
using Narbit.Engine.Runs;
using Narbit.Sandbox.WebShop;

namespace Narbit.Engine.Tests;

/// <summary>Lanes from a store to the hub, and between two stores: only the book of pairs knows which side is the hub.</summary>
public sealed class EitherWayTests
{
    // The shop's gross price becomes the back office's net counter price.
    private static readonly PriceRule Inward = new()
    {
        PriceList = "price",
        TargetList = "Counter",
        Tax = new TaxSides(TaxBasis.Gross, TaxBasis.Net),
        Ending = new PriceEnding
        {
            Kind = EndingKind.Step,
            Step = 0.01m,
            Direction = Direction.Nearest,
        },
    };

    // The shop knows nothing of tax codes.
    private static readonly FieldMapping TaxCode = new() { Target = "taxCode", Source = new MapSource(Constant: "S") };

    [Fact]
    public async Task Prices_flow_from_a_store_to_the_hub_and_are_taken_back()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await MakeAsync(bench, "price", "web-shop", "back-office");
        await bench.SetRuleAsync(lane, new PriceDocument(Inward));
        var preview = await bench.RunAsync(lane, preview: true);
        (preview.State, preview.Why?.Words).ShouldBe((RunState.Ready, null));
        var planned = (await bench.WritesAsync(preview.Id)).Where(w => w.State == WriteState.Planned).ToList();
        planned.Count.ShouldBeGreaterThan(100, await bench.SaidAsync(preview));
        var before = planned.ToDictionary(w => w.TargetKey, w => bench.Sandbox.Office.Find(w.TargetKey)!.Counter);

        // The links are those that the other way uses; there is no second, mirrored couple.
        await using (var db = bench.Database.CreateDbContext())
        {
            (await db.Couples.Where(c => c.Kind == RecordKind.Item).Select(c => c.HubId).ToListAsync()).ShouldBe(["back-office"]);
            var links = await db.Links.Where(l => !l.IsKit).Select(l => new { l.HubKey, l.OtherKey }).ToListAsync();
            planned.Select(w => new { HubKey = w.TargetKey, OtherKey = w.SourceKey! }).ShouldBeSubsetOf(links);
        }

        (await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default)).Value.ShouldBe(planned.Count);
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
        await bench.ShouldBeConfirmedAsync(preview.Id, w => w.Hold is null);
        foreach (var write in planned)
        {
            var gross = bench.PriceCents(write.SourceKey!) / 100m;
            var rate = bench.Sandbox.Office.Find(write.TargetKey)!.TaxCode switch
            {
                "S" => 1.20m,
                "R" => 1.05m,
                _ => 1m,
            };
            bench
                .Sandbox.Office.Find(write.TargetKey)!
                .Counter.ShouldBe(decimal.Round(gross / rate, 2, MidpointRounding.AwayFromZero), write.Reference);
        }

        var back = (await bench.Runs.RollBackAsync(preview.Id, null, "Tester", default)).Value;
        await bench.EndedAsync(back);
        (await bench.Runs.SendAsync(back, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        await bench.EndedAsync(back);
        foreach (var (number, counter) in before.Where(b => b.Value is not null))
            bench.Sandbox.Office.Find(number)!.Counter.ShouldBe(counter, number);
    }

    [Fact]
    public async Task Items_flow_from_a_store_to_the_hub_new_ones_among_them()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        // Two sizes of something that only the shop knows yet.
        foreach (var size in new[] { "500 ml", "5 l" })
            bench.Shop.Update([Offered("Harbour slip", $"SLP-HRB-{size.Replace(" ", "", StringComparison.Ordinal)}", size)]);
        var lane = await MakeAsync(bench, "item", "web-shop", "back-office");
        var map = await bench.SuggestedAsync(lane);
        map.Fields.Select(f => f.Target).ShouldContain("title");
        await bench.SetRuleAsync(
            lane,
            new ItemDocument(
                map with
                {
                    Publish = new PublishRule { New = NewRecords.All },
                    Fields = [.. map.Fields.Where(Wanted), TaxCode],
                }
            )
        );
        var articles = bench.Sandbox.Office.Search("", 10_000).Count;
        var run = await bench.RunAsync(lane, preview: false);
        (run.State, run.Why?.Words).ShouldBe((RunState.Done, null));
        var writes = await bench.WritesAsync(run.Id);
        var created = writes.Where(w => w is { Act: WriteAct.Create, State: WriteState.Confirmed }).ToList();
        created.Count.ShouldBe(2, await bench.SaidAsync(run));
        created.Select(w => bench.Sandbox.Office.Find(w.TargetKey)!.GroupCode).Distinct().ShouldHaveSingleItem();
        bench.Sandbox.Office.Search("", 10_000).Count.ShouldBe(articles + created.Count);
        foreach (var write in created)
        {
            bench.Sandbox.Office.Find(write.TargetKey)!.Name.ShouldBe(bench.Product(write.SourceKey!).Title);
            await using var db = bench.Database.CreateDbContext();
            var link = await db.Links.SingleAsync(l => l.OtherKey == write.SourceKey);
            link.HubKey.ShouldBe(write.TargetKey);
            (await db.Decisions.FirstAsync(d => d.Id == link.DecisionId)).Evidence.ShouldBe($"created by run {run.Id}");
        }

        // All of it is there now; a second run has nothing to do but for two whose SKU the back office does not let be emptied.
        var left = (await bench.WritesAsync((await bench.RunAsync(lane, preview: true)).Id)).Where(w => w.State == WriteState.Planned);
        left.SelectMany(w => w.Fields)
            .Where(f => f.Field != "sku" || f.New != null)
            .Select(f => $"{f.Field} “{f.Old}” → “{f.New}”")
            .ShouldBeEmpty();

        static bool Wanted(FieldMapping field) => field.Target is "sku" or "title" or "option" or "barcode" or "category";

        static ShopEdit Offered(string title, string sku, string size) =>
            new ShopEdit
            {
                Key = $"new {sku}",
                VariantId = 0,
                PriceCents = 1290,
                Quantity = 3,
                At = DateTimeOffset.UtcNow,
                Sku = sku,
                Barcode = "",
                Content = new ShopContent(title, "<p>Slip.</p>", "Glazes", size, 0.5m, true, [], []),
                New = new NewVariant(null, "harbour-slip"),
            };
    }

    [Fact]
    public async Task Two_lanes_over_one_pair_know_of_each_others_writes()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        FieldMapping Title(Owner owner, params MapStep[] steps) =>
            new()
            {
                Target = "title",
                Source = new MapSource(["title"]),
                Steps = steps,
                Owner = owner,
                Flow = Flow.Both,
            };
        var outward = await bench.AddItemLaneAsync("web-shop", new FieldMap { Fields = [Title(Owner.Nobody)] });
        var first = await bench.RunAsync(outward, preview: false);
        await bench.ShouldBeConfirmedAsync(first.Id, w => w is { Act: WriteAct.Update, Hold: null });
        int agreed;
        await using (var db = bench.Database.CreateDbContext())
        {
            agreed = await db.Agreed.CountAsync(a => a.SystemId == "web-shop" && a.Field == "title");
            db.Lanes.Add(
                new Data.Lanes.Lane
                {
                    Id = "items-again",
                    Kind = "item",
                    SourceId = "back-office",
                    TargetId = "web-shop",
                    RuleNumber = 0,
                }
            );
            await db.SaveChangesAsync();
        }

        agreed.ShouldBeGreaterThan(100);
        // Another lane over the same pairs writes every title anew.
        var marked = new MapStep("surround", new Dictionary<string, string> { ["after"] = " (new)" });
        await bench.SetRuleAsync("items-again", new ItemDocument(new FieldMap { Fields = [Title(Owner.Source, marked)] }));
        var second = await bench.RunAsync("items-again", preview: false);
        (await bench.WritesAsync(second.Id)).Count(w => w.State == WriteState.Confirmed).ShouldBeGreaterThan(100);

        // For the first, the titles there are nobody's change: nothing flows back, and nobody is asked.
        var again = await bench.WritesAsync((await bench.RunAsync(outward, preview: true)).Id);
        again.Count(w => w.State == WriteState.Planned).ShouldBeGreaterThan(100);
        again.ShouldNotContain(w => w.Way == Way.Back || w.Fields.Exists(f => f.Asks));
        await using (var db = bench.Database.CreateDbContext())
            (await db.Agreed.CountAsync(a => a.SystemId == "web-shop" && a.Field == "title")).ShouldBe(agreed);
    }

    [Theory]
    [InlineData("back-office", "web-shop", 2)]
    [InlineData("web-shop", "back-office", 2)]
    [InlineData("web-shop", "trade-portal", 1)]
    [InlineData("trade-portal", "web-shop", 1)]
    public async Task The_book_speaks_of_source_and_target_whichever_is_the_hub(string source, string target, int links)
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var db = bench.Database.CreateDbContext();
        var shop = await db.Couples.FirstAsync();
        var portal = db.Couples.Add(
            new Couple
            {
                HubId = "back-office",
                OtherId = "trade-portal",
                Kind = RecordKind.Item,
                Way = StockTakingWay.TakeOver,
            }
        );
        await db.SaveChangesAsync();
        PairLink Link(long couple, string hub, string other, bool kit = false) =>
            new()
            {
                CoupleId = couple,
                HubKey = hub,
                OtherKey = other,
                DecisionId = 1,
                IsKit = kit,
            };
        db.Links.AddRange(
            Link(shop.Id, "H1", "S1"),
            Link(shop.Id, "H2", "S2"),
            Link(shop.Id, "H1", "S-kit", kit: true),
            Link(portal.Entity.Id, "H1", "P1")
        );
        await db.SaveChangesAsync();

        string Key(string system, int n) => $"{(system == "back-office" ? 'H' : system == "web-shop" ? 'S' : 'P')}{n}";
        var book = await PairBook.OpenAsync(db, RecordKind.Item, source, target, default);
        book.Exists.ShouldBeTrue();
        (await book.Links(db).CountAsync(l => !l.IsKit)).ShouldBe(links);
        (await book.SourceOfAsync(db, Key(target, 1), default)).ShouldBe(Key(source, 1));
        (await book.TargetOfAsync(db, Key(source, 1), default)).ShouldBe(Key(target, 1));
        (await book.SourceOfAsync(db, "nobody", default)).ShouldBeNull();
        // Only towards a store is a kit a kit.
        (await book.Links(db).CountAsync(l => l.IsKit)).ShouldBe(source == "back-office" ? 1 : 0);

        // A record has one partner at the hub; between two stores the new one is linked by way of the hub.
        var made = Key(source, target == "back-office" ? 4 : 2);
        await book.LinkAsync(db, new CreatedPair(made, Key(target, 3), 7, "Tester"), DateTimeOffset.UtcNow, default);
        (await book.SourceOfAsync(db, Key(target, 3), default)).ShouldBe(source == "trade-portal" ? null : made);
        await book.UnlinkAsync(db, Way.There, Key(target, 1), default);
        (await book.SourceOfAsync(db, Key(target, 1), default)).ShouldBeNull();
        (await PairBook.OpenAsync(db, RecordKind.Customer, source, target, default)).Exists.ShouldBeFalse();
    }

    [Theory]
    [InlineData("price", "web-shop", "web-shop", "lane.oneSystem")]
    [InlineData("price", "back-office", "web-shop", "lane.exists")]
    [InlineData("correction", "back-office", "web-shop", "lane.noKind")]
    [InlineData("price", "back-office", "nowhere", "system.unknown")]
    [InlineData("stock", "web-shop", "back-office", "lane.noField")]
    public async Task A_lane_that_cannot_be_is_refused_with_the_reason(string kind, string source, string target, string code)
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var made = await new LaneMaker(bench.Database, bench.Adapters, TimeProvider.System).MakeAsync(
            kind,
            source,
            target,
            "Tester",
            default
        );
        made.Fault!.Code.ShouldBe(code, made.Fault.Words);
        await using var db = bench.Database.CreateDbContext();
        (await db.Lanes.CountAsync()).ShouldBe(2);
    }

    private static async Task<string> MakeAsync(Workbench bench, string kind, string source, string target)
    {
        var made = await new LaneMaker(bench.Database, bench.Adapters, TimeProvider.System).MakeAsync(
            kind,
            source,
            target,
            "Tester",
            default
        );
        made.Fault.ShouldBeNull();
        return made.Value;
    }
}
