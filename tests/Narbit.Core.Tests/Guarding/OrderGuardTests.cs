using Narbit.Core.Guarding;

namespace Narbit.Core.Tests.Guarding;

/// <summary>What stops orders before they are posted.</summary>
public sealed class OrderGuardTests
{
    private static readonly GuardLimits Limits = GuardLimits.None with
    {
        PostedAtOnce = 3,
        OrderOver = 1_000,
        HeldShare = 25,
        ChangedShare = 50,
    };

    [Theory]
    [InlineData(3, false)]
    [InlineData(4, true)]
    public void Too_many_orders_at_once_are_asked_about(int orders, bool tripped)
    {
        var watch = new GuardWatch(Limits);
        for (var n = 0; n < orders; n++)
            watch.Look(new GuardedChange($"W{n}", Posted: 20 + n)).ShouldBe([GuardKind.PostedAtOnce]);
        var found = watch.Tripped(orders, 0, null);
        found.Any(t => t.Kind == GuardKind.PostedAtOnce).ShouldBe(tripped);
        // New orders are no share of anything that changes.
        found.ShouldNotContain(t => t.Kind == GuardKind.ChangedShare);
    }

    [Fact]
    public void An_order_of_unusual_worth_is_named_with_what_it_is_worth()
    {
        var watch = new GuardWatch(Limits);
        watch.Look(new GuardedChange("W1", Posted: 1_000));
        watch.Look(new GuardedChange("W2", Posted: 1_000.01m)).ShouldContain(GuardKind.OrderOver);
        var guard = watch.Tripped(2, 0, null).ShouldHaveSingleItem();
        (guard.Kind, guard.Count).ShouldBe((GuardKind.OrderOver, 1));
        guard.Worst.ShouldBe(["W2: 1000.01"]);
    }

    [Theory]
    [InlineData(40, 10, false)]
    [InlineData(40, 11, true)]
    [InlineData(10, 9, false)]
    public void A_share_of_held_orders_is_asked_about_where_there_are_enough(int compared, int held, bool tripped) =>
        new GuardWatch(Limits).Tripped(compared, held, null).Any(t => t.Kind == GuardKind.HeldShare).ShouldBe(tripped);

    [Fact]
    public void Limits_that_mean_nothing_are_refused()
    {
        string[] paths = ["heldShare", "postedAtOnce", "orderOver"];
        var wrong = new GuardLimits
        {
            HeldShare = 120,
            PostedAtOnce = 0,
            OrderOver = 0,
        };
        wrong.Check().Where(f => f.Severity == Severity.Refuse).Select(f => f.Path).ShouldBe(paths, ignoreOrder: true);
        Limits.Check().ShouldBeEmpty();
    }
}
