using Narbit.Core.Mismatches;
using Narbit.Core.Telling;

namespace Narbit.Core.Tests.Telling;

/// <summary>What is said in a mail.</summary>
public sealed class NewsTests
{
    private static readonly NewsLine Guard = new(
        MismatchCauses.Of("run.guard"),
        1,
        ["Lanternmoor Web Shop"],
        new Uri("http://narbit.example/mismatches?cause=run.guard")
    );

    private static readonly NewsLine Oversold = new(
        new MismatchCause("stock.twice", "Sold <twice> & more", Harm.Oversold),
        1200,
        ["Till", "Shop"],
        new Uri("http://narbit.example/mismatches?cause=a&b=c")
    );

    [Fact]
    public void A_message_says_what_and_how_many_first_what_harms_most()
    {
        var message = News.Write("Lanternmoor", [Guard, Oversold], daily: false);
        message.Subject.ShouldBe("Lanternmoor: sold <twice> & more and more (1,201)");
        message.Text.IndexOf("1,200 × Sold <twice> & more (Till, Shop)", StringComparison.Ordinal).ShouldBeGreaterThan(0);
        message
            .Text.IndexOf("run.guard", StringComparison.Ordinal)
            .ShouldBeGreaterThan(message.Text.IndexOf("1,200", StringComparison.Ordinal));
        message.Html.ShouldContain("Sold &lt;twice&gt; &amp; more");
        message.Html.ShouldContain("href=\"http://narbit.example/mismatches?cause=a&amp;b=c\"");
        message.Html.ShouldNotContain("<twice>");
    }

    [Theory]
    [InlineData("Lanternmoor", "Lanternmoor: 1 open")]
    [InlineData("Lantern\r\nBcc: all@elsewhere.example", "Lantern Bcc: all@elsewhere.example: 1 open")]
    public void A_subject_is_one_line_whatever_the_workspace_is_called(string workspace, string subject) =>
        News.Write(workspace, [Guard], daily: true).Subject.ShouldBe(subject);

    [Theory]
    [InlineData(Harm.Oversold, WhenTold.AtOnce)]
    [InlineData(Harm.Stopped, WhenTold.AtOnce)]
    [InlineData(Harm.Failed, WhenTold.Daily)]
    [InlineData(Harm.Unfinished, WhenTold.Daily)]
    public void What_does_harm_is_told_at_once_unless_somebody_says_otherwise(Harm harm, WhenTold when) => News.Usual(harm).ShouldBe(when);

    [Fact]
    public void A_wish_about_a_cause_goes_before_the_one_about_its_harm_and_that_before_what_is_usual()
    {
        var cause = MismatchCauses.Of("order.taxRate");
        var nothing = new Wishes(new Dictionary<Harm, WhenTold>(), new Dictionary<string, WhenTold>());
        nothing.Of(cause).ShouldBe(WhenTold.AtOnce);
        var ofHarm = nothing with { OfHarms = new Dictionary<Harm, WhenTold> { [Harm.OrderStuck] = WhenTold.Never } };
        ofHarm.Of(cause).ShouldBe(WhenTold.Never);
        var ofBoth = ofHarm with { OfCauses = new Dictionary<string, WhenTold> { [cause.Code] = WhenTold.Daily } };
        ofBoth.Of(cause).ShouldBe(WhenTold.Daily);
        ofBoth.Of(MismatchCauses.Of("order.totals")).ShouldBe(WhenTold.Never);
    }
}
