using System.Text.Json.Nodes;
using Narbit.Sandbox.Faults;

namespace Narbit.Web.Tests;

public sealed class KillTests
{
    /// <summary>
    /// The process is killed after so many requests of the run have reached the stand-ins: while reading, computing, sending, confirming.
    /// </summary>
    private static readonly int[] KilledAfter = [1, 3, 6, 9, 14, 18, 23, 29, 36, 44, 53, 63];

    [Fact]
    public async Task A_run_that_is_killed_again_and_again_loses_nothing_and_sends_nothing_twice()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        await narbit.SaveMarkupAsync();
        narbit.Sandbox.Dials["web-shop"].Shares = new FaultShares(
            TooMany: 0.04,
            Error: 0.05,
            LostBefore: 0.03,
            LostAfter: 0.05,
            Twice: 0.08,
            HalfPage: 0.06,
            RetryAfter: 0
        );
        narbit.Sandbox.Dials["back-office"].Shares = new FaultShares(Error: 0.1, HalfPage: 0.1);

        var before = Requests(narbit);
        var run = await narbit.StartRunAsync("prices-web-shop", preview: false);
        var kills = 0;
        foreach (var after in KilledAfter)
        {
            var over = false;
            var looks = 0;
            await narbit.UntilAsync(async () =>
                Requests(narbit) - before >= after || (++looks % 8 == 0 && (over = await OverAsync(narbit, run)))
            );
            if (over)
                break;
            await narbit.KillAsync();
            kills++;
            await narbit.BeginAsync();
        }

        var ended = await narbit.EndedAsync(run);
        ended["state"]!.GetValue<string>().ShouldBe("done", ended["message"]?.GetValue<string>());
        kills.ShouldBeGreaterThanOrEqualTo(8);

        var writes = new List<JsonNode>();
        for (var offset = 0; ; offset += 500)
        {
            var rows = (await narbit.GetAsync($"/api/runs/{run}/writes?limit=500&offset={offset}"))["rows"]!.AsArray();
            writes.AddRange(rows.Select(r => r!));
            if (rows.Count < 500)
                break;
        }

        writes.Count.ShouldBeGreaterThan(150);
        foreach (var write in writes.Where(w => w["state"]!.GetValue<string>() != "held"))
        {
            write["state"]!.GetValue<string>().ShouldBe("confirmed", write.ToJsonString());
            var cents = narbit.Sandbox.Shop.Lookup(
                [long.Parse(write["targetKey"]!.GetValue<string>(), System.Globalization.CultureInfo.InvariantCulture)],
                found => found.Single().Variant.PriceCents
            );
            (cents / 100m).ShouldBe(decimal.Parse(write["new"]!.GetValue<string>(), System.Globalization.CultureInfo.InvariantCulture));
        }

        var applied = narbit.Sandbox.Shop.Applied;
        applied.GroupBy(a => a.Key).ShouldAllBe(g => g.Count() == 1);
        applied.GroupBy(a => a.VariantId).ShouldAllBe(g => g.Count() == 1);
        applied.Count.ShouldBe(writes.Count(w => w["state"]!.GetValue<string>() == "confirmed"));
    }

    [Fact]
    public async Task A_timetable_survives_a_kill()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        (
            await narbit.SendAsync(HttpMethod.Put, "/api/lanes/stock-web-shop/timetable", new { everyMinutes = 5, paused = false })
        ).EnsureSuccessStatusCode();
        var due = (await narbit.GetAsync("/api/lanes/stock-web-shop"))["nextDueAt"]!.GetValue<DateTimeOffset>();
        (due.Minute % 5).ShouldBe(0);
        await narbit.KillAsync();
        await narbit.BeginAsync();
        var lane = await narbit.GetAsync("/api/lanes/stock-web-shop");
        lane["everyMinutes"]!.GetValue<int>().ShouldBe(5);
        lane["nextDueAt"]!.GetValue<DateTimeOffset>().ShouldBe(due);
        (await narbit.GetAsync("/api/ribbon"))["coming"]!.AsArray().Count.ShouldBeGreaterThan(0);
    }

    [Fact]
    public async Task A_lane_that_was_due_while_nothing_ran_starts_at_once_and_keeps_its_beat()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        (
            await narbit.SendAsync(HttpMethod.Put, "/api/lanes/stock-web-shop/timetable", new { everyMinutes = 60, paused = false })
        ).EnsureSuccessStatusCode();
        await narbit.KillAsync();
        // An hour passes while the process is down.
        await narbit.DueAsync("stock-web-shop", DateTimeOffset.UtcNow.AddMinutes(-20));
        await narbit.BeginAsync();
        await narbit.UntilAsync(async () =>
            (await narbit.GetAsync("/api/runs"))["rows"]!
                .AsArray()
                .Any(r => r!["trigger"]!.GetValue<string>() == "timetable" && r["state"]!.GetValue<string>() == "done")
        );
        (await narbit.GetAsync("/api/lanes/stock-web-shop"))["nextDueAt"]!
            .GetValue<DateTimeOffset>()
            .ShouldBeGreaterThan(DateTimeOffset.UtcNow);
        narbit.Sandbox.Shop.Applied.Count.ShouldBeGreaterThan(0);

        // Paused, it is not due at all; by hand, it still runs.
        (
            await narbit.SendAsync(HttpMethod.Put, "/api/lanes/stock-web-shop/timetable", new { everyMinutes = 60, paused = true })
        ).EnsureSuccessStatusCode();
        var lane = await narbit.GetAsync("/api/lanes/stock-web-shop");
        (lane["paused"]!.GetValue<bool>(), lane["nextDueAt"] is null).ShouldBe((true, true));
        (await narbit.EndedAsync(await narbit.StartRunAsync("stock-web-shop", preview: false)))["state"]!
            .GetValue<string>()
            .ShouldBe("done");
    }

    private static int Requests(RunningNarbit narbit) => narbit.Sandbox.Dials.Values.Sum(d => d.Requests);

    private static async Task<bool> OverAsync(RunningNarbit narbit, long run)
    {
        try
        {
            return (await narbit.GetAsync($"/api/runs/{run}"))["run"]!["state"]!.GetValue<string>() != "working";
        }
        catch (HttpRequestException)
        {
            return false;
        }
    }
}
