using Narbit.Core.Guarding;

namespace Narbit.Core.Tests.Guarding;

public sealed class GuardTests
{
    private static IReadOnlyList<TrippedGuard> Watch(
        GuardLimits limits,
        IEnumerable<GuardedChange> changes,
        int compared = 1000,
        int failing = 0,
        decimal? usual = null
    )
    {
        var watch = new GuardWatch(limits);
        foreach (var change in changes)
            watch.Look(change);
        return watch.Tripped(compared, failing, usual);
    }

    [Fact]
    public void APriceThatMovesTooFarNamesTheWorstFirst()
    {
        var guard = Watch(new GuardLimits(), [new("mild", 10, 10.9m), new("bad", 10, 13), new("worst", 10, 0.8m)]).Single();
        guard.Kind.ShouldBe(GuardKind.PriceMove);
        guard.Message.ShouldBe("2 prices would move by more than 25 %");
        guard.Worst.ShouldBe(["worst: 10.00 → 0.80 (−92 %)", "bad: 10.00 → 13.00 (+30 %)"]);
    }

    [Fact]
    public void CostMarginAndZeroAreWatched()
    {
        Watch(new GuardLimits { PriceMove = null }, [new("cheap", 10, 9, 7.5m, 8)]).Single().Worst.ShouldBe(["cheap: 7.50 net, cost 8.00"]);
        Watch(new GuardLimits { PriceMove = null, MinMargin = 25 }, [new("thin", 10, 9, 10, 8)])
            .Single()
            .Kind.ShouldBe(GuardKind.BelowMargin);
        Watch(new GuardLimits(), [new("gift", 10, 0)]).Select(g => g.Kind).ShouldBe([GuardKind.ZeroPrice, GuardKind.PriceMove]);
        Watch(new GuardLimits(), [new("no cost known", 10, 9, 7.5m, null)]).ShouldBeEmpty();
    }

    [Fact]
    public void AShareOfChangedRecordsIsWatchedOnceThereAreEnough()
    {
        GuardedChange[] Changes(int n) => [.. Enumerable.Range(0, n).Select(i => new GuardedChange($"r{i}", 10, 10.1m))];
        Watch(new GuardLimits(), Changes(9), compared: 9).ShouldBeEmpty();
        Watch(new GuardLimits(), Changes(11), compared: 20)
            .Single()
            .Message.ShouldBe("11 of 20 records (55 %) would change; at most 50 % may");
        Watch(new GuardLimits(), Changes(10), compared: 20).ShouldBeEmpty();
    }

    [Fact]
    public void QuantitiesTextsAndRemovalsAreCounted()
    {
        Watch(new GuardLimits(), Enumerable.Range(0, 25).Select(i => new GuardedChange($"r{i}", OldQuantity: i + 1, NewQuantity: 0)))
            .ShouldBeEmpty();
        var zero = Watch(
                new GuardLimits(),
                Enumerable.Range(0, 26).Select(i => new GuardedChange($"r{i}", OldQuantity: i + 1, NewQuantity: 0))
            )
            .Single();
        zero.Worst[0].ShouldBe("r25: 26 → 0");
        zero.Worst.Count.ShouldBe(5);
        Watch(new GuardLimits(), [new("r", Emptied: "Description")]).Single().Worst.ShouldBe(["r: Description"]);
        Watch(new GuardLimits { Removed = 0 }, [new("r", Removes: true)]).Single().Kind.ShouldBe(GuardKind.Removed);
    }

    [Fact]
    public void MoreFailuresThanUsualStopTheRun()
    {
        Watch(new GuardLimits(), [], failing: 30, usual: 4).Single().Message.ShouldBe("30 records cannot be computed; usually it is 4");
        Watch(new GuardLimits(), [], failing: 30, usual: null).ShouldBeEmpty();
        Watch(new GuardLimits(), [], failing: 9, usual: 0).ShouldBeEmpty();
    }

    [Fact]
    public void NoLimitsWatchNothing() =>
        Watch(
                GuardLimits.None,
                Enumerable.Range(0, 100).Select(i => new GuardedChange($"r{i}", 10, 0, 0, 5, 4, 0, "Title", true)),
                compared: 100,
                failing: 90,
                usual: 1
            )
            .ShouldBeEmpty();

    [Fact]
    public void LimitsThatMakeNoSenseAreRefused()
    {
        new GuardLimits
        {
            ChangedShare = 120,
            PriceMove = 0,
            MinMargin = 100,
            ToZero = -1,
            FailingTimes = 0,
        }
            .Check()
            .Count(f => f.Severity == Severity.Refuse)
            .ShouldBe(5);
        new GuardLimits().Check().ShouldBeEmpty();
    }
}
