using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

public sealed class CrosswalkTests
{
    private static readonly Crosswalk Tax = new() { Name = "tax", Entries = [new("S", "A"), new("Z", "A"), new("R", "B")] };

    private static ChainResult Translate(Crosswalk crosswalk, string code) =>
        Maps.Ready(
                new FieldMap
                {
                    Crosswalks = [crosswalk],
                    Fields =
                    [
                        new FieldMapping
                        {
                            Target = "t",
                            Source = new MapSource(["a"]),
                            Steps = [Maps.Step("crosswalk", ("table", "tax"))],
                        },
                    ],
                },
                Maps.Sides(FieldType.Text, FieldType.Code)
            )
            .Fields[0]
            .Chain.Run(Maps.Record(code));

    [Fact]
    public void CodesAreTranslatedWithoutRegardToCase()
    {
        Translate(Tax, "S").Value.ShouldBe("A");
        Translate(Tax, " r ").Value.ShouldBe("B");
    }

    [Fact]
    public void ACodeWithoutAnEntryIsHeldKeptOrReplaced()
    {
        Translate(Tax, "X").Failure!.Words.ShouldContain("the crosswalk “tax” has no entry for “X”");
        Translate(Tax with { Unlisted = Unlisted.Keep }, "X").Value.ShouldBe("X");
        Translate(Tax with { Unlisted = Unlisted.Default, Default = "C" }, "X").Value.ShouldBe("C");
    }

    [Fact]
    public void ACategoryFindsItsNearestBranch()
    {
        var tree = new Crosswalk
        {
            Name = "tax",
            Separator = "›",
            Entries = [new("Glazes", "GL"), new("Glazes › Dipping", "GL-D")],
        };
        Translate(tree, "Glazes › Dipping").Value.ShouldBe("GL-D");
        Translate(tree, "Glazes › Brush-on › Matt").Value.ShouldBe("GL");
        Translate(tree, "Clays").Failure.ShouldNotBeNull();
    }

    [Fact]
    public void ManyToOneIsAllowedAndOneToManyRefused()
    {
        Check(Tax).ShouldBeEmpty();
        Check(Tax with { Entries = [new("S", "A"), new("s", "B")] }).Single().Message.ShouldContain("one code cannot become several");
        Check(Tax with { Unlisted = Unlisted.Default }).Single().Message.ShouldContain("there is none");
        Check(Tax with { Entries = [new("S", "")] }).Single().Message.ShouldContain("a code on both sides");
    }

    [Fact]
    public void ACrosswalkWithBothSidesSwappedIsRefused()
    {
        var turned = new Crosswalk { Name = "tax", Entries = [new("A", "S"), new("B", "R")] };
        CrosswalkTable
            .Check(turned, "c", new HashSet<string> { "S", "R", "Z" }, new HashSet<string> { "A", "B" })
            .ShouldContain(f => f.Severity == Severity.Refuse && f.Message.Contains("seem to be swapped", StringComparison.Ordinal));
        CrosswalkTable.Check(Tax, "c", new HashSet<string> { "S", "R", "Z" }, new HashSet<string> { "A", "B" }).ShouldBeEmpty();
        CrosswalkTable
            .Check(Tax with { Entries = [new("S", "Q")] }, "c", new HashSet<string> { "S" }, new HashSet<string> { "A" })
            .Single()
            .Severity.ShouldBe(Severity.Warn);
    }

    [Theory]
    [InlineData("Glazes › Brush-on", "GL-BR", "its letters begin the words")]
    [InlineData("Glazes", "glaze", "the same words")]
    [InlineData("Tools › Brushes", "Brushes and tools", "2 words in common")]
    [InlineData("S", "s", "the same code")]
    public void CodesAreSuggestedByName(string code, string expected, string why)
    {
        var (to, reason) = CrosswalkTable.Suggest(code, ["CL-SL", "Kilns", expected, "QQ"])!.Value;
        to.ShouldBe(expected);
        reason.ShouldContain(why);
    }

    [Fact]
    public void NothingIsSuggestedWhereNothingIsAlike() => CrosswalkTable.Suggest("Wheels", ["CL-SL", "Kilns"]).ShouldBeNull();

    private static List<RuleFault> Check(Crosswalk crosswalk) =>
        [.. CrosswalkTable.Check(crosswalk, "crosswalks[0]", new HashSet<string>(), new HashSet<string>())];
}
