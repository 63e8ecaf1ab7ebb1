using Microsoft.EntityFrameworkCore;

namespace Narbit.Web.Tests;

/// <summary>What is due when lies in the database: neither a kill, nor a time without Narbit, nor a start that fails loses it.</summary>
public sealed class TimetableTests
{
    private const string Lane = "stock-web-shop";

    [Fact]
    public async Task A_timetable_survives_a_kill_a_time_without_Narbit_and_a_start_that_fails()
    {
        await using var narbit = await RunningNarbit.StartAsync(asProcess: true);
        await narbit.AddJobAsync(Lane, everyMinutes: 5);
        var due = await DueAsync(narbit);
        (due.Minute % 5).ShouldBe(0);
        var calendar = await narbit.Http.GetStringAsync("/calendar/jobs.ics");
        calendar.ShouldContain($"SUMMARY:{Lane}");
        calendar.ShouldContain($"DTSTART:{due.UtcDateTime:yyyyMMdd'T'HHmmss'Z'}");
        await narbit.KillAsync();

        // A while passes without Narbit, and then no run can be stored: the turn is tried again, and the next time is known all the same.
        await narbit.UnkeptSinceAsync(Lane, DateTimeOffset.UtcNow.AddMinutes(-20));
        await SqlAsync(narbit, "CREATE TRIGGER NoRun BEFORE INSERT ON Runs BEGIN SELECT RAISE(ABORT, 'no'); END");
        await narbit.BeginAsync();
        await narbit.UntilAsync(async () => await DueAsync(narbit) > DateTimeOffset.UtcNow);
        (await narbit.GetAsync($"/api/lanes/{Lane}"))["job"]!["id"]!.GetValue<string>().ShouldBe(Lane);
        (await narbit.GetAsync("/api/ribbon"))["coming"]!.AsArray().Count.ShouldBeGreaterThan(0);
        (await ByTimetableAsync(narbit)).ShouldBe(0);
        await narbit.KillAsync();

        // The turn is still at work, and goes on as soon as it can; what was due stands for all that was missed.
        await SqlAsync(narbit, "DROP TRIGGER NoRun");
        await narbit.BeginAsync();
        await narbit.UntilAsync(async () => await ByTimetableAsync(narbit) == 1);
        (await DueAsync(narbit)).ShouldBeGreaterThan(DateTimeOffset.UtcNow);
        narbit.Sandbox.Shop.Applied.Count.ShouldBeGreaterThan(0);
        // The next time may have come meanwhile; it is a turn of its own.
        var turns = (await narbit.GetAsync("/api/timetable/turns"))["rows"]!.AsArray().Select(t => t!["times"]!.GetValue<int>()).ToList();
        turns.Where(times => times > 1).ShouldHaveSingleItem().ShouldBeInRange(4, 5);

        // Paused, it is not due at all; by hand, it still runs.
        (await narbit.SendAsync(HttpMethod.Post, $"/api/jobs/{Lane}/act", new { kind = "pause" })).EnsureSuccessStatusCode();
        var lane = await narbit.GetAsync($"/api/lanes/{Lane}");
        (lane["job"]!["paused"]!.GetValue<bool>(), lane["nextDueAt"] is null).ShouldBe((true, true));
        (await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: false)))["state"]!.GetValue<string>().ShouldBe("done");
    }

    private static async Task<DateTimeOffset> DueAsync(RunningNarbit narbit) =>
        (await narbit.GetAsync($"/api/lanes/{Lane}"))["nextDueAt"]!.GetValue<DateTimeOffset>();

    // Runs that the timetable started and that are done.
    private static async Task<int> ByTimetableAsync(RunningNarbit narbit) =>
        (await narbit.GetAsync("/api/runs"))["rows"]!
            .AsArray()
            .Count(r => r!["trigger"]!.GetValue<string>() == "timetable" && r["state"]!.GetValue<string>() == "done");

    private static Task SqlAsync(RunningNarbit narbit, string statement) =>
        narbit.StoredAsync(db => db.Database.ExecuteSqlRawAsync(statement));
}
