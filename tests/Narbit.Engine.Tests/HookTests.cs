using System.Globalization;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Core.Events;
using Narbit.Core.Records;
using Narbit.Engine.Events;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Mismatches;
using Narbit.Engine.Telling;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>Webhooks of the market: who sent them, what they are about, and that what they say is not believed.</summary>
public sealed class HookTests
{
    [Fact]
    public async Task A_notice_is_taken_once_and_its_purchase_read()
    {
        await using var bench = await Workbench.OpenAsync(items: 30);
        await bench.AddStoreAsync("clay-lane");
        var desk = Desk(bench);
        var secret = (await desk.RenewSecretAsync("clay-lane", default)).Value;
        var market = bench.Sandbox.Orders.Market;
        var purchase = market.All.First(o => o.PaymentState == "pending");
        market.Change(purchase.Id, Counters.Paid);
        (await PaidAsync(bench, purchase.Id)).ShouldBe("pending");

        // A price in it is nobody's business.
        var body = $$"""{"notice":"N-1","purchase":"{{purchase.Id}}","settlement":"free"}""";
        (await desk.TakeAsync("clay-lane", Signed(secret, body), default)).Value.ShouldBeTrue();
        (await desk.TakeAsync("clay-lane", Signed(secret, body), default)).Value.ShouldBeFalse();
        (await desk.HandleAsync("clay-lane", default)).ShouldBeNull();
        (await PaidAsync(bench, purchase.Id)).ShouldBe("paid");
        await using var db = bench.Database.CreateDbContext();
        (await db.HookEvents.SingleAsync()).ReadAt.ShouldNotBeNull();
    }

    // A process that ends between the two finds the notice unread, and tells of it once more.
    [Fact]
    public async Task Jobs_hear_of_a_notice_before_it_counts_as_read()
    {
        await using var bench = await Workbench.OpenAsync(items: 30);
        var lane = await OtherStoresTests.LaneAsync(bench, "clay-lane", new OrderPolicy(OtherStoresTests.Rule(take: ["paid"], wait: [])));
        using var jobs = Jobs.Of(bench);
        var job = new JobDocument
        {
            Name = "At once",
            AtOnce = true,
            Lanes = [new LaneInJob(lane)],
        };
        (await jobs.Desk.SaveAsync(null, job, default)).Fault.ShouldBeNull();
        var desk = Desk(bench);
        var secret = (await desk.RenewSecretAsync("clay-lane", default)).Value;
        var body = $$"""{"notice":"N-1","purchase":"{{bench.Sandbox.Orders.Market.All[0].Id}}"}""";
        (await desk.TakeAsync("clay-lane", Signed(secret, body), default)).Value.ShouldBeTrue();
        await using var db = bench.Database.CreateDbContext();
        await db.Database.ExecuteSqlRawAsync("CREATE TRIGGER Ends BEFORE UPDATE ON HookEvents BEGIN SELECT RAISE(ABORT, 'ended'); END");
        await Should.ThrowAsync<DbUpdateException>(desk.HandleAsync("clay-lane", default));
        (await db.Turns.CountAsync()).ShouldBe(1);
        (await db.HookEvents.AsNoTracking().SingleAsync()).ReadAt.ShouldBeNull();

        await db.Database.ExecuteSqlRawAsync("DROP TRIGGER Ends");
        (await desk.HandleAsync("clay-lane", default)).ShouldBeNull();
        (await db.HookEvents.AsNoTracking().SingleAsync()).ReadAt.ShouldNotBeNull();
    }

