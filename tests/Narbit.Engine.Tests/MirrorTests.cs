using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data.Mirror;
using Narbit.Sandbox.Faults;

namespace Narbit.Engine.Tests;

public sealed class MirrorTests
{
    [Fact]
    public async Task A_full_read_keeps_raw_form_values_and_problems()
    {
        await using var bench = await Workbench.OpenAsync();
        var read = await bench.Reader.ReadAsync("back-office", RecordKind.Item, full: true, default);
        (read.Value.Records, read.Value.Changed, read.Value.Troubled, read.Value.State).ShouldBe((240, 240, 2, ReadState.Done));
        await using var db = bench.Database.CreateDbContext();
        var first = await db.Records.FirstAsync(r => r.SystemId == "back-office" && r.Key == "10001");
        (first.Reference, first.Caption, first.Group).ShouldBe(("GLZ-CEL-250", "Celadon glaze, brush-on 250 ml", "GLZ-CEL"));
        JsonNode.Parse(first.Raw)!["weightGrams"]!.GetValue<int>().ShouldBe(380);
        JsonNode.Parse(first.Values)!["weight"]!.GetValue<string>().ShouldBe("0.38");
        (await db.Records.CountAsync(r => r.Problems != null)).ShouldBe(2);
    }

    [Fact]
    public async Task Unchanged_records_cost_no_write()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        var before = await StampsAsync(bench);
        var again = await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        (again.Value.Changed, again.Value.Gone).ShouldBe((0, 0));
        (await StampsAsync(bench)).ShouldBe(before);
    }

    [Fact]
    public async Task A_later_read_asks_only_for_what_changed()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.Reader.ReadAsync("back-office", RecordKind.Item, full: true, default);
        bench.Sandbox.Office.Edit("10005", "Studio", 99.5m, null, null);
        var read = await bench.Reader.ReadAsync("back-office", RecordKind.Item, full: false, default);
        (read.Value.Records, read.Value.Changed).ShouldBe((1, 1));
        await using var db = bench.Database.CreateDbContext();
        JsonNode.Parse((await db.Records.FirstAsync(r => r.Key == "10005")).Values)!["studio"]!.GetValue<string>().ShouldBe("99.5");
    }

    [Fact]
    public async Task A_full_read_notices_what_is_gone_and_what_came_back()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        bench.Shop.Remove(90_007);
        (await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default)).Value.Gone.ShouldBe(1);
        await using var db = bench.Database.CreateDbContext();
        (await db.Records.FirstAsync(r => r.Key == "90007")).GoneAt.ShouldNotBeNull();
        (await db.Records.CountAsync(r => r.SystemId == "web-shop" && r.GoneAt != null)).ShouldBe(1);
    }

    [Fact]
    public async Task A_read_that_broke_off_goes_on_where_it_stopped_and_still_notices_what_is_gone()
    {
        await using var bench = await Workbench.OpenAsync(
            edit: (_, d) =>
            {
                d["limits"]!["attempts"] = 1;
                // Nothing is repeated, so the first request of a cold process has the time it needs.
                d["limits"]!["timeoutSeconds"] = 20;
                d["limits"]!["requestsPerSecond"] = 10;
                d["resources"]![0]!["list"]!["size"] = 20;
            }
        );
        (await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default)).Fault.ShouldBeNull();
        bench.Shop.Remove(90_001);

        // The dial falls in after the first pages, which come a tenth of a second apart.
        bench.Live.Happened += what =>
        {
            if (what is { Topic: "read", Done: > 20 })
                bench.ShopDial.Shares = new FaultShares(Error: 1);
        };
        var broken = await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        broken.Fault!.Words.ShouldContain("failed (500)");

        bench.ShopDial.Shares = new FaultShares();
        var reader = new Narbit.Engine.Reading.MirrorReader(bench.Database, bench.Adapters, new LiveFeed(), TimeProvider.System);
        var resumed = await reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        await using var db = bench.Database.CreateDbContext();
        (await db.Reads.CountAsync()).ShouldBe(2);
        resumed.Value.State.ShouldBe(ReadState.Done);
        resumed.Value.Records.ShouldBe(bench.Sandbox.Catalogue.Products.Sum(p => p.Variants.Count));
        resumed.Value.Gone.ShouldBe(1);
        resumed.Value.Pages.ShouldBe((bench.Sandbox.Catalogue.Products.Count + 19) / 20);
    }

    [Fact]
    public async Task A_list_that_is_shorter_than_it_says_takes_nothing_for_gone()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        await using (var db = bench.Database.CreateDbContext())
        {
            // A description that stops after the first page, though the total says there is more.
            var system = await db.Systems.FirstAsync(s => s.Id == "web-shop");
            var document = JsonNode.Parse(system.Document)!;
            document["resources"]![0]!["list"]!["paging"] = "none";
            document["resources"]![0]!["list"]!["size"] = 30;
            (system.Document, system.Revision) = (document.ToJsonString(), system.Revision + 1);
            await db.SaveChangesAsync();
        }

        var read = await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default);
        read.Fault!.Words.ShouldContain("but sent 30");
        await using var after = bench.Database.CreateDbContext();
        (await after.Records.CountAsync(r => r.GoneAt != null)).ShouldBe(0);
    }

    [Fact]
    public async Task Two_readers_of_the_same_records_take_turns()
    {
        await using var bench = await Workbench.OpenAsync();
        var reads = await Task.WhenAll(
            Enumerable.Range(0, 3).Select(_ => bench.Reader.ReadAsync("back-office", RecordKind.Item, full: true, default))
        );
        reads.ShouldAllBe(r => r.Fault == null);
        reads.Sum(r => r.Value.Changed).ShouldBe(240);
    }

    [Fact]
    public async Task A_system_that_may_not_be_read_is_left_alone()
    {
        await using var bench = await Workbench.OpenAsync();
        await using (var db = bench.Database.CreateDbContext())
            await db.Systems.ExecuteUpdateAsync(s => s.SetProperty(x => x.MayRead, false));
        (await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default)).Fault!.Code.ShouldBe("system.mayNotRead");
    }

    private static async Task<string> StampsAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return string.Join(
            ' ',
            await db
                .Records.Where(r => r.SystemId == "web-shop")
                .OrderBy(r => r.Id)
                .Select(r => $"{r.Id}:{r.ChangedAt.UtcTicks}")
                .ToListAsync()
        );
    }
}
