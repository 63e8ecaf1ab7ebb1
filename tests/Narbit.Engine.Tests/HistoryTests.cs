using System.Globalization;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Tests;

/// <summary>What a value was at an instant, against a replay of what happened.</summary>
public sealed class HistoryTests
{
    private static readonly DateTimeOffset Start = new(2026, 10, 1, 6, 0, 0, TimeSpan.Zero);

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task A_month_of_changes_is_told_as_it_was(int seed)
    {
        var random = new Random(seed);
        var folder = Directory.CreateTempSubdirectory("narbit-history");
        var database = new Database(Path.Combine(folder.FullName, "narbit.db"));
        await database.MigrateAsync();
        var store = new MirrorStore(database);
        string[] fields = ["price", "quantity", "title"];
        var values = new Dictionary<string, string> { ["price"] = "10.90", ["quantity"] = "46" };
        var replay = new List<(DateTimeOffset At, Dictionary<string, string> Values)>();
        // The first read is the second day's; then something changes now and then, or comes, or goes.
        for (var at = Start.AddDays(1); at < Start.AddDays(31); at = at.AddMinutes(random.Next(5, 600)))
        {
            if (replay.Count > 0)
                Change(values, fields[random.Next(fields.Length)], random);
            await store.StoreAsync("shop", RecordKind.Item, [Entry(values)], at, default);
            replay.Add((at, new Dictionary<string, string>(values)));
        }

        await using var db = database.CreateDbContext();
        var book = new HistoryBook(db);
        var record = (await book.RecordsAsync("shop", "1", default))[0].Record;
        record.FirstReadAt.ShouldBe(replay[0].At);
        (await db.ValueChanges.CountAsync()).ShouldBeGreaterThan(60);
        for (var asked = 0; asked < 300; asked++)
        {
            var at = Start.AddMinutes(random.Next(0, 32 * 24 * 60));
            var around = await book.AroundAsync(record, at, default);
            var known = replay.LastOrDefault(r => r.At <= at).Values ?? replay[0].Values;
            foreach (var field in fields)
            {
                var (before, after) = around.GetValueOrDefault(field);
                var then = ValueTimeline.At(at, record.FirstReadAt, values.GetValueOrDefault(field), Seen(before), Seen(after));
                then.Value.ShouldBe(known.GetValueOrDefault(field), $"{field} at {at:u}");
                then.Earlier.ShouldBe(at < replay[0].At);
                (then.Since <= at || then.Earlier).ShouldBeTrue();
                if (then.Until is { } until)
                    until.ShouldBeGreaterThan(at);
            }
        }

        folder.Delete(recursive: true);
    }

    [Fact]
    public void A_value_that_was_read_once_was_so_since_then_and_an_earlier_instant_gets_the_first_that_is_known()
    {
        var then = ValueTimeline.At(Start, Start.AddDays(1), "11.99", [new SeenChange(Start.AddDays(2), "10.90", "11.99")]);
        then.ShouldBe(new ValueThen("10.90", Start.AddDays(1), Start.AddDays(2), null, Earlier: true));
        ValueTimeline.At(Start.AddDays(1), Start, "11.99", []).ShouldBe(new ValueThen("11.99", Start, null, null, Earlier: false));
    }

    [Fact]
    public async Task A_write_of_ours_is_told_from_a_change_of_somebody_else_to_the_same_value_right_before_it()
    {
        await using var bench = await Workbench.OpenAsync();
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        await using var db = bench.Database.CreateDbContext();
        var write = await db.Writes.Include(w => w.Fields).FirstAsync(w => w.RunId == run.Id && w.State == WriteState.Planned);
        var price = write.Fields.First(f => f.Position == 0);
        (await bench.Runs.SendAsync(run.Id, new Choice(All: false, Only: [write.Id]), "Tester", default)).Fault.ShouldBeNull();
        await bench.EndedAsync(run.Id);
        var change = await db.ValueChanges.AsNoTracking().SingleAsync(v => v.Key == write.TargetKey && v.Field == price.Field);
        (change.WriteId, change.Old, change.New).ShouldBe((write.Id, price.Old, price.New));

        var key = long.Parse(write.TargetKey, CultureInfo.InvariantCulture);
        // By hand to something else and back: the same value, and not ours.
        bench.Shop.SetPrice(key, 4_321);
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        bench.Shop.SetPrice(key, (int)(decimal.Parse(price.New!, CultureInfo.InvariantCulture) * 100));
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        var all = await new HistoryBook(db).ChangesAsync(
            [(await new HistoryBook(db).RecordsAsync("web-shop", write.TargetKey, default))[0].Record],
            price.Field,
            10,
            default
        );
        all.Select(k => k.Write?.Write.Id).ShouldBe([null, null, write.Id]);
    }

    [Fact]
    public async Task An_items_stock_levels_are_part_of_its_history()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.Reader.ReadAsync("back-office", RecordKind.Item, full: true, default);
        await bench.Reader.ReadAsync("back-office", RecordKind.StockLevel, full: true, default);
        await using var db = bench.Database.CreateDbContext();
        var level = await db.Records.AsNoTracking().FirstAsync(r => r.Kind == RecordKind.StockLevel && r.Parent == "10001");
        var before = StoredRecord.Values(level.Values);
        bench.Sandbox.Office.Edit("10001", null, null, before["location"], 7);
        await bench.Reader.ReadAsync("back-office", RecordKind.StockLevel, full: true, default);
        var book = new HistoryBook(db);
        var records = (await book.RecordsAsync("back-office", "10001", default)).Select(r => r.Record).ToList();
        records.Select(r => r.Kind).Distinct().ShouldBe([RecordKind.Item, RecordKind.StockLevel]);
        var change = (await book.ChangesAsync(records, null, 10, default)).Single().Change;
        (change.Field, change.Old, change.New).ShouldBe(("onHand", before["onHand"], "7"));
    }

    private static void Change(Dictionary<string, string> values, string field, Random random)
    {
        if (random.Next(8) == 0)
            values.Remove(field);
        else
            values[field] = field == "title" ? $"Glaze {random.Next(1000)}" : $"{random.Next(100, 2000) / 100m:0.00}";
    }

    private static MirrorEntry Entry(Dictionary<string, string> values)
    {
        var json = Encoding.UTF8.GetBytes(System.Text.Json.JsonSerializer.Serialize(values));
        return new MirrorEntry
        {
            Key = "1",
            KeyHash = 1,
            Hash = System.Security.Cryptography.SHA256.HashData(json)[..16],
            Raw = json,
            Values = json,
        };
    }

    private static SeenChange? Seen(KnownChange? known) =>
        known is null ? null : new SeenChange(known.Change.At, known.Change.Old, known.Change.New);
}
