using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data.Runs;
using Narbit.Engine.Runs;
using Narbit.Engine.Workspaces;

namespace Narbit.Engine.Tests;

/// <summary>Lanes and systems that are removed and brought back, and systems that are paused.</summary>
public sealed class RemovalTests
{
    [Fact]
    public async Task A_removed_lane_does_nothing_any_more_and_comes_back_as_it_was()
    {
        await using var bench = await Workbench.OpenAsync(orders: 0);
        var desk = Desk(bench);
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        (await desk.RemoveLaneAsync(Workbench.Prices, default)).ShouldBeNull();

        (await bench.Runs.StartAsync(Workbench.Prices, preview: true, RunTrigger.Person, "T", default)).Fault!.Code.ShouldBe(
            "lane.unknown"
        );
        (await bench.Runs.SendAsync(preview.Id, new Choice(true), "T", default)).Fault!.Code.ShouldBe("run.laneRemoved");
        await using (var db = bench.Database.CreateDbContext())
        {
            (await db.Lanes.Select(l => l.Id).ToListAsync()).ShouldBe([Workbench.Stock]);
            (await db.Runs.FirstAsync(r => r.Id == preview.Id)).State.ShouldBe(RunState.Superseded);
        }

        (await desk.RemoveLaneAsync(Workbench.Prices, default))!.Code.ShouldBe("lane.unknown");
        (await desk.BringLaneBackAsync(Workbench.Prices, default)).ShouldBeNull();
        (await bench.RunAsync(Workbench.Prices, preview: true)).State.ShouldBe(RunState.Ready);
        (await desk.BringLaneBackAsync(Workbench.Prices, default))!.Code.ShouldBe("lane.unknown");
    }

    [Fact]
    public async Task A_lane_at_work_and_the_hub_of_others_stay()
    {
        await using var bench = await Workbench.OpenAsync(orders: 0);
        var desk = Desk(bench);
        await bench.SetRuleAsync(Workbench.Prices, new Narbit.Engine.Lanes.Prices.PriceDocument(Workbench.Markup));
        Task<Core.Reason?>? inTheMiddle = null;
        bench.Live.Happened += e =>
        {
            if (inTheMiddle is null && e is { Topic: "run", Phase: "send" })
                inTheMiddle = desk.RemoveLaneAsync(Workbench.Prices, default);
        };
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        (await inTheMiddle!)!.Words.ShouldBe($"Prices is at work (run {run.Id}). Stop the run or wait until it is done, then remove.");
        (await desk.RemoveSystemAsync("back-office", "T", default))!.Code.ShouldBe("removal.hub");
    }

    [Fact]
    public async Task A_system_goes_with_its_lanes_once_it_was_told_what_goes_and_comes_back_without_its_secret()
    {
        await using var bench = await Workbench.OpenAsync(orders: 0);
        var desk = Desk(bench);
        await bench.RunAsync(Workbench.Prices, preview: true);
        var effect = (await desk.EffectAsync("web-shop", default)).Value;
        effect.Lanes.ShouldBe(["Prices, back-office to web-shop", "Stock levels, back-office to web-shop"]);
        (effect.Records, effect.Pairs).ShouldBe(await CountedAsync(bench));
        (effect.Waiting, effect.InTheWay).ShouldBe((1, null));

        (await desk.RemoveSystemAsync("web-shop", "T", default)).ShouldBeNull();
        (await bench.Adapters.ForAsync("web-shop", default)).Fault!.Code.ShouldBe("system.unknown");
        (await desk.EffectAsync("web-shop", default)).Fault!.Code.ShouldBe("system.unknown");
        (await desk.BringLaneBackAsync(Workbench.Prices, default))!.Code.ShouldBe("removal.system");
        await using (var db = bench.Database.CreateDbContext())
        {
            (await db.Lanes.CountAsync(), await db.Couples.CountAsync()).ShouldBe((0, 0));
            (await db.Systems.IgnoreQueryFilters().FirstAsync(s => s.Id == "web-shop")).ProtectedCredential.ShouldBeNull();
        }

        (await desk.BringSystemBackAsync("web-shop", default)).ShouldBeNull();
        await using (var db = bench.Database.CreateDbContext())
            (await db.Lanes.CountAsync(), await db.Couples.CountAsync()).ShouldBe((2, 1));
        (await CountedAsync(bench)).ShouldBe((effect.Records, effect.Pairs));
    }

    [Fact]
    public async Task The_only_system_may_go_though_it_is_the_hub()
    {
        await using var bench = await Workbench.OpenAsync(orders: 0);
        var desk = Desk(bench);
        (await desk.RemoveSystemAsync("web-shop", "T", default)).ShouldBeNull();
        (await desk.RemoveSystemAsync("back-office", "T", default)).ShouldBeNull();
        await using (var db = bench.Database.CreateDbContext())
            (await db.Workspaces.Select(w => w.HubId).FirstAsync()).ShouldBeNull();
        (await desk.BringSystemBackAsync("back-office", default)).ShouldBeNull();
        (await desk.BringSystemBackAsync("web-shop", default)).ShouldBeNull();
        await using (var db = bench.Database.CreateDbContext())
        {
            (await db.Workspaces.Select(w => w.HubId).FirstAsync()).ShouldBe("back-office");
            (await db.Lanes.CountAsync()).ShouldBe(2);
        }
    }

    [Fact]
    public async Task A_paused_system_is_neither_read_nor_written_and_says_by_whom()
    {
        await using var bench = await Workbench.OpenAsync(orders: 0);
        var preview = await bench.RunAsync(Workbench.Stock, preview: true);
        await PauseAsync(DateTimeOffset.UtcNow);
        var reasons = new[]
        {
            (await bench.Reader.ReadAsync("web-shop", RecordKind.Item, full: true, default)).Fault!,
            (await bench.Runs.StartAsync(Workbench.Prices, preview: true, RunTrigger.Person, "T", default)).Fault!,
            (await bench.Runs.SendAsync(preview.Id, new Choice(true), "T", default)).Fault!,
        };
        reasons.Select(r => r.Code).Distinct().ShouldBe(["system.paused"]);
        reasons[0].Words.ShouldEndWith("UTC by Una M.: it is neither read nor written. Resume it under Systems.");
        await PauseAsync(null);
        (await bench.Runs.SendAsync(preview.Id, new Choice(true), "T", default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(preview.Id)).State.ShouldBe(RunState.Done);

        async Task PauseAsync(DateTimeOffset? since)
        {
            await using var db = bench.Database.CreateDbContext();
            var shop = await db.Systems.FirstAsync(s => s.Id == "web-shop");
            (shop.PausedAt, shop.PausedBy) = (since, "Una M.");
            await db.SaveChangesAsync();
        }
    }

    private static RemovalDesk Desk(Workbench bench) => new(bench.Database, bench.Reader, bench.Live, TimeProvider.System);

    private static async Task<(int Records, int Pairs)> CountedAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return (await db.Records.CountAsync(r => r.SystemId == "web-shop" && r.GoneAt == null), await db.Links.CountAsync());
    }
}
