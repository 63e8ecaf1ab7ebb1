using Narbit.Core.Timetables;

namespace Narbit.Core.Tests.Timetables;

/// <summary>Timetables in words, and what of them a person might not expect.</summary>
public sealed class TimetableWordsTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 29, 12, 0, 0, TimeSpan.Zero);

    private static readonly Timetable Dublin = new() { Zone = "Europe/Dublin" };

    [Fact]
    public void A_timetable_is_said_in_words()
    {
        TimetableWords.Of(Dublin with { Every = new TimetableSteps { Minutes = 1 } }).ShouldBe("every minute, all day");
        TimetableWords
            .Of(Dublin with { Every = Between(120, "06:00", "22:00"), Days = [Weekday.Mon, Weekday.Tue, Weekday.Wed] })
            .ShouldBe("every 2 hours from 06:00 to 22:00, Mon to Wed");
        TimetableWords
            .Of(
                Dublin with
                {
                    At = ["18:00", "06:30"],
                    Days = [Weekday.Mon, Weekday.Tue, Weekday.Wed, Weekday.Thu, Weekday.Fri, Weekday.Sat],
                    Except = ["2026-12-24", "2026-12-25"],
                    Starts = "2026-12-01",
                    Ends = "2027-02-01",
                }
            )
            .ShouldBe("at 06:30 and 18:00, every day but Sunday, not on 2026-12-24 and 2026-12-25, from 2026-12-01, until 2027-02-01");
        TimetableWords
            .Of(
                Dublin with
                {
                    Every = new TimetableSteps { Minutes = 60 },
                    Days = [Weekday.Sun, Weekday.Wed],
                }
            )
            .ShouldBe("every hour, all day, Wed and Sun");
    }

    [Fact]
    public void What_nobody_would_expect_is_said()
    {
        Said(Dublin with { Every = Between(90, "08:00", "09:00") })
            .ShouldBe(["90 minutes are longer than the time from 08:00 to 09:00: it runs once, at 08:00."]);
        Said(Dublin with { Every = new TimetableSteps { Minutes = 7 } })[0].ShouldStartWith("A day has no whole number of 7 minutes");
        Said(Dublin with { At = ["01:30"] })
            .ShouldBe([
                "On 2027-03-28 the clocks go forward and 01:30 does not exist: it runs at 02:00.",
                "On 2027-10-31 the clocks go back and 01:30 comes twice: it runs the first time.",
            ]);
        Said(new Timetable { Zone = "Asia/Calcutta", At = ["06:00"] })[0].ShouldStartWith("The zone Asia/Calcutta is called Asia/Kolkata");
        Said(Dublin with { At = ["06:00"], Ends = "2026-01-01" }).ShouldBe(["It has no time in the next 400 days."]);
        Said(Dublin with { At = ["06:00"] }).ShouldBeEmpty();
        // One that is wrong says so elsewhere.
        Said(Dublin).ShouldBeEmpty();
    }

    private static TimetableSteps Between(int minutes, string from, string to) =>
        new()
        {
            Minutes = minutes,
            From = from,
            To = to,
        };

    private static IReadOnlyList<string> Said(Timetable timetable) => TimetableWords.Surprises(timetable, Now);
}
