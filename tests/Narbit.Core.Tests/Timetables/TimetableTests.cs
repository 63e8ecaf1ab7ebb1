using CsCheck;
using Narbit.Core.Timetables;

namespace Narbit.Core.Tests.Timetables;

/// <summary>What holds of every timetable, and what is said of those that are none.</summary>
public sealed class TimetableTests
{
    private static readonly string[] Zones =
    [
        "Europe/Dublin",
        "America/New_York",
        "Australia/Lord_Howe",
        "America/Santiago",
        "Asia/Kathmandu",
        "Africa/Cairo",
        "UTC",
    ];

    private static readonly Gen<string> Clock = Gen.Select(Gen.Int[0, 23], Gen.Int[0, 59], (h, m) => $"{h:00}:{m:00}");

    private static readonly Gen<Timetable> Any = Gen.Select(
        Gen.Int[0, Zones.Length - 1].Select(i => Zones[i]),
        Clock.Array[1, 4],
        Gen.Int[20, 1440],
        Gen.Select(Clock, Clock),
        Gen.Int[0, 2],
        Gen.Int[0, 6].Select(i => (Weekday)i).Array[0, 5],
        (zone, at, minutes, window, sort, days) =>
            new Timetable
            {
                Zone = zone,
                At = sort == 0 ? at : null,
                Every = sort switch
                {
                    0 => null,
                    1 => new TimetableSteps { Minutes = minutes },
                    _ => new TimetableSteps
                    {
                        Minutes = minutes,
                        From = window.Item1,
                        To = window.Item2,
                    },
                },
                Days = days.Length == 0 ? null : days,
            }
    );

    private static readonly Gen<DateTimeOffset> Instant = Gen.Int[0, 2 * 365 * 24 * 60]
        .Select(m => new DateTimeOffset(2025, 11, 29, 0, 0, 0, TimeSpan.Zero).AddMinutes(m));

    [Fact]
    public void Times_follow_one_another_and_going_on_from_one_gives_the_rest() =>
        Gen.Select(Any, Instant)
            .Sample(
                (timetable, after) =>
                {
                    var times = timetable.Times().Value.After(after).Take(60).ToList();
                    times.ShouldAllBe(t => t > after);
                    times.Zip(times.Skip(1)).ShouldAllBe(p => p.First < p.Second);
                    if (times.Count > 20)
                        timetable.Times().Value.After(times[9]).Take(10).ShouldBe(times.Skip(10).Take(10));
                },
                iter: 300
            );

    [Fact]
    public void A_clock_time_comes_once_each_day_whatever_the_clocks_do() =>
        Gen.Select(Gen.Int[0, Zones.Length - 1].Select(i => Zones[i]), Clock)
            .Sample(
                (zone, clock) =>
                {
                    var times = new Timetable { Zone = zone, At = [clock] }
                        .Times()
                        .Value;
                    var from = new DateTimeOffset(2026, 1, 1, 0, 0, 0, TimeSpan.Zero);
                    var year = times.After(from).TakeWhile(t => t < from.AddDays(365)).ToList();
                    year.Count.ShouldBeInRange(364, 366);
                    // No day is left out, none has it twice: what moves is at most the change of the clocks.
                    year.Zip(year.Skip(1)).ShouldAllBe(p => Math.Abs((p.Second - p.First).TotalHours - 24) <= 1.01);
                },
                iter: 60
            );

    [Fact]
    public void Nothing_is_sought_further_than_400_days_ahead()
    {
        var past = new Timetable
        {
            Zone = "UTC",
            At = ["06:30"],
            Ends = "2026-01-01",
        };
        past.Times().Value.After(new DateTimeOffset(2026, 6, 1, 0, 0, 0, TimeSpan.Zero)).ShouldBeEmpty();
        var far = past with { Ends = null, Starts = "2027-07-01" };
        far.Times().Value.After(new DateTimeOffset(2026, 6, 1, 0, 0, 0, TimeSpan.Zero)).Count().ShouldBe(5);
    }

    [Theory]
    [InlineData("Moor/Lantern", "06:30", null, null, "zone: “Moor/Lantern” is no time zone")]
    [InlineData("UTC", null, null, null, "give either clock times (at) or equal steps (every).")]
    [InlineData("UTC", "06:30", 5, null, "give either clock times (at) or equal steps (every).")]
    [InlineData("UTC", "24:30", null, null, "at: “24:30” is no clock time")]
    [InlineData("UTC", "6:30", null, null, "at: “6:30” is no clock time")]
    [InlineData("UTC", null, 0, null, "every.minutes: must be from 1 to 1440.")]
    [InlineData("UTC", null, 1441, null, "every.minutes: must be from 1 to 1440.")]
    [InlineData("UTC", null, 5, "08:00", "every: give from and to, or neither.")]
    public void What_is_wrong_is_said_by_its_part(string zone, string? at, int? minutes, string? from, string said)
    {
        var timetable = new Timetable
        {
            Zone = zone,
            At = at is null ? null : [at],
            Every = minutes is { } every ? new TimetableSteps { Minutes = every, From = from } : null,
        };
        timetable.Times().Fault!.Words.ShouldStartWith(said);
    }

    [Fact]
    public void Dates_and_days_are_checked()
    {
        var daily = new Timetable { Zone = "UTC", At = ["06:30"] };
        (daily with { Days = [] }).Times().Fault!.Words.ShouldStartWith("days: none is left");
        (daily with { Except = ["24.12.2026"] }).Times().Fault!.Words.ShouldStartWith("except: “24.12.2026” is no date");
        (daily with { Starts = "2026-02-30" }).Times().Fault!.Words.ShouldStartWith("starts: ");
        (daily with { Ends = "never" }).Times().Fault!.Words.ShouldStartWith("ends: ");
        var window = new TimetableSteps
        {
            Minutes = 5,
            From = "8",
            To = "18:00",
        };
        (daily with { At = null, Every = window }).Times().Fault!.Words.ShouldStartWith("every.from: ");
        (daily with { At = null, Every = window with { From = "08:00", To = "noon" } }).Times().Fault!.Words.ShouldStartWith("every.to: ");
    }
}
