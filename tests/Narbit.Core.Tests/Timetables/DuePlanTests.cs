using CsCheck;
using Narbit.Core.Timetables;

namespace Narbit.Core.Tests.Timetables;

/// <summary>What becomes of the times of a job, whoever looks when.</summary>
public sealed class DuePlanTests
{
    private static readonly DateTimeOffset Start = new(2026, 3, 27, 0, 0, 0, TimeSpan.Zero);

    private static readonly DueHabits Usual = new(WhenAtWork.Wait, WhenMissed.Once);

    private static readonly TimetableTimes Hourly = new Timetable
    {
        Zone = "Europe/Dublin",
        Every = new TimetableSteps { Minutes = 60 },
    }
        .Times()
        .Value;

    [Fact]
    public void Each_time_comes_to_one_thing_once_however_often_it_is_looked_and_wherever_the_clock_is_set() =>
        Gen.Select(Gen.Int[-90, 600].Array[5, 60], Gen.Bool, Gen.Bool)
            .Sample(
                (steps, waits, once) =>
                {
                    var habits = new DueHabits(waits ? WhenAtWork.Wait : WhenAtWork.Skip, once ? WhenMissed.Once : WhenMissed.None);
                    var standing = new DueStanding(Start);
                    var (now, latest) = (Start, Start);
                    var seen = new List<DueTimes>();
                    foreach (var minutes in steps)
                    {
                        now = now.AddMinutes(minutes);
                        latest = now > latest ? now : latest;
                        var settled = DuePlan.Settle(Hourly, standing, habits, JobWork.Idle, now);
                        seen.AddRange(settled.Times);
                        standing = settled.Standing;
                    }

                    seen.Zip(seen.Skip(1)).Where(p => p.First.Last >= p.Second.First).ShouldBeEmpty();
                    seen.Sum(t => t.Count).ShouldBe(Hourly.After(Start).TakeWhile(t => t <= latest).Count());
                }
            );

    [Theory]
    [InlineData(0, WhenMissed.Once, "3 shared, 1 run")]
    [InlineData(0, WhenMissed.None, "3 missed, 1 run")]
    [InlineData(20, WhenMissed.Once, "3 shared, 1 run")]
    [InlineData(20, WhenMissed.None, "4 missed")]
    public void What_passed_without_anybody_is_made_up_for_once_or_not_at_all(int minutesLate, WhenMissed missed, string expect)
    {
        var now = Start.AddHours(4).AddMinutes(minutesLate);
        Told(DuePlan.Settle(Hourly, new DueStanding(Start), new DueHabits(WhenAtWork.Wait, missed), JobWork.Idle, now)).ShouldBe(expect);
    }

    [Theory]
    [InlineData(JobWork.AtWork, WhenAtWork.Wait, "1 run")]
    [InlineData(JobWork.AtWork, WhenAtWork.Skip, "1 atWork")]
    [InlineData(JobWork.Waits, WhenAtWork.Wait, "1 shared")]
    [InlineData(JobWork.Waits, WhenAtWork.Skip, "1 atWork")]
    public void A_turn_at_work_is_waited_for_or_the_time_is_passed_over(JobWork work, WhenAtWork habit, string expect)
    {
        var settled = DuePlan.Settle(Hourly, new DueStanding(Start), new DueHabits(habit, WhenMissed.Once), work, Start.AddHours(1));
        Told(settled).ShouldBe(expect);
    }

    [Fact]
    public void What_is_said_to_come_is_what_comes() =>
        Gen.Select(Gen.Int[0, 4], Gen.Int[0, 600], Gen.Int[0, 600])
            .Sample(
                (skip, pause, offset) =>
                {
                    var now = Start.AddMinutes(offset);
                    var standing = new DueStanding(now, skip, pause == 0 ? null : now.AddMinutes(pause));
                    var said = DuePlan.Coming(Hourly, standing, now).First();
                    DateTimeOffset? ran = null;
                    for (var at = now; ran is null; at = at.AddMinutes(1))
                    {
                        var settled = DuePlan.Settle(Hourly, standing, Usual, JobWork.Idle, at);
                        standing = settled.Standing;
                        ran = settled.Times.Where(t => t.Fate == DueFate.Run).Select(t => (DateTimeOffset?)t.Last).FirstOrDefault();
                    }

                    ran.ShouldBe(said);
                }
            );

    [Fact]
    public void A_pause_uses_up_no_time_that_is_left_out()
    {
        var standing = new DueStanding(Start, SkipNext: 2, PausedUntil: Start.AddHours(3));
        DuePlan.Coming(Hourly, standing, Start).First().ShouldBe(Start.AddHours(5));
        var settled = DuePlan.Settle(Hourly, standing, Usual, JobWork.Idle, Start.AddHours(5));
        Told(settled).ShouldBe("2 paused, 2 skipped, 1 run");
        settled.Standing.ShouldBe(new DueStanding(Start.AddHours(5)));
        DuePlan.Coming(Hourly, standing with { PausedUntil = DateTimeOffset.MaxValue }, Start).ShouldBeEmpty();
    }

    [Fact]
    public void A_clock_that_was_far_ahead_starts_the_plan_anew()
    {
        var ahead = new DueStanding(Start.AddDays(400));
        DuePlan.Coming(Hourly, ahead, Start).First().ShouldBe(Start.AddHours(1));
        var settled = DuePlan.Settle(Hourly, ahead, Usual, JobWork.Idle, Start);
        (settled.Times.Count, settled.Standing.SettledUntil).ShouldBe((0, Start));
        // Set back by less, it comes to that time again by itself, and nothing runs twice.
        var little = new DueStanding(Start.AddHours(2));
        var again = DuePlan.Settle(Hourly, little, Usual, JobWork.Idle, Start.AddHours(1));
        (again.Times.Count, again.Standing).ShouldBe((0, little));
        DuePlan.Coming(Hourly, little, Start.AddHours(1)).First().ShouldBe(Start.AddHours(3));
    }

    [Fact]
    public void Lanes_wait_for_those_that_write_what_they_touch()
    {
        TurnLane[] lanes =
        [
            new("orders", "market", "hub", WritesSource: true),
            new("stock-shop", "hub", "shop", WritesSource: false),
            new("stock-portal", "hub", "portal", WritesSource: false),
            new("prices-shop", "hub", "shop", WritesSource: false),
        ];
        string[] Before(int place) => [.. TurnOrder.Before(lanes, place).Select(l => l.Id)];
        Before(0).ShouldBeEmpty();
        Before(1).ShouldBe(["orders"]);
        Before(2).ShouldBe(["orders"]);
        Before(3).ShouldBe(["orders", "stock-shop"]);
    }

    private static string Told(SettledTimes settled) =>
        string.Join(", ", settled.Times.Select(t => $"{t.Count} {char.ToLowerInvariant(t.Fate.ToString()[0])}{t.Fate.ToString()[1..]}"));
}
