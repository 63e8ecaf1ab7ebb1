using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Core.Records;
using Narbit.Core.Timetables;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Jobs;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Tests;

/// <summary>Jobs: their times by a clock that is moved, their lanes in their order, and what a person does with them in hand.</summary>
public sealed class JobTests
{
    private static readonly DateTimeOffset Start = new(2026, 3, 20, 0, 0, 0, TimeSpan.Zero);

    [Fact]
    public async Task Over_months_and_both_changes_of_the_clocks_no_time_is_lost_and_none_is_kept_twice()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        await SwitchOffAsync(bench, Workbench.Prices, Workbench.Stock);
        var clock = new FakeTimeProvider(Start);
        using var jobs = Jobs.Of(bench, clock);
        var timetable = new Timetable { Zone = "Europe/Dublin", At = ["01:30", "14:00"] };
        await AddAsync(jobs, "twice", timetable, Workbench.Prices);
        await AddAsync(jobs, "steps", Every("America/New_York", 12 * 60), Workbench.Stock);
        var until = new DateTimeOffset(2026, 11, 10, 0, 0, 0, TimeSpan.Zero);
        var random = new Random(7);
        while (clock.GetUtcNow() < until)
        {
            // It looks every few hours, at times after a start anew, or after the clock was set back.
            clock.SetUtcNow(clock.GetUtcNow().AddMinutes(random.Next(60, 500)));
            await jobs.Clock.BeatAsync(default);
            if (random.Next(10) == 0)
                clock.AdjustTime(clock.GetUtcNow().AddMinutes(-random.Next(1, 90)));
        }

