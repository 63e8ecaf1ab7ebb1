using Narbit.Core.Mismatches;

namespace Narbit.Core.Tests.Mismatches;

/// <summary>What causes are called and what they do.</summary>
public sealed class MismatchCauseTests
{
    [Theory]
    [InlineData("stock.oversold", "Can be sold more often than it is there", Harm.Oversold)]
    [InlineData("held.price.rises", "Held: would rise to more than 3 times what is there", Harm.WrongPrice)]
    [InlineData("held.changedOnBoth", "Held: changed on both sides", Harm.Doubtful)]
    [InlineData("value.crosswalk", "Not computed: code without an entry", Harm.NotComputed)]
    [InlineData("order.unknownItem", "A SKU of it is not known at the hub", Harm.OrderStuck)]
    [InlineData("ready.skuTwice", "SKU used twice", Harm.Untidy)]
    [InlineData("ready.missing:weight", "No weight", Harm.Untidy)]
    [InlineData("ready.priceZero", "Price of zero or less", Harm.WrongPrice)]
    public void A_cause_has_a_heading_and_a_harm(string code, string heading, Harm harm) =>
        MismatchCauses.Of(code).ShouldBe(new MismatchCause(code, heading, harm));

    [Theory]
    [InlineData("failed.teapot", "the pot is full", "Did not get there: the pot is full", Harm.Failed)]
    [InlineData("kiln.cold", "the kiln is cold", "the kiln is cold", Harm.Doubtful)]
    [InlineData("cold", null, "Unknown here: cold", Harm.Doubtful)]
    public void A_cause_that_this_version_does_not_know_is_called_by_its_words(string code, string? words, string heading, Harm harm) =>
        MismatchCauses.Of(code, words).ShouldBe(new MismatchCause(code, heading, harm));
}