    [Fact]
    public async Task What_nobody_signed_or_nobody_can_read_is_refused()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await bench.AddStoreAsync("clay-lane");
        var desk = Desk(bench);
        async Task<string?> CodeAsync(string system, HookMessage message) => (await desk.TakeAsync(system, message, default)).Fault?.Code;
        var unsigned = new HookMessage(_ => null, Encoding.UTF8.GetBytes("{}"));
        (await CodeAsync("clay-lane", unsigned)).ShouldBe("hook.unsigned");
        // Nothing is signed rightly where there is no secret yet.
        (await CodeAsync("clay-lane", Signed("", "{}"))).ShouldBe("hook.signature");
        var first = (await desk.RenewSecretAsync("clay-lane", default)).Value;
        var second = (await desk.RenewSecretAsync("clay-lane", default)).Value;
        (first == second).ShouldBeFalse();
        var good = """{"notice":"N-1","purchase":"M1"}""";
        (await CodeAsync("clay-lane", Signed(first, good))).ShouldBeNull();
        (await CodeAsync("clay-lane", Signed(second, good))).ShouldBeNull();
        (await CodeAsync("clay-lane", Signed("guessed", good))).ShouldBe("hook.signature");
        (await CodeAsync("clay-lane", Signed(second, "no json"))).ShouldBe("hook.unreadable");
        (await CodeAsync("clay-lane", Signed(second, """{"notice":"N-2"}"""))).ShouldBe("hook.unreadable");
        (await CodeAsync("clay-lane", Signed(second, """{"notice":"N-2","purchase":"\ud800"}"""))).ShouldBe("hook.unreadable");
        (await CodeAsync("clay-lane", Signed(second, """{"notice":"N-2","purchase":{"id":1}}"""))).ShouldBe("hook.unreadable");
        (await CodeAsync("web-shop", Signed(second, good))).ShouldBe("hook.unknown");
        (await CodeAsync("nobody", Signed(second, good))).ShouldBe("hook.unknown");
        (await desk.RenewSecretAsync("web-shop", default)).Fault!.Code.ShouldBe("hook.undescribed");
        (await desk.RenewSecretAsync("nobody", default)).Fault!.Code.ShouldBe("system.unknown");
        // A record that is not there any more is no fault: there is nothing to read.
        (await desk.HandleAsync("clay-lane", default)).ShouldBeNull();
    }

    [Fact]
    public async Task A_storm_is_bounded_and_there_is_room_again_once_it_was_read()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await bench.AddStoreAsync("clay-lane");
        var desk = Desk(bench);
        var secret = (await desk.RenewSecretAsync("clay-lane", default)).Value;
        var purchases = bench.Sandbox.Orders.Market.All.Take(3).Select(o => o.Id).ToList();
        await using (var db = bench.Database.CreateDbContext())
        {
            db.HookEvents.AddRange(
                Enumerable
                    .Range(0, HookDesk.MostWaiting - 1)
                    .Select(n => new Data.Events.HookEvent
                    {
                        SystemId = "clay-lane",
                        EventId = $"S-{n}",
                        Kind = RecordKind.Order,
                        RecordKey = purchases[n % 3],
                        ReceivedAt = DateTimeOffset.UtcNow,
                    })
            );
            await db.SaveChangesAsync();
        }

        string Body(string notice) => $$"""{"notice":"{{notice}}","purchase":"{{purchases[0]}}"}""";
        (await desk.TakeAsync("clay-lane", Signed(secret, Body("N-1")), default)).Value.ShouldBeTrue();
        (await desk.TakeAsync("clay-lane", Signed(secret, Body("N-2")), default)).Fault!.Code.ShouldBe("hook.tooMany");
        (await desk.HandleAsync("clay-lane", default)).ShouldBeNull();
        (await desk.TakeAsync("clay-lane", Signed(secret, Body("N-2")), default)).Value.ShouldBeTrue();
        await using var after = bench.Database.CreateDbContext();
        (await after.HookEvents.CountAsync(e => e.ReadAt == null)).ShouldBe(1);
        (await after.HookEvents.CountAsync(e => e.ReadAt != null)).ShouldBe(HookDesk.MostWaiting);
    }

    [Fact]
    public async Task A_notice_that_cannot_be_read_stops_no_other_and_is_set_aside_when_it_was_tried_in_vain()
    {
        await using var bench = await Workbench.OpenAsync(
            items: 30,
            edit: (id, document) =>
            {
                if (id == "clay-lane")
                    document["limits"]!["attempts"] = 1;
            }
        );
        await bench.AddStoreAsync("clay-lane");
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        var desk = Desk(bench, clock);
        var secret = (await desk.RenewSecretAsync("clay-lane", default)).Value;
        var good = bench.Sandbox.Orders.Market.All.First(o => o.PaymentState == "pending");
        bench.Sandbox.Orders.Market.Change(good.Id, Counters.Paid);
        foreach (var (notice, purchase) in new[] { ("N-1", "../../nothing?%00"), ("N-2", good.Id) })
            await desk.TakeAsync("clay-lane", Signed(secret, $$"""{"notice":"{{notice}}","purchase":"{{purchase}}"}"""), default);
        bench.Sandbox.Dials["clay-lane"].Shares = new FaultShares(Error: 1);
        (await desk.HandleAsync("clay-lane", default)).ShouldNotBeNull();
        await using var db = bench.Database.CreateDbContext();
        (await db.HookEvents.AsNoTracking().ToListAsync()).ShouldAllBe(e => e.Tries == 1 && e.NextAt > clock.GetUtcNow());
        // Nobody asks again before it is time.
        (await desk.HandleAsync("clay-lane", default)).ShouldBeNull();
        for (var i = 0; i < Retries.Most; i++)
        {
            clock.Advance(Retries.Longest);
            await desk.HandleAsync("clay-lane", default);
        }

        (await db.HookEvents.AsNoTracking().ToListAsync()).ShouldAllBe(e => e.Tries == Retries.Most && e.SetAsideAt != null);
        var found = (await new EventMismatches(clock).LookAsync(db, "clay-lane", default))!.Found;
        found.Count(m => m.Cause == "event.setAside").ShouldBe(2);

        // What is set aside takes nobody's place, and what comes is read.
        bench.Sandbox.Dials["clay-lane"].Shares = new FaultShares();
        await desk.TakeAsync("clay-lane", Signed(secret, $$"""{"notice":"N-3","purchase":"{{good.Id}}"}""", clock), default);
        (await desk.HandleAsync("clay-lane", default)).ShouldBeNull();
        (await PaidAsync(bench, good.Id)).ShouldBe("paid");
    }

    private static HookDesk Desk(Workbench bench, TimeProvider? clock = null) =>
        new(bench.Database, bench.Adapters, new Workbench.OpenVault(), Jobs.Of(bench).Signals, bench.Live, clock ?? TimeProvider.System);

    private static HookMessage Signed(string secret, string body, TimeProvider? clock = null)
    {
        var stamp = (clock ?? TimeProvider.System).GetUtcNow().ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture);
        var bytes = Encoding.UTF8.GetBytes(body);
        var signature = HookSignature.Of(secret, stamp, bytes);
        return new HookMessage(
            name =>
                name switch
                {
                    "Clay-Time" => stamp,
                    "Clay-Signature" => signature,
                    _ => null,
                },
            bytes
        );
    }

    private static async Task<string?> PaidAsync(Workbench bench, string purchase)
    {
        await using var db = bench.Database.CreateDbContext();
        var row = await db.Records.FirstAsync(r => r.SystemId == "clay-lane" && r.Kind == RecordKind.Order && r.Key == purchase);
        return Reading.StoredRecord.Values(row.Values).GetValueOrDefault("settled");
    }
}
