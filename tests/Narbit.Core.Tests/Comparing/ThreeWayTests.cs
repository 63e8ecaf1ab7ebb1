using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Comparing;

public sealed class ThreeWayTests
{
    private static readonly DateTimeOffset Early = new(2026, 11, 3, 8, 0, 0, TimeSpan.Zero);

    [Theory]
    // owner, flow, conflict, agreed, here, there → movement
    [InlineData(Owner.Source, Flow.ToTarget, ConflictPolicy.Ask, "1", "2", "1", Movement.Send)]
    [InlineData(Owner.Source, Flow.ToTarget, ConflictPolicy.Ask, "1", "1", "2", Movement.Send)]
    [InlineData(Owner.Source, Flow.ToSource, ConflictPolicy.Ask, "1", "2", "1", Movement.Leave)]
    [InlineData(Owner.Target, Flow.ToTarget, ConflictPolicy.Ask, "1", "2", "1", Movement.Leave)]
    [InlineData(Owner.Target, Flow.Both, ConflictPolicy.Ask, "1", "2", "1", Movement.TakeBack)]
    [InlineData(Owner.FirstPublication, Flow.ToTarget, ConflictPolicy.Ask, "1", "2", "1", Movement.Leave)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.Ask, "1", "2", "1", Movement.Send)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.Ask, "1", "1", "2", Movement.TakeBack)]
    [InlineData(Owner.Nobody, Flow.ToTarget, ConflictPolicy.Ask, "1", "1", "2", Movement.Leave)]
    [InlineData(Owner.Nobody, Flow.ToSource, ConflictPolicy.Ask, "1", "2", "1", Movement.Leave)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.Ask, "1", "2", "3", Movement.Ask)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.HereWins, "1", "2", "3", Movement.Send)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.ThereWins, "1", "2", "3", Movement.TakeBack)]
    [InlineData(Owner.Nobody, Flow.ToTarget, ConflictPolicy.ThereWins, "1", "2", "3", Movement.Leave)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.NewestWins, "1", "2", "3", Movement.TakeBack)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.Ask, null, "2", "3", Movement.Send)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.Ask, "1", "2", "2.00", Movement.None)]
    [InlineData(Owner.Nobody, Flow.Both, ConflictPolicy.Ask, "1", null, "1", Movement.Send)]
    public void TheOwnerTheFlowAndThePolicyDecide(
        Owner owner,
        Flow flow,
        ConflictPolicy conflict,
        string? agreed,
        string? here,
        string? there,
        Movement expected
    )
    {
        var mapping = new FieldMapping
        {
            Target = "t",
            Owner = owner,
            Flow = flow,
            Conflict = conflict,
        };
        ThreeWay
            .Decide(FieldType.Decimal, mapping, agreed is null ? null : new LastAgreed(agreed), here, there, Early, Early.AddHours(1))
            .Movement.ShouldBe(expected);
    }

    [Fact]
    public void TheSeamTellsWhoChanged()
    {
        var mapping = new FieldMapping
        {
            Target = "t",
            Owner = Owner.Nobody,
            Flow = Flow.Both,
        };
        SeamSign Sign(string here, string there) => ThreeWay.Decide(FieldType.Text, mapping, new LastAgreed("1"), here, there).State;
        Sign("2", "1").ShouldBe(SeamSign.WillChange);
        Sign("1", "2").ShouldBe(SeamSign.ChangedThere);
        Sign("2", "3").ShouldBe(SeamSign.ChangedOnBoth);
        Sign("1", "1").ShouldBe(SeamSign.Same);
    }

    [Fact]
    public void TheNewerWinsAndWithoutTimesAPersonIsAsked()
    {
        var mapping = new FieldMapping
        {
            Target = "t",
            Owner = Owner.Nobody,
            Flow = Flow.Both,
            Conflict = ConflictPolicy.NewestWins,
        };
        ThreeWay.Decide(FieldType.Text, mapping, new LastAgreed("1"), "2", "3", Early.AddDays(1), Early).Movement.ShouldBe(Movement.Send);
        ThreeWay.Decide(FieldType.Text, mapping, new LastAgreed("1"), "2", "3", Early, null).Movement.ShouldBe(Movement.Ask);
    }

    [Theory]
    [InlineData(FieldType.Money, "1.0", "1.00", true)]
    [InlineData(FieldType.Text, "1.0", "1.00", false)]
    [InlineData(FieldType.Instant, "2026-11-24T06:00:00Z", "2026-11-24T07:00:00+01:00", true)]
    [InlineData(FieldType.Date, "2026-11-24", "2026-11-25", false)]
    [InlineData(FieldType.List, """["a","b"]""", """[ "a", "b" ]""", true)]
    [InlineData(FieldType.List, """["a","b"]""", """["b","a"]""", false)]
    [InlineData(FieldType.Html, """<p class="x" id="y">Two  words</p>""", """<p id='y' class='x'>Two words </p>""", true)]
    [InlineData(FieldType.Html, "<p>One</p><p>Two</p>", "<p>One</p>\n<p>Two</p>\n", true)]
    [InlineData(FieldType.Html, "<p>caf&eacute;</p>", "<p>café</p>", true)]
    [InlineData(FieldType.Html, "<p>One <b>two</b></p>", "<p>One two</p>", false)]
    [InlineData(FieldType.Html, """<a href="/a">x</a>""", """<a href="/b">x</a>""", false)]
    public void ValuesCompareByMeaning(FieldType type, string one, string other, bool same)
    {
        FieldComparison.Same(type, one, other).ShouldBe(same);
        FieldComparison.How(type).ShouldStartWith("compared");
    }
}
