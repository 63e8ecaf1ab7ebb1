using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Tests;

/// <summary>What stops a run, what must not, and what a change of a system does to its lanes.</summary>
public sealed class GateTests
{
    [Theory]
    [InlineData("off", "lane.off")]
    [InlineData("closed", "lane.closed")]
    [InlineData("mayNotWrite", "system.mayNotWrite")]
    [InlineData("paused", "system.paused")]
    public async Task A_run_that_is_sending_stops_before_its_next_batch_and_does_not_go_on_when_tried_again(string how, string code)
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        var shut = false;
        bench.Live.Happened += e =>
        {
            if (shut || e is not { Topic: "run", Phase: "send", Done: > 0 })
                return;
            shut = true;
            Set(bench, how, true);
        };
        (await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default)).Fault.ShouldBeNull();
        var stopped = await bench.EndedAsync(preview.Id);
        (stopped.State, stopped.Why!.Code).ShouldBe((RunState.Failed, code));
        var sent = bench.Shop.Applied.Count;
        sent.ShouldBeInRange(1, 30);

        var again = await bench.Runs.TryAgainAsync(preview.Id, default);
        (again.Fault?.Code ?? (await bench.EndedAsync(preview.Id)).Why!.Code).ShouldBe(code);
        bench.Shop.Applied.Count.ShouldBe(sent);

        Set(bench, how, false);
        (await bench.Runs.TryAgainAsync(preview.Id, default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);
        await bench.ShouldBeCompleteAsync(preview.Id);
    }

    [Fact]
    public async Task What_fails_after_a_run_is_done_does_not_make_it_a_failed_one()
    {
        await using var bench = await Workbench.OpenAsync();
        await using (var db = bench.Database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync(
                "CREATE TRIGGER NoCount BEFORE UPDATE OF ComparedAt ON Lanes BEGIN SELECT RAISE(ABORT, 'no'); END"
            );
        var run = await bench.RunAsync(Workbench.Stock, preview: false);
        (run.State, run.Why).ShouldBe((RunState.Done, null));
        await bench.ShouldBeCompleteAsync(run.Id);
        bench.Shop.Applied.Count.ShouldBeGreaterThan(0);
    }

    [Fact]
    public async Task A_stock_lane_does_not_care_what_the_quantitys_field_is_called()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Stock, preview: false);
        await ReviseAsync(bench, "web-shop", description => Field(description, "quantity")["name"] = "pieces");
        (await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default)).Fault.ShouldBeNull();
        bench.Sandbox.Office.Edit("10001", null, null, "Kilnyard", 77);
        var run = await bench.RunAsync(Workbench.Stock, preview: false);
        (run.State, run.Why).ShouldBe((RunState.Done, null));
        var write = (await bench.WritesAsync(run.Id)).Single(w => w.SourceKey == "10001");
        (write.State, write.Fields.Single().Field).ShouldBe((WriteState.Confirmed, "pieces"));
    }

    [Fact]
    public async Task An_adapter_of_an_earlier_revision_is_disposed_once_nobody_works_with_it()
    {
        // Its clock stands still, so nothing may have to wait: neither for the rate, nor to repeat what had no answer in time.
        await using var bench = await Workbench.OpenAsync(
            items: 12,
            edit: (_, d) => (d["limits"]!["timeoutSeconds"], d["limits"]!["requestsPerSecond"]) = (60, 1000)
        );
        var clock = new FakeTimeProvider();
        using var source = new AdapterSource(bench.Database, new Workbench.OpenVault(), new OutboundPolicy(true), clock);
        var old = (await source.ForAsync("web-shop", default)).Value.Adapter;
        await ReviseAsync(bench, "web-shop", description => description["limits"]!["attempts"] = 2);
        var now = (await source.ForAsync("web-shop", default)).Value.Adapter;
        now.ShouldNotBeSameAs(old);
        (await source.ForAsync("web-shop", default)).Value.Adapter.ShouldBeSameAs(now);
        (await old.TestAsync(default)).Ok.ShouldBeTrue("whoever began with it may finish");
        clock.Advance(TimeSpan.FromMinutes(11));
        await Should.ThrowAsync<ObjectDisposedException>(() => old.TestAsync(default));
        (await now.TestAsync(default)).Ok.ShouldBeTrue();
    }

    [Fact]
    public async Task What_stands_around_variants_is_kept_once_and_not_with_each_of_them()
    {
        await using var bench = await Workbench.OpenAsync();
        (await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default)).Fault.ShouldBeNull();
        await using var db = bench.Database.CreateDbContext();
        var products = bench.Shop.Page(1, 100_000, null, (all, _) => all.Count);
        (await db.Parents.CountAsync(p => p.SystemId == "web-shop")).ShouldBe(products);
        var records = await db.Records.Where(r => r.SystemId == "web-shop").ToListAsync();
        records.Count.ShouldBeGreaterThan(products);
        records.ShouldAllBe(r => !r.Raw.Contains("body_html", StringComparison.Ordinal) && r.Parent != null);
        var parent = await db.Parents.FirstAsync(p => p.Key == records[0].Parent);
        JsonNode.Parse(parent.Raw)!.AsObject().ContainsKey("variants").ShouldBeFalse();
        parent.Raw.ShouldContain("body_html");
    }

    private static void Set(Workbench bench, string how, bool shut)
    {
        using var db = bench.Database.CreateDbContext();
        var lane = db.Lanes.Where(l => l.Id == Workbench.Prices);
        if (how == "off")
            lane.ExecuteUpdate(s => s.SetProperty(l => l.Off, shut));
        else if (how == "closed")
            lane.ExecuteUpdate(s =>
                s.SetProperty(l => l.ClosedAt, shut ? DateTimeOffset.UtcNow : null).SetProperty(l => l.ClosedBy, shut ? "Tester" : null)
            );
        else if (how == "paused")
            db.Systems.Where(x => x.Id == "web-shop")
                .ExecuteUpdate(s => s.SetProperty(x => x.PausedAt, shut ? DateTimeOffset.UtcNow : null));
        else
            db.Systems.Where(x => x.Id == "web-shop").ExecuteUpdate(s => s.SetProperty(x => x.MayWrite, !shut));
    }

    private static async Task ReviseAsync(Workbench bench, string id, Action<JsonObject> edit)
    {
        await using var db = bench.Database.CreateDbContext();
        var system = await db.Systems.FirstAsync(s => s.Id == id);
        var description = JsonNode.Parse(system.Document)!.AsObject();
        edit(description);
        (system.Document, system.Revision) = (description.ToJsonString(), system.Revision + 1);
        await db.SaveChangesAsync();
    }

    private static JsonObject Field(JsonObject description, string name) =>
        description["resources"]![0]!["fields"]!.AsArray().Select(f => f!.AsObject()).First(f => f["name"]!.GetValue<string>() == name);
}
