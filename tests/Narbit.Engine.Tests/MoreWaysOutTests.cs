using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data.Events;
using Narbit.Data.Mirror;
using Narbit.Data.Mismatches;
using Narbit.Data.Orders;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Mismatches.Orders;
using Narbit.Engine.Pairing;
using Narbit.Engine.Runs;
using static Narbit.Engine.Tests.Desks;

namespace Narbit.Engine.Tests;

/// <summary>Further ways out, what is remembered by them, and further causes.</summary>
public sealed class MoreWaysOutTests
{
    [Fact]
    public async Task A_text_that_is_too_long_is_limited_by_the_map_for_all_and_what_came_before_is_said()
    {
        await using var bench = await Workbench.OpenAsync(
            edit: (id, document) =>
            {
                if (id == "web-shop")
                    FieldOf(document, "title")["maxLength"] = 20;
            }
        );
        await bench.RunAsync(Workbench.Prices, preview: true);
        var lane = await bench.AddItemLaneAsync("web-shop", new FieldMap());
        var limit = new MapStep("limit", new Dictionary<string, string> { ["length"] = "60" });
        await bench.SetRuleAsync(
            lane,
            new ItemDocument(
                new FieldMap
                {
                    Fields =
                    [
                        new FieldMapping
                        {
                            Target = "title",
                            Source = new MapSource(["title"]),
                            Steps = [limit],
                        },
                    ],
                }
            )
        );
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var held = await OpenAsync(bench, "value.map.tooLong");
        var ready = await OpenAsync(bench, "ready.titleTooLong");
        held.Count.ShouldBeGreaterThan(100);
        ready.Count.ShouldBeGreaterThan(100);
        var desk = DeskOf(bench);
        var way = (await desk.SuggestAsync(held[..1], default)).Single().Suggestion;
        (way.Act, way.Learns).ShouldBe(("limit", true));
        way.Effect.ShouldBe("1 record here has a longer one; it replaces the limit of 60 characters");

        var taken = (await desk.TakeAsync([.. held.Concat(ready).Select(m => m.Id)], null, "Ines", default)).Value;
        taken.Count.ShouldBe(held.Count + ready.Count);
        (await StepsAsync(bench, lane)).Single().With!["length"].ShouldBe("20");
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "value.map.tooLong")).ShouldBeEmpty();
        (await OpenAsync(bench, "ready.titleTooLong")).ShouldBeEmpty("the map makes them short enough");
        (await desk.LearnedAsync(default)).Single().Lessons.Single().Words.ShouldBe("title is limited to 20 characters");

        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault.ShouldBeNull();
        (await StepsAsync(bench, lane)).Single().With!["length"].ShouldBe("60");
    }

    [Fact]
    public async Task An_item_without_a_price_becomes_an_exception_and_no_run_asks_again()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var desk = DeskOf(bench);
        var without = await OpenAsync(bench, "value.noPrice");
        var zero = await OpenAsync(bench, "held.price.sourceZero");
        var taken = (await desk.TakeAsync([.. without.Concat(zero).Select(m => m.Id)], null, "Ines", default)).Value;
        taken.Count.ShouldBe(without.Count + zero.Count);
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "value.noPrice")).ShouldBeEmpty();
        (await OneAsync(bench, zero[0].Id)).State.ShouldBe(MismatchState.Settled);
        var lessons = (await desk.LearnedAsync(default)).Single().Lessons;
        lessons.Count.ShouldBe(taken.Count);
        lessons.ShouldAllBe(l => l.Words.EndsWith("is kept off its lane") && l.Acted == 1);

        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault.ShouldBeNull();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "value.noPrice")).Count.ShouldBe(without.Count);
    }

    [Fact]
    public async Task A_way_of_writing_SKUs_that_shows_becomes_a_rule_and_is_taken_back()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("trade-portal");
        var certain = (await bench.ProposalsAsync(couple.Id)).Where(p =>
            p is { Verdict: Core.Pairing.Verdict.Certain, OtherKey: not null }
        );
        var some = certain.Take(30).ToList();
        await using (var db = bench.Database.CreateDbContext())
        {
            // Thirty of the portal's SKUs have its letters before them, and ten of these pairs were decided.
            foreach (var one in some)
            {
                var record = await db.Records.SingleAsync(r =>
                    r.SystemId == "trade-portal" && r.Kind == RecordKind.Item && r.Key == one.OtherKey
                );
                var mine = await db.Records.SingleAsync(r =>
                    r.SystemId == "back-office" && r.Kind == RecordKind.Item && r.Key == one.HubKey
                );
                record.Reference = $"TP-{mine.Reference}";
            }

            await db.SaveChangesAsync();
        }

        var decided = some.Take(10).Select(p => new DecisionToMake(DecisionAct.Accept, p.HubKey, p.OtherKey)).ToList();
        (await bench.Decisions.DecideAsync(couple.Id, decided, "Ines", default)).Fault.ShouldBeNull();
        (await bench.Decisions.CommitAsync(couple.Id, null, "Ines", null, default)).Fault.ShouldBeNull();
        await BookOf(bench).LookAtAllAsync(default);
        var habit = (await OpenAsync(bench, "pair.habit")).Single();
        habit.Words.ShouldStartWith("Studio Trade Portal writes TP- before a SKU");
        var desk = DeskOf(bench);
        var suggested = (await desk.SuggestAsync([habit], default)).Single();
        var way = suggested.Suggestion;
        way.Effect.ShouldNotBeNull().ShouldContain("written like that");

        var taken = (await desk.TakeAsync([habit.Id], suggested.Fingerprint, "Ines", default)).Value;
        (await CoupleAsync(bench, couple.Id)).HabitBefore.ShouldBe("TP-");
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "pair.habit")).ShouldBeEmpty();
        (await desk.LearnedAsync(default)).Single().Lessons.Single().Words.ShouldBe("Studio Trade Portal writes TP- before a SKU");
        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault.ShouldBeNull();
        (await CoupleAsync(bench, couple.Id)).HabitBefore.ShouldBeNull();
    }

    [Fact]
    public async Task Buyers_rates_and_methods_are_suggested_from_what_the_hub_has()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var desk = DeskOf(bench);
        var (buyers, rates) = (await OpenAsync(bench, "order.customerAmbiguous"), await OpenAsync(bench, "order.taxRate"));
        var ways = await desk.SuggestAsync([.. buyers, .. rates], default);
        ways.Where(w => w.Mismatch.Cause == "order.customerAmbiguous").ShouldAllBe(w => w.Suggestion.Act == "customer");
        ways.Count(w => w.Mismatch.Cause == "order.customerAmbiguous").ShouldBe(buyers.Count);
        var rate = ways.First(w => w.Mismatch.Cause == "order.taxRate");
        rate.Suggestion.Because.ShouldBe($"as the hub has it of {rate.Mismatch.Subject}");

        var taken = (await desk.TakeAsync([.. ways.Select(w => w.Mismatch.Id)], null, "Ines", default)).Value;
        taken.Count.ShouldBe(ways.Count);
        await BookOf(bench).LookAtAllAsync(default);
        await using var db = bench.Database.CreateDbContext();
        var keys = ways.Select(w => w.Mismatch.Key).ToHashSet();
        var left = await db.OrderStandings.Where(o => keys.Contains(o.SourceKey)).ToListAsync();
        left.SelectMany(o => o.Causes).ShouldNotContain(c => c.Code == "customerAmbiguous" || c.Code == "taxRate");
    }

    [Fact]
    public async Task A_method_is_called_at_the_hub_as_one_of_the_table_that_is_called_like_it()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var desk = DeskOf(bench);
        var unknown = await OpenAsync(bench, "order.paymentMethod");
        unknown.ShouldNotBeEmpty();
        (await desk.SuggestAsync(unknown, default)).ShouldBeEmpty("nothing is called like it");
        var opened = (await Lanes.OpenLane.ForAsync(bench.Database, bench.Adapters, lane, default)).Value;
        var policy = (OrderPolicy)opened.Document;
        var methods = new Dictionary<string, string>(policy.Rule.Methods) { [$"{unknown[0].Subject} old"] = "VOUCHER" };
        await bench.SetRuleAsync(lane, policy with { Rule = policy.Rule with { Methods = methods } });
        var way = (await desk.SuggestAsync(unknown, default))[0].Suggestion;
        (way.Value, way.Learns).ShouldBe(("VOUCHER", true));
        var taken = (await desk.TakeAsync([.. unknown.Select(m => m.Id)], null, "Ines", default)).Value;
        taken.Count.ShouldBe(unknown.Count);
        var lesson = (await desk.LearnedAsync(default)).Single().Lessons[0];
        (lesson.Words, lesson.Acted).ShouldBe(($"paid by {unknown[0].Subject} is VOUCHER at the hub", 0));
    }

    [Fact]
    public async Task Customers_that_look_alike_are_taken_for_one_and_a_contradiction_says_who_decided_what()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var alike = (await OpenAsync(bench, "customer.alike"))[0];
        await using (var db = bench.Database.CreateDbContext())
        {
            db.OrderDecisions.Add(
                new OrderDecision
                {
                    LaneId = lane,
                    Kind = OrderChoiceKind.SameCustomer,
                    Subject = alike.Proposal,
                    Value = alike.Key,
                    By = "Noor",
                    At = DateTimeOffset.UtcNow,
                }
            );
            await db.SaveChangesAsync();
        }

        var desk = DeskOf(bench);
        var contradicted = (await desk.TakeAsync([alike.Id], null, "Ines", default)).Fault!;
        contradicted.Words.ShouldContain($"Noor has decided on {DateTime.UtcNow:yyyy-MM-dd} that {alike.Proposal} is {alike.Key}");
        await using (var db = bench.Database.CreateDbContext())
            await db.OrderDecisions.ExecuteUpdateAsync(s => s.SetProperty(d => d.UndoneAt, DateTimeOffset.UtcNow));
        (await desk.TakeAsync([alike.Id], null, "Ines", default)).Value.Count.ShouldBe(1);
        (await desk.LearnedAsync(default)).Single().Lessons.Single().Words.ShouldBe($"customer {alike.Key} is taken for {alike.Proposal}");
    }

    [Fact]
    public async Task What_is_sold_and_not_there_is_found_and_covered_by_a_preview_for_these_items_alone()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        await bench.RunAsync(Workbench.Stock, preview: true);
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        var sold = await OpenAsync(bench, "stock.promised");
        sold.ShouldNotBeEmpty();
        sold.ShouldAllBe(m => m.Pieces > 0 && m.SystemId == "back-office");
        var desk = DeskOf(bench);
        var ways = await desk.SuggestAsync(sold, default);
        ways.ShouldNotBeEmpty();
        ways[0].Suggestion.Because.ShouldNotBeNull().ShouldEndWith("0 can be offered");
        var taken = (await desk.TakeAsync([ways[0].Mismatch.Id], null, "Ines", default)).Value;
        var run = await bench.EndedAsync(taken.RunId!.Value);
        (run.LaneId, run.Preview, run.State).ShouldBe((Workbench.Stock, true, RunState.Ready));
        run.Only.ShouldBe($"[\"{ways[0].Mismatch.Key}\"]");
        (await bench.WritesAsync(run.Id)).Count.ShouldBeLessThanOrEqualTo(1);
        (await bench.Runs.SendAsync(run.Id, new Choice(true), "Ines", default)).Fault.ShouldBeNull();
        await bench.EndedAsync(run.Id);
        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault!.Words.ShouldContain("has sent it already");
    }

    [Fact]
    public async Task What_a_system_requires_itself_and_has_not_and_pictures_that_nobody_can_see_are_found()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        await bench.AddStoreAsync("trade-portal");
        await BookOf(bench).LookAtAllAsync(default);
        var empty = await OpenAsync(bench, "read.requiredEmpty");
        empty.Where(m => m.SystemId == "trade-portal").ShouldAllBe(m => m.Words == "no tax class" && m.Subject == "taxClass");
        empty.Count(m => m.SystemId == "trade-portal").ShouldBe(2);
        empty.ShouldNotContain(m => m.Subject == "taxRate", "what cannot be read is told of as such");
        var pictures = await OpenAsync(bench, "read.picture");
        pictures.ShouldContain(m => m.Words.Contains("leads into the local network"));
        pictures.ShouldContain(m => m.Words.EndsWith("it ends in .pdf"));
    }

    [Fact]
    public async Task A_credential_that_ends_is_told_of_two_weeks_before()
    {
        await using var bench = await Workbench.OpenAsync();
        var clock = new FakeTimeProvider(new DateTimeOffset(2026, 11, 29, 9, 0, 0, TimeSpan.Zero));
        await using (var db = bench.Database.CreateDbContext())
            await db.Systems.Where(s => s.Id == "web-shop").ExecuteUpdateAsync(s => s.SetProperty(o => o.CredentialEndsOn, "2026-12-20"));
        var book = BookOf(bench, clock);
        await book.LookAtAllAsync(default);
        (await OpenAsync(bench, "system.secret")).ShouldBeEmpty("three weeks are time enough");
        clock.Advance(TimeSpan.FromDays(8));
        await book.LookAtAllAsync(default);
        (await OpenAsync(bench, "system.secret")).Single().Words.ShouldStartWith("What lets Narbit in ends on 2026-12-20");
        clock.Advance(TimeSpan.FromDays(20));
        await book.LookAtAllAsync(default);
        (await OpenAsync(bench, "system.secret")).Single().Words.ShouldBe("What lets Narbit in ended on 2026-12-20");
    }

    [Fact]
    public async Task An_order_that_no_webhook_told_of_is_lost_and_one_that_was_told_of_is_not()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.AddStoreAsync("clay-lane");
        (await bench.Reader.ReadAsync("clay-lane", RecordKind.Order, full: true, default)).Fault.ShouldBeNull();
        var hour = DateTimeOffset.UtcNow.AddHours(-1);
        string[] keys;
        await using (var db = bench.Database.CreateDbContext())
        {
            // The webhooks began two hours ago, and the first reading after that was an hour and a half ago.
            await db.Systems.Where(s => s.Id == "clay-lane").ExecuteUpdateAsync(s => s.SetProperty(o => o.HookSecretAt, hour.AddHours(-1)));
            db.Reads.Add(
                new MirrorRead
                {
                    SystemId = "clay-lane",
                    Kind = RecordKind.Order,
                    State = ReadState.Done,
                    StartedAt = hour.AddMinutes(-30),
                    EndedAt = hour.AddMinutes(-29),
                }
            );
            var orders = db.Records.Where(r => r.SystemId == "clay-lane" && r.Kind == RecordKind.Order);
            await orders.ExecuteUpdateAsync(s => s.SetProperty(r => r.FirstReadAt, hour.AddHours(-2)));
            keys = await orders.OrderBy(r => r.Id).Take(3).Select(r => r.Key).ToArrayAsync();
            await orders.Where(r => keys.Contains(r.Key)).ExecuteUpdateAsync(s => s.SetProperty(r => r.FirstReadAt, hour));
            // The third came just now: its webhook may be on its way.
            await orders.Where(r => r.Key == keys[2]).ExecuteUpdateAsync(s => s.SetProperty(r => r.FirstReadAt, DateTimeOffset.UtcNow));
            db.HookEvents.Add(
                new HookEvent
                {
                    SystemId = "clay-lane",
                    EventId = "n-1",
                    Kind = RecordKind.Order,
                    RecordKey = keys[1],
                    ReceivedAt = hour,
                }
            );
            await db.SaveChangesAsync();
        }

        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "event.lost")).Select(m => m.Key).ShouldBe([keys[0]]);
    }

    [Fact]
    public async Task A_shipment_without_a_tracking_number_is_told_of_a_day_later()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: false);
        await using var db = bench.Database.CreateDbContext();
        var order = await db.OrderStandings.FirstAsync(o => o.LaneId == lane && o.HubKey != null);
        (order.Untracked, order.ComputedAt) = (true, DateTimeOffset.UtcNow.AddHours(-2));
        await db.SaveChangesAsync();
        (await new OrderMismatches(TimeProvider.System).LookAsync(db, lane, default))!.Found.ShouldNotContain(f =>
            f.Cause == "order.untracked"
        );
        order.ComputedAt = DateTimeOffset.UtcNow.AddDays(-2);
        await db.SaveChangesAsync();
        (await new OrderMismatches(TimeProvider.System).LookAsync(db, lane, default))!
            .Found.Single(f => f.Cause == "order.untracked")
            .Key.ShouldBe(order.SourceKey);
    }

    private static JsonObject FieldOf(JsonObject document, string name) =>
        Fields(document).First(f => f["name"]?.GetValue<string>() == name);

    private static IEnumerable<JsonObject> Fields(JsonNode? node) =>
        node switch
        {
            JsonObject one => one.SelectMany(p => Fields(p.Value)).Prepend(one),
            JsonArray many => many.SelectMany(Fields),
            _ => [],
        };

    private static async Task<IReadOnlyList<MapStep>> StepsAsync(Workbench bench, string lane)
    {
        var opened = await Lanes.OpenLane.ForAsync(bench.Database, bench.Adapters, lane, default);
        return opened.Value.Document.Mapped!.Fields[0].Steps;
    }

    private static async Task<Couple> CoupleAsync(Workbench bench, long id)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.Couples.AsNoTracking().SingleAsync(c => c.Id == id);
    }
}
