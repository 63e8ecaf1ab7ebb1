using Narbit.Core.Stock;

namespace Narbit.Core.Tests.Stock;

public sealed class StockRuleCheckTests
{
    private static readonly string[] Locations = ["Kilnyard", "Quay Street"];

    [Fact]
    public void A_plain_rule_has_nothing_against_it() => StockRuleCheck.Check(new StockRule(), Locations).ShouldBeEmpty();

    [Fact]
    public void A_location_that_does_not_exist_is_named() =>
        Refusal(new StockRule { Locations = ["Kilnyard", "Attic"] }, "locations[1]")
            .ShouldBe("There is no location “Attic”. The source has Kilnyard, Quay Street.");

    [Fact]
    public void Bands_that_overlap_or_leave_a_gap_are_named()
    {
        Refusal(new StockRule { Bands = [Add(0, 10), Add(10, 20)] }, "bands[1].from").ShouldContain("overlap at 10");
        Refusal(new StockRule { Bands = [Add(0, 10), Add(15, 20)] }, "bands[1].from").ShouldContain("from 11 to 14");
        StockRuleCheck.Check(new StockRule { Bands = [Add(0, 10), Add(11, null)] }, Locations).ShouldBeEmpty();
    }

    [Fact]
    public void A_band_does_one_thing()
    {
        Refusal(new StockRule { Bands = [new StockBand { From = 0 }] }, "bands[0]").ShouldContain("neither adds nor sets");
        Refusal(
                new StockRule
                {
                    Bands =
                    [
                        new StockBand
                        {
                            From = 0,
                            Add = 1,
                            Set = 2,
                        },
                    ],
                },
                "bands[0]"
            )
            .ShouldContain("both");
        Refusal(new StockRule { Bands = [new StockBand { From = 0.5m, Add = 1 }] }, "bands[0]").ShouldContain("whole");
        Refusal(new StockRule { Bands = [Add(9, 3)] }, "bands[0].to").ShouldContain("below its start");
    }

    [Theory]
    [InlineData("share", 101)]
    [InlineData("holdBack", -1)]
    [InlineData("cap", -1)]
    [InlineData("untracked", -1)]
    [InlineData("firstPublish", -1)]
    public void Figures_have_limits(string path, int value)
    {
        var rule = path switch
        {
            "share" => new StockRule { Share = value },
            "holdBack" => new StockRule { HoldBack = value },
            "cap" => new StockRule { Cap = value },
            "untracked" => new StockRule { Untracked = value },
            _ => new StockRule { FirstPublish = value },
        };
        Refusal(rule, path).ShouldContain("must be");
    }

    [Fact]
    public void Topping_up_needs_both_its_figures_in_order()
    {
        Refusal(
                new StockRule
                {
                    Replenish = new Replenish { Kind = ReplenishKind.TopUp, AtOrBelow = 3 },
                },
                "replenish"
            )
            .ShouldContain("needs both");
        Refusal(
                new StockRule
                {
                    Replenish = new Replenish
                    {
                        Kind = ReplenishKind.TopUp,
                        AtOrBelow = 6,
                        To = 6,
                    },
                },
                "replenish.to"
            )
            .ShouldContain("above 6");
    }

    [Fact]
    public void What_is_odd_but_possible_is_a_warning()
    {
        StockRuleCheck.Check(new StockRule { Cap = 3, ZeroBelow = 6 }, Locations).ShouldHaveSingleItem().Severity.ShouldBe(Severity.Warn);
        StockRuleCheck.Check(new StockRule { AllowNegative = true }, Locations).ShouldHaveSingleItem().Severity.ShouldBe(Severity.Warn);
    }

    private static StockBand Add(decimal from, decimal? to) =>
        new()
        {
            From = from,
            To = to,
            Add = 1,
        };

    private static string Refusal(StockRule rule, string path) =>
        StockRuleCheck.Check(rule, Locations).Where(f => f.Severity == Severity.Refuse && f.Path == path).ShouldHaveSingleItem().Message;
}
