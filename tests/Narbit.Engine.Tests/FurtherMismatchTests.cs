using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Core.Timetables;
using Narbit.Data.Jobs;
using Narbit.Data.Mirror;
using Narbit.Data.Mismatches;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine.Mismatches;
using Narbit.Engine.Mismatches.Orders;
using Narbit.Engine.Mismatches.WaysOut;

namespace Narbit.Engine.Tests;

/// <summary>What jobs, posted orders and both sides' changes bring to the desk.</summary>
public sealed class FurtherMismatchTests
{
    [Fact]
    public async Task A_job_that_cannot_do_what_it_is_to_do_says_so_by_cause()
    {
        await using var bench = await Workbench.OpenAsync();
        await using var db = bench.Database.CreateDbContext();
        var job = new Job
        {
            Id = "nightly",
            Name = "Nightly",
            Timetable = """{"zone":"Nowhere/Atall","at":["06:30"]}""",
            Lanes = [new JobLane { LaneId = Workbench.Prices }],
        };
        db.Jobs.Add(job);
        db.Turns.Add(
            new JobTurn
            {
                JobId = job.Id,
                DueAt = DateTimeOffset.UtcNow.AddHours(-2),
                DueUntil = DateTimeOffset.UtcNow.AddHours(-1),
                Times = 3,
                StartedBy = "Timetable",
                Fate = DueFate.Missed,
                State = TurnState.NotRun,
                Steps =
                [
                    new TurnStep
                    {
                        LaneId = Workbench.Prices,
                        State = TurnStepState.LeftOut,
                        Why = new KeptReason { Code = "lane.off", Words = "The lane is off." },
                    },
                ],
            }
        );
        await db.SaveChangesAsync();
        var look = (await new JobMismatches().LookAsync(db, job.Id, default))!;
        look.Found.Select(f => f.Cause).ShouldBe(["job.untold", "job.missed", "job.leftOut"]);
        look.Found[1].Words.ShouldBe("Nightly missed 3 times");
        look.Found[2]
            .ShouldSatisfyAllConditions(
                f => f.LaneId.ShouldBe(Workbench.Prices),
                f => f.Subject.ShouldBe("lane.off"),
                f => f.Words.ShouldBe("The lane is off.")
            );
        foreach (var found in look.Found)
            MismatchCauses.Of(found.Cause).Harm.ShouldBe(Harm.Stopped);

        job.Off = true;
        await db.SaveChangesAsync();
        (await new JobMismatches().LookAsync(db, job.Id, default))!.Found.ShouldBeEmpty("a job that is off misses nothing");
        (await new JobMismatches().LookAsync(db, "no such job", default)).ShouldBeNull();
    }

    [Fact]
    public async Task An_order_that_the_store_was_never_told_of_and_one_that_was_not_credited_stand_still()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        await using var db = bench.Database.CreateDbContext();
        var source = new OrderMismatches(TimeProvider.System);
        (await source.OriginsAsync(db, default)).ShouldContain(lane);
        (await source.LookAsync(db, lane, default))!.Found.ShouldNotContain(f => f.Cause == "order.unacknowledged");

        // Two days ago the hub took it, and the store still does not know.
        var taken = await db.OrderStandings.FirstAsync(o => o.LaneId == lane && o.Stage == OrderStage.Acknowledged);
        taken.Stage = OrderStage.Taken;
        var counterpart = await db.Counterparts.FirstAsync(c => c.Kind == RecordKind.Order && c.SourceKey == taken.SourceKey);
        counterpart.At = DateTimeOffset.UtcNow.AddDays(-2);
        // And of another something was given back that nobody credited.
        var refunded = await db.OrderStandings.FirstAsync(o => o.LaneId == lane && o.Stage == OrderStage.Acknowledged);
        (refunded.Refunded, refunded.ComputedAt) = (12.5m, DateTimeOffset.UtcNow.AddDays(-2));
        await db.Counterparts.Where(c => c.Kind == RecordKind.CreditNote).ExecuteDeleteAsync();
        await db.SaveChangesAsync();
        var found = (await source.LookAsync(db, lane, default))!.Found;
        found.Single(f => f.Cause == "order.unacknowledged").Key.ShouldBe(taken.SourceKey);
        found.Single(f => f.Cause == "order.uncredited" && f.Key == refunded.SourceKey).Worth.ShouldBe(12.5m);
    }

    [Theory]
    [InlineData(10, 20, "theirs")]
    [InlineData(20, 10, "ours")]
    [InlineData(20, null, "ours")]
    [InlineData(null, null, null)]
    [InlineData(10, 10, null)]
    public async Task Where_both_sides_changed_the_newer_one_is_suggested(int? here, int? there, string? act)
    {
        await using var bench = await Workbench.OpenAsync();
        await using var db = bench.Database.CreateDbContext();
        var noon = new DateTimeOffset(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);
        foreach (var (system, minute) in new[] { ("back-office", here), ("web-shop", there) })
            if (minute is { } after)
                db.ValueChanges.Add(
                    new ValueChange
                    {
                        SystemId = system,
                        Kind = RecordKind.Item,
                        Key = system,
                        Field = "title",
                        At = noon.AddMinutes(after),
                    }
                );
        await db.SaveChangesAsync();
        var mismatch = new Mismatch
        {
            Id = 1,
            Cause = "held.changedOnBoth",
            SystemId = "back-office",
            Key = "back-office",
            OtherSystemId = "web-shop",
            OtherKey = "web-shop",
            Kind = RecordKind.Item,
            Origin = "lane:items",
            RunId = 1,
            Words = "changed on both sides",
        };
        var way = new TakeNewer(bench.Database, bench.Runs);
        way.Knows(mismatch.Cause).ShouldBeTrue();
        (await way.SuggestAsync(db, [mismatch], default)).SingleOrDefault()?.Suggestion.Act.ShouldBe(act);
        (await way.SuggestAsync(db, [mismatch], default)).Count.ShouldBe(act is null ? 0 : 1);
    }
}
