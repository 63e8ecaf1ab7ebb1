using Microsoft.EntityFrameworkCore;
using Narbit.Core.People;
using Narbit.Core.Records;
using Narbit.Data.Runs;
using Narbit.Engine.People;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>One person's data: collected, and anonymised wherever Narbit keeps it.</summary>
public sealed class PersonTests
{
    [Fact]
    public async Task What_is_kept_of_a_person_is_collected_and_then_nothing_tells_who_it_was()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        await bench.Reader.ReadSystemAsync("back-office", full: true, default);
        var shop = bench.Sandbox.Orders.Shop;
        var order = shop.All.First(o => o.HubNumber.Length > 0 && o.BillTo is not null && o.Phone.Length > 0);
        var desk = new PersonDesk(bench.Database, bench.Adapters, TimeProvider.System);

        var data = await desk.CollectAsync($" {order.Email.ToUpperInvariant()} ", default);
        data.Records.ShouldContain(r =>
            r.System == "web-shop" && r.Key == order.Id && r.Raw.GetProperty("email").GetString() == order.Email
        );
        data.Records.ShouldContain(r => r.System == "back-office" && r.Kind == RecordKind.Order && r.Key == order.HubNumber);
        data.Records.ShouldContain(r => r.System == "back-office" && r.Kind == RecordKind.Customer);
        data.Writes.ShouldContain(w => w.Record == RecordKind.Order && w.Key == order.HubNumber);
        (await desk.CollectAsync("nobody@elsewhere.example", default)).Records.ShouldBeEmpty();
        (await desk.CollectAsync("%", default)).Records.ShouldBeEmpty();

        var done = await desk.AnonymiseAsync(order.Email, default);
        done.Records.ShouldBe(data.Records.Count);
        (await LeftAsync(bench, order)).ShouldBeEmpty();
        (await desk.CollectAsync(order.Email, default)).Records.ShouldBeEmpty();
        await using (var db = bench.Database.CreateDbContext())
        {
            var row = await db.Records.FirstAsync(r => r.SystemId == "web-shop" && r.Kind == RecordKind.Order && r.Key == order.Id);
            // What was bought stays.
            row.Children!.ShouldContain(order.Lines[0].Sku);
            row.Values.ShouldContain(Anonymity.Mark);
        }

        // Reading the same again does not bring it back; what changed there does, until the keeper has passed.
        await bench.Reader.ReadAsync("web-shop", RecordKind.Order, full: true, default);
        (await LeftAsync(bench, order)).ShouldBeEmpty();
        shop.Change(order.Id, o => o with { State = "done" });
        await bench.Reader.ReadAsync("web-shop", RecordKind.Order, full: true, default);
        (await LeftAsync(bench, order)).ShouldNotBeEmpty();
        (await desk.AnonymiseOldAsync(DateTimeOffset.UnixEpoch, default)).Records.ShouldBeGreaterThan(0);
        (await LeftAsync(bench, order)).ShouldBeEmpty();
        (await desk.AnonymiseOldAsync(DateTimeOffset.UnixEpoch, default)).Records.ShouldBe(0);
    }

    [Fact]
    public async Task Orders_are_anonymised_once_they_are_old_enough()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        var orders = bench.Sandbox.Orders.Shop.All;
        var (older, newer) = (orders[100], orders[^1]);
        await new PersonDesk(bench.Database, bench.Adapters, TimeProvider.System).AnonymiseOldAsync(older.PlacedAt.AddSeconds(1), default);
        await using var db = bench.Database.CreateDbContext();
        (await db.OrderStandings.FirstAsync(o => o.SourceKey == older.Id)).Buyer.ShouldBe(Anonymity.Mark);
        (await db.OrderStandings.FirstAsync(o => o.SourceKey == newer.Id)).Email.ShouldBe(newer.Email);
    }

    // Where something of the buyer's is left.
    private static async Task<List<string>> LeftAsync(Workbench bench, StoreOrder order)
    {
        await using var db = bench.Database.CreateDbContext();
        var left = new List<string>();
        // Somebody else may live in the same street.
        foreach (var text in new[] { order.Email, order.Phone })
        {
            var like = $"%{text}%";
            left.AddRange(
                await db
                    .Records.Where(r =>
                        EF.Functions.Like(r.Values, like) || EF.Functions.Like(r.Raw, like) || EF.Functions.Like(r.Children!, like)
                    )
                    .Where(r => r.Key == order.Id || r.Key == order.HubNumber || r.Kind == RecordKind.Customer)
                    .Select(r => $"{r.SystemId} {r.Kind} {r.Key}: {text}")
                    .ToListAsync()
            );
            left.AddRange(
                await db
                    .Writes.Where(w => w.SourceKey == order.Id || w.Reference == order.Email)
                    .Where(w => EF.Functions.Like(w.Children!, like) || w.Fields.Any(f => f.New == text) || w.Caption == order.BillTo!.Name)
                    .Select(w => $"write {w.Id}: {text}")
                    .ToListAsync()
            );
        }

        return left;
    }
}
