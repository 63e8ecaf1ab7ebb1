using Narbit.Core.Pricing;

namespace Narbit.Core.Tests.Pricing;

public sealed class PriceRuleCheckTests
{
    private static readonly string[] Lists = ["Studio", "School"];
    private static readonly PriceRule Good = new() { PriceList = "Studio" };

    [Fact]
    public void A_plain_rule_has_nothing_against_it() => PriceRuleCheck.Check(Good, Lists).ShouldBeEmpty();

    [Fact]
    public void Overlapping_bands_are_named() =>
        Refusal(Good with { Bands = [Band(0, 60), Band(50, null)] })
            .ShouldBe("Band 0 to 60 and band from 50 overlap: amounts from 50 are in both, and only the first counts.");

    [Fact]
    public void A_gap_between_bands_is_named_in_whatever_order_they_stand() =>
        Refusal(Good with { Bands = [Band(80, null), Band(0, 60)] })
            .ShouldBe("There is a gap: amounts from 60 to 80 are in no band and would stay unchanged.");

    [Fact]
    public void An_open_band_below_another_overlaps() =>
        Refusal(Good with { Bands = [Band(0, null), Band(60, null)] }).ShouldContain("overlap");

    [Fact]
    public void Amounts_outside_all_bands_are_a_warning_not_a_refusal()
    {
        var faults = PriceRuleCheck.Check(Good with { Bands = [Band(10, 60)] }, Lists);
        faults.ShouldAllBe(f => f.Severity == Severity.Warn);
        faults
            .Select(f => f.Message)
            .ShouldBe(["Amounts below 10 are in no band and stay unchanged.", "Amounts from 60 up are in no band and stay unchanged."]);
    }

    [Theory]
    [InlineData("8", "+700 %", "type 1.08")]
    [InlineData("108", "+10700 %", "For 108 % of the amount, type 1.08")]
    [InlineData("0.08", "−92 %", "For +8 %, type 1.08")]
    [InlineData("0.18", "10.00 becomes 1.80", "type 1.18")]
    [InlineData("0", "−100 %", "Factors from 0.5 to 3")]
    [InlineData("-1", "−200 %", "Factors from 0.5 to 3")]
    public void A_percentage_typed_as_a_factor_is_refused_with_what_was_meant(string factor, string effect, string meant)
    {
        var message = Refusal(
            Good with
            {
                Bands = [new PriceBand { Multiply = decimal.Parse(factor, System.Globalization.CultureInfo.InvariantCulture) }],
            }
        );
        message.ShouldContain(effect);
        message.ShouldContain(meant);
    }

    [Fact]
    public void One_point_eight_for_plus_eight_percent_is_a_warning_that_says_so()
    {
        var fault = PriceRuleCheck.Check(Good with { Bands = [new PriceBand { Multiply = 1.8m }] }, Lists).ShouldHaveSingleItem();
        fault.Severity.ShouldBe(Severity.Warn);
        fault.Message.ShouldBe("A factor of 1.8 means +80 %: 10.00 becomes 18.00. If +8 % was meant, type 1.08.");
    }

    [Fact]
    public void Lists_that_do_not_exist_are_named()
    {
        Refusal(Good with { PriceList = "Trade" }).ShouldBe("There is no price list “Trade”. The source has Studio, School.");
        Refusal(Good with { FallbackLists = ["School", "Trade"] }, "fallbackLists[1]").ShouldContain("Trade");
        Refusal(Good with { CompareAtList = "List" }, "compareAtList").ShouldContain("List");
        Refusal(Good with { PriceList = null }).ShouldBe("Choose the price list that prices come from.");
    }

    [Fact]
    public void Endings_must_be_usable()
    {
        Refusal(Good with { Ending = new PriceEnding { Kind = EndingKind.Charm } }, "ending.endings")
            .ShouldStartWith("The list of endings is empty.");
        Refusal(
                Good with
                {
                    Ending = new PriceEnding { Kind = EndingKind.Charm, Endings = [1.99m] },
                },
                "ending.endings"
            )
            .ShouldContain("from 0 to below 1");
        Refusal(
                Good with
                {
                    Ending = new PriceEnding { Kind = EndingKind.Step, Step = 0 },
                },
                "ending.step"
            )
            .ShouldContain("above 0");
    }

    [Fact]
    public void Rate_and_margin_have_limits()
    {
        Refusal(Good with { CurrencyRate = 0 }, "currencyRate").ShouldContain("above 0");
        Refusal(Good with { MinMargin = 100 }, "minMargin").ShouldContain("below 100");
        Refusal(Good with { MinMargin = -1 }, "minMargin").ShouldContain("from 0");
    }

    [Fact]
    public void A_band_that_ends_before_it_starts_is_named() =>
        Refusal(Good with { Bands = [Band(60, 20)] }, "bands[0].to").ShouldContain("not above its start");

    private static PriceBand Band(decimal from, decimal? to) => new() { From = from, To = to };

    private static string Refusal(PriceRule rule, string? path = null)
    {
        var refusals = PriceRuleCheck
            .Check(rule, Lists)
            .Where(f => f.Severity == Severity.Refuse && (path is null || f.Path == path))
            .ToList();
        return refusals.ShouldHaveSingleItem().Message;
    }

    [Fact]
    public void A_group_of_customers_needs_a_list_here_and_a_place_there()
    {
        var rule = new PriceRule
        {
            PriceList = "Studio",
            Groups =
            [
                new GroupPriceList("schools", "School"),
                new GroupPriceList("schools", "Counter"),
                new GroupPriceList("guests", "Gone"),
            ],
        };
        var faults = PriceRuleCheck.Check(rule, ["Studio", "School", "Counter"], ["schools", "counter"]);
        faults.ShouldAllBe(f => f.Severity == Severity.Refuse);
        faults.Select(f => f.Path).ShouldBe(["groups[1].group", "groups[2].priceList", "groups[2].group"]);
        faults[0].Message.ShouldBe("“schools” is given a price list twice.");
        faults[2].Message.ShouldBe("The target keeps no prices for “guests”. It does for schools, counter.");
        PriceRuleCheck
            .Check(rule with { Groups = [new GroupPriceList("schools", "School")] }, ["Studio", "School"], [])
            .Single()
            .Message.ShouldContain("has nowhere to go");
    }
}
