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
    public async Task Nothing_of_somebody_is_left_anywhere_and_nothing_of_anybody_else_is_changed()
    {
        await using var bench = await Workbench.OpenAsync();
        var shop = bench.Sandbox.Orders.Shop;
        var lane = await OrderLaneTests.LaneAsync(bench);
        var planned = await bench.WritesAsync((await bench.RunAsync(lane, preview: true)).Id);
        var order = shop.All.First(o => o.BillTo is not null && planned.Any(w => w.Record == RecordKind.Order && w.SourceKey == o.Id));
        // An address that a search would take for a pattern, and a key that another system has too.
        var mail = $"o_%{order.Email}";
        var name = "Quillon Featherstonehaugh";
        // The hub does not know the buyer yet, so that the address becomes a key.
        shop.Change(
            order.Id,
            o =>
                o with
                {
                    Email = mail,
                    Phone = "0555 987 654 321",
                    Account = "",
                    BillTo = o.BillTo! with { Name = name },
                    ShipTo = o.BillTo with { Name = name },
                }
        );
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        await bench.Reader.ReadSystemAsync("back-office", full: true, default);
        var desk = new PersonDesk(bench.Database, bench.Adapters, TimeProvider.System);
        await using (var db = bench.Database.CreateDbContext())
        {
            var own = await db.Records.FirstAsync(r => r.SystemId == "web-shop" && r.Kind == RecordKind.Order && r.Key == order.Id);
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO Records (SystemId, Kind, Key, Hash, Raw, "Values", ChangedAt, FirstReadAt)
                VALUES ('elsewhere', 'Order', {order.Id}, x'00', '{"{}"}', '{"{}"}', 1, 1),
                       ('web-shop', 'Item', {order.Id}, x'00', '{"{}"}', '{"{}"}', 1, 1)
                """
            );
            db.Troubles.Add(
                new RunTrouble
                {
                    RunId = 1,
                    System = "Back Office",
                    Request = $"GET v1/customers?emails={mail}",
                    Why = new KeptReason { Code = "x", Words = $"nothing said of {mail}, {name}" },
                }
            );
            await db.SaveChangesAsync();
        }

        var data = await desk.CollectAsync(mail.ToUpperInvariant(), default);
        data.Records.Select(r => (r.System, r.Kind))
            .Distinct()
            .Order()
            .ShouldBe(
                [("back-office", RecordKind.Customer), ("back-office", RecordKind.Order), ("web-shop", RecordKind.Order)],
                ignoreOrder: true
            );
        data.Writes.Count(w => w.Record == RecordKind.Order).ShouldBeGreaterThan(0);
        (await WhereAsync(bench, mail)).ShouldContain("Counterparts.SourceKey");

        var others = await OthersAsync(bench, data);
        await desk.AnonymiseAsync(mail, default);
        foreach (var text in new[] { mail, mail.ToLowerInvariant(), name })
        {
            (await WhereAsync(bench, text)).ShouldBeEmpty();
            foreach (var file in new[] { bench.Database.Path, bench.Database.Path + "-wal" }.Where(File.Exists))
                (await BytesAsync(file)).AsSpan().IndexOf(System.Text.Encoding.UTF8.GetBytes(text)).ShouldBe(-1, $"{text} in {file}");
        }

        (await OthersAsync(bench, data)).ShouldBe(others);
        // The hub still has one document and one customer of it, and the next run makes nothing anew.
        var again = await bench.RunAsync(lane, preview: true);
        (await bench.WritesAsync(again.Id)).ShouldNotContain(w => w.SourceKey == order.Id && w.Act == WriteAct.Create);
    }

    // Tables and columns that have a text anywhere.
    private static async Task<List<string>> WhereAsync(Workbench bench, string text)
    {
        await using var db = bench.Database.CreateDbContext();
        var columns = await db
            .Database.SqlQuery<string>(
                $"""
                SELECT m.name || '.' || c.name AS Value FROM sqlite_master m, pragma_table_info(m.name) c
                WHERE m.type = 'table' AND m.name NOT LIKE 'sqlite%' AND m.name NOT LIKE 'RecordWords%'
                """
            )
            .ToListAsync();
        var found = new List<string>();
        foreach (var column in columns)
        {
            var (table, name) = (column.Split('.')[0], column.Split('.')[1]);
            var sql = $"SELECT COUNT(*) AS Value FROM \"{table}\" WHERE instr(CAST(\"{name}\" AS TEXT), {{0}}) > 0";
            if (await db.Database.SqlQueryRaw<int>(sql, text).SingleAsync() > 0)
                found.Add(column);
        }

        return found;
    }

    // All that is kept of others, in one text.
    private static async Task<string> OthersAsync(Workbench bench, PersonData person)
    {
        await using var db = bench.Database.CreateDbContext();
        var own = person.Records.Select(r => $"{r.System} {r.Kind} {r.Key}").ToHashSet();
        var records = await db.Records.AsNoTracking().OrderBy(r => r.Id).ToListAsync();
        var orders = person.Records.Where(r => r.Kind == RecordKind.Order).Select(r => r.Key).ToList();
        var customers = person.Records.Where(r => r.Kind == RecordKind.Customer).Select(r => r.Key).ToList();
        var writes = await db
            .Writes.AsNoTracking()
            .Include(w => w.Fields)
            .Where(w => !orders.Contains(w.SourceKey) && !orders.Contains(w.TargetKey) && !customers.Contains(w.TargetKey))
            .OrderBy(w => w.Id)
            .ToListAsync();
        return string.Join(
            '\n',
            records
                .Where(r => !own.Contains($"{r.SystemId} {r.Kind} {r.Key}"))
                .Select(r => $"{r.SystemId} {r.Kind} {r.Key} {r.Values} {r.Children} {r.Raw} {r.Caption}")
                .Concat(
                    writes.Select(w =>
                        $"{w.Id} {w.Caption} {w.SourceKey} {w.TargetKey} {w.Children}{string.Join(' ', w.Fields.Select(f => f.New))}"
                    )
                )
        );
    }

    private static async Task<byte[]> BytesAsync(string path)
    {
        await using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
        using var bytes = new MemoryStream();
        await file.CopyToAsync(bytes);
        return bytes.ToArray();
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
