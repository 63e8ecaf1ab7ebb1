using Narbit.Core.Records;
using Narbit.Core.Timetables;
using Narbit.Data.Jobs;
using Narbit.Engine.Jobs;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Tests;

/// <summary>What a small turn is about, and what is said of jobs in words.</summary>
public sealed class TurnScopeTests
{
    [Fact]
    public void Records_are_kept_once_by_system_and_kind_and_come_back_as_they_were()
    {
        var scope = TurnScope.Empty();
        scope.Add(new RecordsTouched("hub", RecordKind.Item, ["2", "1", "2"])).ShouldBeTrue();
        scope.Add(new RecordsTouched("hub", RecordKind.Item, ["1"])).ShouldBeFalse();
        scope.Add(new RecordsTouched("hub", RecordKind.StockLevel, ["1"])).ShouldBeTrue();
        scope.Add(new RecordsTouched("shop", RecordKind.Item, ["1"])).ShouldBeTrue();
        var read = TurnScope.Read(scope.Write()!);
        read.Of("hub", RecordKind.Item).ShouldBe(["1", "2"]);
        read.Of("shop", RecordKind.Item).ShouldBe(["1"]);
        read.Of("shop", RecordKind.Order).ShouldBeEmpty();
        (read.Count, read.Write()).ShouldBe((4, scope.Write()));
    }

    [Fact]
    public void What_is_too_much_for_a_small_turn_is_about_everything()
    {
        var scope = TurnScope.Empty();
        scope.Add(new RecordsTouched("hub", RecordKind.Item, [.. Enumerable.Range(0, TurnScope.Most).Select(i => $"{i}")]));
        scope.Write().ShouldNotBeNull();
        scope.Add(new RecordsTouched("shop", RecordKind.Order, ["one more"]));
        scope.Write().ShouldBeNull();
    }

    [Theory]
    [InlineData(false, false, true, "It runs every 5 minutes, all day (UTC).")]
    [InlineData(true, false, true, "It runs every 5 minutes, all day (UTC), and at once when something happens.")]
    [InlineData(true, false, false, "It runs at once when something happens that it is about.")]
    [InlineData(false, false, false, "It runs only when somebody says so.")]
    [InlineData(true, true, true, "It is switched off and runs only when somebody says so.")]
    public void A_job_says_what_it_does_by_itself(bool atOnce, bool off, bool timed, string words)
    {
        var job = new Job
        {
            Id = "job",
            Name = "Job",
            AtOnce = atOnce,
            Off = off,
            Timetable = timed ? JobJson.Write(Every(5)) : null,
        };
        JobActs.Words(job).ShouldBe(words);
    }

    [Theory]
    [InlineData("Market: orders, then stock", "market-orders-then-stock")]
    [InlineData("  Überall  ", "berall")]
    [InlineData("—", "job")]
    [InlineData("0123456789 0123456789 0123456789 0123456789 01", "0123456789-0123456789-0123456789-0123456")]
    public void A_name_becomes_a_short_name(string name, string expect) => JobCheck.ShortNameOf(name).ShouldBe(expect);

    [Theory]
    [InlineData("UTC", 15, true)]
    [InlineData("Europe/Dublin", 60, true)]
    [InlineData("Asia/Kathmandu", 15, true)]
    [InlineData("Asia/Kathmandu", 60, false)]
    [InlineData("Europe/Dublin", 1440, false)]
    [InlineData("UTC", 1440, true)]
    [InlineData("UTC", 7, false)]
    public void An_interval_keeps_its_times_where_days_have_a_whole_number_of_them(string zone, int minutes, bool same)
    {
        var now = new DateTimeOffset(2026, 11, 29, 12, 0, 0, TimeSpan.Zero);
        (IntervalMove.Notice(minutes, Every(minutes) with { Zone = zone }, now) is null).ShouldBe(same);
    }

    private static Timetable Every(int minutes) =>
        new()
        {
            Zone = "UTC",
            Every = new TimetableSteps { Minutes = minutes },
        };
}
