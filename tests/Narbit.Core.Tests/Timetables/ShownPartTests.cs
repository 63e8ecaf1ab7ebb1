using CsCheck;
using Narbit.Core.Timetables;

namespace Narbit.Core.Tests.Timetables;

/// <summary>How much of what there is is shown, and what goes wrong with orders then.</summary>
public sealed class ShownPartTests
{
    private static readonly DateTimeOffset From = new(2026, 11, 1, 0, 0, 0, TimeSpan.Zero);

    private static readonly Gen<StockReplay> Any = Gen.Select(
        Gen.Int[0, 6],
        Gen.Select(Gen.Int[1, 2000], Gen.Int[0, 1], Gen.Int[1, 2]).Array[1, 30],
        Gen.Int[0, 90],
        (pieces, orders, minutes) =>
            new StockReplay
            {
                From = From,
                Stock = new Dictionary<string, long> { ["A"] = pieces },
                Intake = new Dictionary<string, int> { ["market"] = minutes, ["shop"] = minutes },
                Publish = new Dictionary<string, int> { ["market"] = minutes, ["shop"] = minutes },
                Orders =
                [
                    .. orders
                        .OrderBy(o => o.Item1)
                        .Select(o => new ReplayedOrder(From.AddMinutes(o.Item1), o.Item2 == 0 ? "shop" : "market", "A", o.Item3)),
                ],
                Deliveries = [],
            }
    );

    [Theory]
    [InlineData(10, 0, 100, 10)]
    [InlineData(10, 3, 100, 7)]
    [InlineData(2, 3, 100, 0)]
    [InlineData(9, 0, 50, 4)]
    [InlineData(9, 1, 50, 3)]
    [InlineData(-5, 0, 50, 0)]
    public void A_share_is_rounded_down_and_what_is_held_back_comes_off_it(long pieces, int holdBack, int share, long shown) =>
        new ShownPart(holdBack, share).Of(pieces).ShouldBe(shown);

    [Fact]
    public void What_goes_wrong_is_told_one_by_one_and_adds_up() =>
        Any.Sample(replay =>
        {
            var troubles = new List<ReplayTrouble>();
            var result = replay.Run(troubles.Add).Value;
            troubles.Count(t => t.Short > 0).ShouldBe(result.Oversold);
            troubles.Sum(t => t.Short).ShouldBe(result.Short);
            troubles.Count(t => t.Short == 0).ShouldBe(result.Missed);
            troubles.TrueForAll(t => replay.Orders.Contains(t.Order)).ShouldBeTrue();
            replay.Run().Value.ShouldBe(result);
        });

    [Fact]
    public void At_once_nothing_is_oversold_and_nothing_missed() =>
        Any.Sample(replay =>
        {
            var atOnce = replay with
            {
                Intake = replay.Intake.ToDictionary(s => s.Key, _ => 0),
                Publish = replay.Publish.ToDictionary(s => s.Key, _ => 0),
            };
            var result = atOnce.Run().Value;
            (result.Oversold, result.Missed).ShouldBe((0, 0));
            (result.Accepted + result.Refused).ShouldBe(replay.Orders.Count);
        });

    [Fact]
    public void What_nobody_shows_nobody_sells() =>
        Any.Sample(replay =>
        {
            var result = (replay with { Shown = new ShownPart(1000, 100) }).Run().Value;
            (result.Accepted, result.Refused).ShouldBe((0, replay.Orders.Count));
        });
}