        await using var db = bench.Database.CreateDbContext();
        var turns = await db.Turns.ToListAsync();
        foreach (var (id, expected) in new[] { ("twice", timetable), ("steps", Every("America/New_York", 12 * 60)) })
        {
            var own = turns.Where(t => t.JobId == id).OrderBy(t => t.DueAt).ToList();
            own.ShouldAllBe(t => t.State == TurnState.Done && t.Fate == DueFate.Run);
            own.Sum(t => t.Times).ShouldBe(expected.Times().Value.After(Start).TakeWhile(t => t <= clock.GetUtcNow()).Count());
            own.Select(t => t.DueAt).ShouldBeUnique();
        }
    }

    [Fact]
    public async Task Orders_go_before_stock_and_stock_goes_to_all_stores_at_once()
    {
        await using var bench = await Workbench.OpenAsync(items: 40, orders: 0);
        await bench.AddStoreAsync("clay-lane");
        using var jobs = Jobs.Of(bench);
        await jobs.Desk.SaveAsync(null, Of("all", null, Workbench.Prices, Workbench.Stock, "stock-clay-lane"), default);
        await jobs.Desk.DoAsync("all", new JobAct(JobActKind.RunNow), "Tester", default);
        await jobs.Clock.BeatAsync(default);
        // What goes to another system does not wait; what goes to the same one does.
        (await StepsAsync(bench)).ShouldBe("prices-web-shop Working, stock-web-shop Waiting, stock-clay-lane Working");
        await jobs.EndedAsync(bench);
        (await StepsAsync(bench)).ShouldBe("prices-web-shop Done, stock-web-shop Done, stock-clay-lane Done");
        await using var db = bench.Database.CreateDbContext();
        (await db.Turns.SingleAsync()).ShouldSatisfyAllConditions(
            t => t.State.ShouldBe(TurnState.Done),
            t => t.Trigger.ShouldBe(RunTrigger.Person)
        );
        // What the runs took is known for the next time.
        var effect = (await jobs.Desk.LookAsync("all", Of("all", Every("UTC", 5), Workbench.Stock), default)).Value;
        effect
            .Requests.Select(r => (r.SystemId, r.PerHour > 0, r.LimitPerHour > 0))
            .ShouldBe([("back-office", true, true), ("web-shop", true, true)]);
    }

    [Theory]
    [InlineData(WhenFailed.GoOn, "prices-web-shop Failed, stock-web-shop Done", TurnState.Failed)]
    [InlineData(WhenFailed.Stop, "prices-web-shop Failed, stock-web-shop LeftOut", TurnState.Failed)]
    [InlineData(WhenFailed.Again, "prices-web-shop Done, stock-web-shop Done", TurnState.Done)]
    public async Task A_lane_that_fails_is_passed_over_stops_the_turn_or_is_tried_again(WhenFailed habit, string expect, TurnState state)
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        using var jobs = Jobs.Of(bench, clock);
        await CloseAsync(bench, close: true);
        var document = Of("both", null, Workbench.Prices, Workbench.Stock) with { WhenFailed = habit, AgainAfterMinutes = 10 };
        await jobs.Desk.SaveAsync(null, document, default);
        await jobs.Desk.DoAsync("both", new JobAct(JobActKind.RunNow), "Tester", default);
        await jobs.EndedAsync(bench);
        await CloseAsync(bench, close: false);
        await jobs.EndedAsync(bench);
        if (habit == WhenFailed.Again)
            (await StepsAsync(bench)).ShouldBe("prices-web-shop Waiting, stock-web-shop Waiting");
        clock.Advance(TimeSpan.FromMinutes(11));
        await jobs.EndedAsync(bench);
        (await StepsAsync(bench)).ShouldBe(expect);
        await using var db = bench.Database.CreateDbContext();
        (await db.Turns.SingleAsync()).State.ShouldBe(state);
    }

    [Fact]
    public async Task A_turn_goes_on_after_a_kill_between_a_run_and_its_note()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        using var jobs = Jobs.Of(bench);
        await AddAsync(jobs, "one", null, Workbench.Stock);
        await jobs.Desk.DoAsync("one", new JobAct(JobActKind.RunNow), "Tester", default);
        long turn;
        await using (var db = bench.Database.CreateDbContext())
            turn = (await db.Turns.SingleAsync()).Id;
        // Its run was begun, and nobody lived to note so.
        var run = await bench.Runs.StartAsync(
            new Runs.RunRequest(Workbench.Stock, false, RunTrigger.Person, "Tester") { TurnId = turn },
            default
        );
        await bench.Engine.WhenIdleAsync();
        await jobs.EndedAsync(bench);
        await using var after = bench.Database.CreateDbContext();
        (await after.TurnSteps.SingleAsync()).RunId.ShouldBe(run.Value);
        (await after.Runs.CountAsync(r => r.TurnId == turn)).ShouldBe(1);
    }

    [Fact]
    public async Task Only_a_part_is_written_where_the_job_says_so()
    {
        await using var bench = await Workbench.OpenAsync(items: 40, orders: 0);
        await bench.SetRuleAsync(Workbench.Prices, new Lanes.Prices.PriceDocument(Workbench.Markup));
        using var jobs = Jobs.Of(bench);
        var document = Of("part", null, Workbench.Prices);
        await jobs.Desk.SaveAsync(null, document with { Lanes = [new LaneInJob(Workbench.Prices, ["nothingOfIt"])] }, default);
        await jobs.Desk.DoAsync("part", new JobAct(JobActKind.RunNow), "Tester", default);
        await jobs.EndedAsync(bench);
        await using var db = bench.Database.CreateDbContext();
        var run = await db.Runs.SingleAsync(r => r.TurnId != null);
        (run.State, await db.Writes.CountAsync(w => w.RunId == run.Id)).ShouldBe((RunState.Done, 0));
        run.Paired.ShouldBeGreaterThan(10);
    }

    [Fact]
    public async Task What_is_done_in_hand_says_what_follows_first()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        await SwitchOffAsync(bench, Workbench.Stock);
        var clock = new FakeTimeProvider(Start);
        using var jobs = Jobs.Of(bench, clock);
        await AddAsync(jobs, "hourly", Every("Europe/Dublin", 60), Workbench.Stock);

        async Task<JobEffect> LookAsync(JobAct act) => (await jobs.Desk.LookAsync("hourly", act, default)).Value;
        var skipped = await LookAsync(new JobAct(JobActKind.Skip, Count: 2));
        skipped.Words.ShouldBe("The next 2 runs are left out, from Fri 2026-03-20 01:00 to Fri 2026-03-20 02:00.");
        skipped.Next[0].ShouldBe(Start.AddHours(3));
        // To look at it changes nothing.
        (await LookAsync(new JobAct(JobActKind.GoOn)))
            .Next[0]
            .ShouldBe(Start.AddHours(1));
        await jobs.Desk.DoAsync("hourly", new JobAct(JobActKind.Skip, Count: 2), "Tester", default);
        // Other times leave out what was to be left out.
        var half = Of("hourly", Every("Europe/Dublin", 30), Workbench.Stock);
        (await jobs.Desk.LookAsync("hourly", half, default)).Value.Next[0].ShouldBe(Start.AddMinutes(90));
        var paused = await LookAsync(new JobAct(JobActKind.Pause, Until: Start.AddHours(10)));
        paused.Words.ShouldStartWith("It is paused until Fri 2026-03-20 10:00.");
        paused.Next[0].ShouldBe(Start.AddHours(12));
        (await LookAsync(new JobAct(JobActKind.Pause))).Next.ShouldBeEmpty();
        (await LookAsync(new JobAct(JobActKind.SwitchOff))).Next.ShouldBeEmpty();
        (await jobs.Desk.LookAsync("hourly", new JobAct(JobActKind.Pause, Until: Start.AddHours(-1)), default)).Fault!.Code.ShouldBe(
            "job.pause"
        );
        (await jobs.Desk.LookAsync("hourly", new JobAct(JobActKind.Skip, Count: -1), default)).Fault!.Code.ShouldBe("job.skip");
        (await jobs.Desk.LookAsync("none", new JobAct(JobActKind.Skip), default)).Fault!.Code.ShouldBe("job.unknown");

        clock.Advance(TimeSpan.FromHours(1));
        await jobs.EndedAsync(bench);
        clock.Advance(TimeSpan.FromHours(1));
        await jobs.EndedAsync(bench);
        clock.Advance(TimeSpan.FromHours(1));
        await jobs.EndedAsync(bench);
        await using var db = bench.Database.CreateDbContext();
        (await db.Turns.OrderBy(t => t.Id).Select(t => new { t.Fate, t.Times }).ToListAsync())
            .Select(t => (t.Fate, t.Times))
            .ShouldBe([(DueFate.Skipped, 2), (DueFate.Run, 1)]);

        // A day off is left out without a word to anybody.
        (await jobs.Desk.SetDaysOffAsync([new DayOff { Date = "2026-03-21", Name = "Fair" }], default)).ShouldBeNull();
        var next = (await LookAsync(new JobAct(JobActKind.Skip, Count: 20))).Next[0];
        next.ShouldBe(Start.AddDays(2));
        (await jobs.Desk.SetDaysOffAsync([new DayOff { Date = "21.3." }], default))!.Code.ShouldBe("timetable.invalid");

        // Removed, its lane is free; brought back, it has it again.
        (await jobs.Desk.RemoveAsync("hourly", default)).ShouldBeNull();
        (await jobs.Desk.SaveAsync(null, Of("other", null, Workbench.Stock), default)).Value.ShouldBe("other");
        (await jobs.Desk.BringBackAsync("hourly", default))!.Code.ShouldBe("job.laneElsewhere");
        (await jobs.Desk.RemoveAsync("other", default)).ShouldBeNull();
        (await jobs.Desk.BringBackAsync("hourly", default)).ShouldBeNull();
    }

    [Fact]
    public async Task What_cannot_be_a_job_is_said()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        using var jobs = Jobs.Of(bench);
        async Task<string?> CodeAsync(JobDocument document) => (await jobs.Desk.SaveAsync(null, document, default)).Fault?.Code;
        (await CodeAsync(Of("first", null, Workbench.Stock))).ShouldBeNull();
        (await CodeAsync(Of("second", null, Workbench.Stock))).ShouldBe("job.laneElsewhere");
        (await CodeAsync(Of("second", null))).ShouldBe("job.invalid");
        (await CodeAsync(Of(" ", null, Workbench.Prices))).ShouldBe("job.invalid");
        (await CodeAsync(Of("second", null, Workbench.Prices, Workbench.Prices))).ShouldBe("job.invalid");
        (await CodeAsync(Of("second", null, "nowhere"))).ShouldBe("job.invalid");
        (await CodeAsync(Of("second", Every("Moon/Crater", 5), Workbench.Prices))).ShouldBe("timetable.invalid");
        (await CodeAsync(Of("second", Every("UTC", 1441), Workbench.Prices))).ShouldBe("timetable.invalid");
        // The same name gets another short name.
        (await jobs.Desk.SaveAsync(null, Of("First", null, Workbench.Prices), default)).Value.ShouldBe("first-2");
    }

    [Fact]
    public async Task A_lane_that_is_removed_while_due_keeps_nobody_waiting()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        using var jobs = Jobs.Of(bench);
        await AddAsync(jobs, "both", null, Workbench.Prices, Workbench.Stock);
        await jobs.Desk.DoAsync("both", new JobAct(JobActKind.RunNow), "Tester", default);
        await using (var db = bench.Database.CreateDbContext())
            await db
                .Lanes.Where(l => l.Id == Workbench.Prices)
                .ExecuteUpdateAsync(s => s.SetProperty(l => l.RemovedAt, DateTimeOffset.UtcNow));
        await jobs.EndedAsync(bench);
        (await StepsAsync(bench)).ShouldBe("prices-web-shop LeftOut, stock-web-shop Done");
    }

    [Fact]
    public async Task Five_hundred_jobs_are_kept_in_one_beat()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        var clock = new FakeTimeProvider(Start);
        using var jobs = Jobs.Of(bench, clock);
        await using (var db = bench.Database.CreateDbContext())
        {
            foreach (var i in Enumerable.Range(0, 500))
            {
                db.Lanes.Add(
                    new Lane
                    {
                        Id = $"lane-{i}",
                        Kind = "stock",
                        SourceId = "back-office",
                        TargetId = "web-shop",
                        Off = true,
                    }
                );
                var job = new Job
                {
                    Id = $"job-{i}",
                    Name = $"Job {i}",
                    Lanes = [new JobLane { LaneId = $"lane-{i}" }],
                };
                job.Timetable = JobJson.Write(Every("Europe/Dublin", 5));
                JobTimes.Begin(job, [], Start);
                db.Jobs.Add(job);
            }

            await db.SaveChangesAsync();
        }

        clock.Advance(TimeSpan.FromMinutes(5));
        var next = await jobs.Clock.BeatAsync(default);
        next.ShouldBe(Start.AddMinutes(10));
        await using var after = bench.Database.CreateDbContext();
        (await after.Turns.CountAsync(t => t.State == TurnState.Done)).ShouldBe(500);
    }

    [Fact]
    public async Task Intervals_from_before_become_jobs_at_the_same_times_or_say_that_they_cannot()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        await using (var db = bench.Database.CreateDbContext())
        {
            await db.Lanes.Where(l => l.Id == Workbench.Stock).ExecuteUpdateAsync(s => s.SetProperty(l => l.EveryMinutes, 15));
            await db.Lanes.Where(l => l.Id == Workbench.Prices).ExecuteUpdateAsync(s => s.SetProperty(l => l.EveryMinutes, 7));
        }

        await IntervalMove.MoveAsync(bench.Database, Start, default);
        await IntervalMove.MoveAsync(bench.Database, Start, default);
        await using var after = bench.Database.CreateDbContext();
        var jobs = await after.Jobs.Include(j => j.Lanes).OrderBy(j => j.Id).ToListAsync();
        jobs.Select(j => (j.Id, j.Notice?.Code)).ShouldBe([(Workbench.Prices, "job.timesMoved"), (Workbench.Stock, null)]);
        jobs[1].NextDueAt.ShouldBe(new Interval(TimeSpan.FromMinutes(15)).Next(Start));
        (await after.Lanes.AllAsync(l => l.EveryMinutes == null)).ShouldBeTrue();
    }

    [Fact]
    public async Task A_job_is_copied_for_another_store_with_that_stores_lanes()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        await bench.AddStoreAsync("clay-lane");
        using var jobs = Jobs.Of(bench);
        await AddAsync(jobs, "shop", Every("UTC", 5), Workbench.Prices, Workbench.Stock);
        var copied = await jobs.Copying.CopyAsync("shop", "Market", "web-shop", "clay-lane", "Tester", default);
        await using var db = bench.Database.CreateDbContext();
        var copy = await db.Jobs.Include(j => j.Lanes).SingleAsync(j => j.Id == copied.Value);
        (copy.Off, string.Join(' ', copy.Lanes.OrderBy(l => l.Place).Select(l => l.LaneId))).ShouldBe(
            (true, "prices-clay-lane stock-clay-lane")
        );
        (await jobs.Copying.CopyAsync("shop", "Again", "web-shop", "clay-lane", "Tester", default)).Fault!.Code.ShouldBe(
            "job.laneElsewhere"
        );
        (await jobs.Copying.CopyAsync("shop", "Again", "clay-lane", "web-shop", "Tester", default)).Fault!.Code.ShouldBe("job.copy");
    }

    [Fact]
    public async Task News_begin_small_turns_and_what_comes_meanwhile_is_gathered()
    {
        await using var bench = await Workbench.OpenAsync(items: 12, orders: 0);
        using var jobs = Jobs.Of(bench);
        await jobs.Desk.SaveAsync(null, Of("at once", null, Workbench.Stock) with { AtOnce = true }, default);
        Task<IReadOnlyList<string>> TellAsync(RecordKind kind, params string[] keys) =>
            jobs.Signals.TellAsync(new RecordsTouched("back-office", kind, keys), "Test", default);
        (await TellAsync(RecordKind.Order, "1")).ShouldBeEmpty();
        foreach (var key in Enumerable.Range(0, 500))
            (await TellAsync(RecordKind.Item, $"{10000 + key}")).ShouldBe(["at-once"]);
        await using var db = bench.Database.CreateDbContext();
        var turns = await db.Turns.OrderBy(t => t.Id).ToListAsync();
        turns.Select(t => (t.State, TurnScope.Read(t.Scope!).Count)).ShouldBe([(TurnState.Working, 1), (TurnState.Waiting, 499)]);
        // More than a small turn can hold is about everything.
        await TellAsync(RecordKind.Item, [.. Enumerable.Range(0, TurnScope.Most).Select(i => $"x{i}")]);
        await using var after = bench.Database.CreateDbContext();
        (await after.Turns.OrderBy(t => t.Id).LastAsync()).Scope.ShouldBeNull();
    }

    private static Timetable Every(string zone, int minutes) =>
        new()
        {
            Zone = zone,
            Every = new TimetableSteps { Minutes = minutes },
        };

    private static JobDocument Of(string name, Timetable? timetable, params string[] lanes) =>
        new()
        {
            Name = name,
            Timetable = timetable,
            Lanes = [.. lanes.Select(l => new LaneInJob(l))],
        };

    private static async Task AddAsync(Jobs jobs, string name, Timetable? timetable, params string[] lanes) =>
        (await jobs.Desk.SaveAsync(null, Of(name, timetable, lanes), default)).Fault.ShouldBeNull();

    private static async Task SwitchOffAsync(Workbench bench, params string[] lanes)
    {
        await using var db = bench.Database.CreateDbContext();
        await db.Lanes.Where(l => lanes.Contains(l.Id)).ExecuteUpdateAsync(s => s.SetProperty(l => l.Off, true));
    }

    private static async Task CloseAsync(Workbench bench, bool close)
    {
        await using var db = bench.Database.CreateDbContext();
        DateTimeOffset? at = close ? DateTimeOffset.UtcNow : null;
        await db.Lanes.Where(l => l.Id == Workbench.Prices).ExecuteUpdateAsync(s => s.SetProperty(l => l.ClosedAt, at));
    }

    private static async Task<string> StepsAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        var steps = await db.TurnSteps.OrderBy(s => s.Place).ToListAsync();
        return string.Join(", ", steps.Select(s => $"{s.LaneId} {s.State}"));
    }
}
