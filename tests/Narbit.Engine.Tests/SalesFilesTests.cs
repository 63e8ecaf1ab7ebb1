using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data.Mirror;
using Narbit.Data.Systems;

namespace Narbit.Engine.Tests;

/// <summary>Files with a day's sales: what was not stored is not put away, and what was not read is not archived.</summary>
public sealed class SalesFilesTests
{
    private const string Till = "corner-till";

    [Fact]
    public async Task Sales_stay_where_they_are_until_they_are_stored()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var folder = await AddAsync(bench);
        Day(folder, "20261124", "1001;A;1");
        Day(folder, "20261125", "1002;A;2");
        // The process ends before anything is stored.
        await using (var db = bench.Database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync("CREATE TRIGGER Ends BEFORE INSERT ON Records BEGIN SELECT RAISE(ABORT, 'ended'); END");
        (await bench.Reader.ReadAsync(Till, RecordKind.Order, full: true, default)).Fault.ShouldNotBeNull();
        Names(folder, "out").Length.ShouldBe(2);
        await using (var db = bench.Database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync("DROP TRIGGER Ends");

        await ReadAsync(bench);
        (await KeysAsync(bench)).ShouldBe(["1001", "1002"]);
        Names(folder, "out").ShouldBeEmpty();
        Names(folder, "archive").Length.ShouldBe(2);
    }

    [Fact]
    public async Task A_late_file_with_an_older_name_is_read_and_what_came_after_it_still_holds()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var folder = await AddAsync(bench);
        Day(folder, "20261124", "1001;A;1");
        Day(folder, "20261126", "1003;A;7");
        await ReadAsync(bench);
        Day(folder, "20261125", "1002;A;2\r\n1003;A;3");
        await ReadAsync(bench);
        (await KeysAsync(bench)).ShouldBe(["1001", "1002", "1003"]);
        await using var db = bench.Database.CreateDbContext();
        (await db.Records.SingleAsync(r => r.SystemId == Till && r.Key == "1003")).Children!.ShouldContain("\"7\"");
        Names(folder, "archive").Length.ShouldBe(3);
    }

    [Fact]
    public async Task A_file_that_cannot_be_read_stops_no_other_stays_and_is_told()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var folder = await AddAsync(bench);
        Day(folder, "20261124", "1001;A;1");
        var broken = Path.Combine(folder, "out", "sales_20261125.csv");
        File.WriteAllText(broken, "something;else\r\n1;2\r\n");
        Settle(broken);
        Day(folder, "20261126", "1003;A;3");
        var read = await ReadAsync(bench);
        (read.State, read.Unkept).ShouldBe((ReadState.Done, 1));
        read.Message!.ShouldContain("sales_20261125.csv");
        (await KeysAsync(bench)).ShouldBe(["1001", "1003"]);
        Names(folder, "out").ShouldBe(["sales_20261125.csv"]);
        // It goes on being told, and goes on stopping nothing.
        (await ReadAsync(bench)).Unkept.ShouldBe(1);
    }

    private static async Task<MirrorRead> ReadAsync(Workbench bench)
    {
        var read = await bench.Reader.ReadAsync(Till, RecordKind.Order, full: true, default);
        read.Fault.ShouldBeNull(read.Fault?.Words);
        return read.Value;
    }

    private static async Task<List<string>> KeysAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.Records.Where(r => r.SystemId == Till && r.GoneAt == null).OrderBy(r => r.Key).Select(r => r.Key).ToListAsync();
    }

    private static void Day(string folder, string day, string rows)
    {
        var path = Path.Combine(folder, "out", $"sales_{day}.csv");
        File.WriteAllText(path, $"receipt;sku;pieces\r\n{rows}\r\n", Encoding.UTF8);
        Settle(path);
    }

    private static void Settle(string path) => File.SetLastWriteTimeUtc(path, DateTime.UtcNow.AddMinutes(-5));

    private static string[] Names(string folder, string within) =>
        [.. Directory.GetFiles(Path.Combine(folder, within)).Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)];

    private static async Task<string> AddAsync(Workbench bench)
    {
        var folder = Path.Combine(bench.Sandbox.Folder, Till);
        foreach (var name in new[] { "out", "archive" })
            Directory.CreateDirectory(Path.Combine(folder, name));
        await using var db = bench.Database.CreateDbContext();
        db.Systems.Add(
            new ConnectedSystem
            {
                Id = Till,
                Name = "Corner Till",
                Kind = SystemKind.PointOfSale,
                Mark = "CT",
                Currency = "EUR",
                Document = """
                { "format": "narbit/file-system/1", "name": "Corner Till", "kind": "pointOfSale", "mark": "CT", "currency": "EUR",
                  "address": "corner-till", "out": "out", "archive": "archive", "settleSeconds": 1,
                  "resources": [ { "kind": "order", "label": "receipts", "file": "sales_{time}.csv", "time": "yyyyMMdd", "whole": false,
                    "key": "receipt", "fields": [],
                    "children": [ { "name": "lines", "role": "lines", "fields": [
                      { "name": "sku", "label": "SKU", "type": "text", "column": "sku" },
                      { "name": "pieces", "label": "Pieces", "type": "integer", "column": "pieces" } ] } ] } ] }
                """,
                Address = Till,
            }
        );
        await db.SaveChangesAsync();
        return folder;
    }
}
