using CsCheck;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

public sealed class ChainTests
{
    [Fact]
    public void AChainThatCannotFitIsRefusedInWords()
    {
        Maps.Faults(FieldType.Html, FieldType.Text)
            .ShouldContain("the chain gives HTML, and the field takes text: take the text out of it first");
        Maps.Faults(FieldType.Text, FieldType.Decimal).ShouldContain("read a number first");
        Maps.Faults(FieldType.Text, FieldType.Decimal, Maps.Step("split", ("at", ",")))
            .ShouldContain("the chain gives a list, and the field takes a number");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("split", ("at", ",")), Maps.Step("limit", ("length", "3")))
            .ShouldContain(
                "“limit the length” takes text or a number, and “split into a list” gives a list: join the list, or pick one of it"
            );
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("scale", ("by", "2")))
            .ShouldContain("takes a number, and the source gives text: read a number first");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("shout")).ShouldContain("there is no step “shout”");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("limit")).ShouldContain("to, characters is missing");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("limit", ("length", "many"))).ShouldContain("“many” is no whole number");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("trim", ("to", "x"))).ShouldContain("unknown parameter “to”");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("case", ("to", "loud"))).ShouldContain("is not one of upper, lower");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("pattern", ("find", "("))).ShouldContain("the pattern cannot be read");
        Maps.Faults(FieldType.Decimal, FieldType.Decimal, Maps.Step("unit", ("from", "kg"), ("to", "cm")))
            .ShouldContain("kg is a weight and cm a length");
        Maps.Faults(FieldType.Text, FieldType.Decimal, Maps.Step("number", ("locale", "xx-nowhere"))).ShouldContain("is not known");
        Maps.Faults(FieldType.Decimal, FieldType.Decimal, Maps.Step("default", ("value", "none"))).ShouldContain("“none” is no number");
        Maps.Faults(FieldType.Text, FieldType.Text, Maps.Step("crosswalk", ("table", "tax"))).ShouldContain("there is no crosswalk “tax”");
    }

    [Fact]
    public void TheTargetsDemandsAreCheckedBeforeAnythingIsSent()
    {
        Result(Maps.Sides(FieldType.Text, FieldType.Text, maxLength: 5), "Celadon")
            .Failure!.Words.ShouldContain("takes at most 5 characters, and would have 7");
        Result(Maps.Sides(FieldType.Text, FieldType.Text, required: true), null)
            .Failure!.Words.ShouldContain("is required there, and would be empty");
        Result(Maps.Sides(FieldType.Decimal, FieldType.Integer), "1.5")
            .Failure!.Words.ShouldContain("takes whole numbers, and would be 1.5");

        static ChainResult Result(MapSides sides, string? value) =>
            Maps.Ready(new FieldMap { Fields = [new FieldMapping { Target = "t", Source = new MapSource(["a"]) }] }, sides)
                .Fields[0]
                .Chain.Run(Maps.Record(value));
    }

    [Fact]
    public void AMapKnowsEveryFieldThatItsSourcesStepsAndFiltersLookAt()
    {
        FieldMapping Of(MapSource source, params MapStep[] steps) =>
            new()
            {
                Target = "t",
                Source = source,
                Steps = steps,
            };
        Looks(Of(new MapSource(["a"]), Maps.Step("without", ("field", "b")), Maps.Step("when", ("field", "c"), ("value", "x"))))
            .ShouldBe(["a", "b", "c"], ignoreOrder: true);
        Looks(Of(new MapSource(["a"]), Maps.Step("expression", ("formula", "zero + 1"), ("gives", "text"))))
            .ShouldBe(["a", "zero"], ignoreOrder: true);
        // A field of the paired record is none of the source's.
        Looks(Of(new MapSource(["t"], Record: SourceRecord.There))).ShouldBeEmpty();
        Maps.Ready(
                new FieldMap { Fields = [Of(new MapSource(["a"]))], Filters = [new MapFilter("b", Test.Empty)] },
                Maps.Sides(FieldType.Text, FieldType.Text)
            )
            .Looks.ShouldBe(["a", "b"], ignoreOrder: true);

        static IEnumerable<string> Looks(FieldMapping mapping) =>
            Maps.Ready(new FieldMap { Fields = [mapping] }, Maps.Sides(FieldType.Text, FieldType.Text)).Looks;
    }

    [Fact]
    public void SeveralFieldsBecomeOne()
    {
        var map = new FieldMap
        {
            Fields =
            [
                new FieldMapping
                {
                    Target = "t",
                    Source = new MapSource(["a", "c", "b"]),
                    Steps = [Maps.Step("join", ("with", "\\n"))],
                },
            ],
        };
        Maps.Ready(map, Maps.Sides(FieldType.Text, FieldType.Text))
            .Fields[0]
            .Chain.Run(Maps.Record("first"))
            .Value.ShouldBe("first\nsecond");
    }

    [Fact]
    public void ConstantsParentsLevelsAndTheTargetItselfAreSources()
    {
        string? Of(MapSource source, FieldType target, params MapStep[] steps) =>
            Maps.Ready(
                    new FieldMap
                    {
                        Fields =
                        [
                            new FieldMapping
                            {
                                Target = "t",
                                Source = source,
                                Steps = steps,
                            },
                        ],
                    },
                    Maps.Sides(FieldType.Text, target)
                )
                .Fields[0]
                .Chain.Run(
                    Maps.Record("own") with
                    {
                        Parent = new Dictionary<string, string> { ["a"] = "of the parent" },
                        There = new Dictionary<string, string> { ["fixed"] = "there" },
                        Levels = [new Dictionary<string, string> { ["onHand"] = "3" }, new Dictionary<string, string> { ["onHand"] = "4" }],
                    }
                )
                .Value;

        Of(new MapSource(Constant: "Lanternmoor"), FieldType.Text).ShouldBe("Lanternmoor");
        Of(new MapSource(Constant: "7"), FieldType.Integer).ShouldBe("7");
        Of(new MapSource(["a"], Record: SourceRecord.Parent), FieldType.Text).ShouldBe("of the parent");
        Of(new MapSource(["fixed"], Record: SourceRecord.There), FieldType.Text).ShouldBe("there");
        Of(new MapSource(["onHand"], Record: SourceRecord.StockLevels), FieldType.Decimal, Maps.Step("sum")).ShouldBe("7");
    }

    [Fact]
    public void AMapForAFieldThatIsGoneSaysSo()
    {
        ReadyMap
            .Make(
                new FieldMap
                {
                    Fields =
                    [
                        new FieldMapping { Target = "gone", Source = new MapSource(["a"]) },
                        new FieldMapping { Target = "t", Source = new MapSource(["lost"]) },
                        new FieldMapping { Target = "fixed", Source = new MapSource(["a"]) },
                    ],
                    Filters = [new MapFilter("away", Test.NotEmpty)],
                },
                Maps.Sides(FieldType.Text, FieldType.Text),
                out var faults
            )
            .ShouldBeNull();
        faults.Select(f => f.Path).ShouldBe(["filters[0]", "fields[0].target", "fields[1].source", "fields[2].target"], ignoreOrder: true);
        faults.ShouldContain(f => f.Message.Contains("the target has no field “gone” any more", StringComparison.Ordinal));
        faults.ShouldContain(f => f.Message.Contains("the source has no field “lost” any more", StringComparison.Ordinal));
        faults.ShouldContain(f => f.Message.Contains("does not let it be written", StringComparison.Ordinal));
    }

    [Fact]
    public void TheTraceHasTheValueAfterEachStep()
    {
        var trace = new List<TraceStep>();
        Maps.Chain(
                FieldType.Text,
                FieldType.Text,
                Maps.Step("trim"),
                Maps.Step("case", ("to", "upper")),
                Maps.Step("limit", ("length", "7"))
            )
            .Trace(Maps.Record(" Celadon glaze"), trace)
            .Value.ShouldBe("CELADON");
        trace.Select(t => t.After).ShouldBe([" Celadon glaze", "Celadon glaze", "CELADON GLAZE", "CELADON"]);
    }

    [Fact]
    public void TracingAndRunningNeverDisagree() =>
        Gen.Select(Gen.String[0, 40], Gen.Int[1, 30], Gen.Bool, Gen.Bool)
            .Sample(
                (text, length, word, ellipsis) =>
                {
                    var chain = Maps.Chain(
                        FieldType.Text,
                        FieldType.Text,
                        Maps.Step("collapse"),
                        Maps.Step(
                            "limit",
                            ("length", $"{length}"),
                            ("at", word ? "word" : "letter"),
                            ("ellipsis", ellipsis ? "yes" : "no")
                        ),
                        Maps.Step("surround", ("after", "."))
                    );
                    var run = chain.Run(Maps.Record(text));
                    run.ShouldBe(chain.Trace(Maps.Record(text), []));
                    if (run.Value is { } value)
                        value.Length.ShouldBeLessThanOrEqualTo(length + 1);
                }
            );

    [Fact]
    public void AValueComesBackTheWayItWent() =>
        Gen.Decimal[0.001m, 100_000m]
            .Select(d => decimal.Round(d, 3))
            .Sample(number =>
            {
                var mapping = new FieldMapping
                {
                    Target = "t",
                    Source = new MapSource(["a"]),
                    Steps = [Maps.Step("unit", ("from", "kg"), ("to", "g")), Maps.Step("scale", ("by", "2"))],
                    Flow = Flow.Both,
                    Owner = Owner.Nobody,
                };
                var ready = Maps.Ready(new FieldMap { Fields = [mapping] }, Maps.Sides(FieldType.Decimal, FieldType.Decimal)).Fields[0];
                var there = ready.Chain.Run(Maps.Record(Numbers.Plain(number))).Value!;
                ready.Back!.Run(there).ShouldBe(Numbers.Plain(number));
            });

    [Fact]
    public void AChainThatCannotBeUndoneMayNotFlowBack()
    {
        ReadyMap
            .Make(
                new FieldMap
                {
                    Fields =
                    [
                        new FieldMapping
                        {
                            Target = "t",
                            Source = new MapSource(["a"]),
                            Steps = [Maps.Step("limit", ("length", "3"))],
                            Flow = Flow.Both,
                        },
                    ],
                },
                Maps.Sides(FieldType.Text, FieldType.Text),
                out var faults
            )
            .ShouldBeNull();
        faults[0].Message.ShouldContain("“limit the length” cannot be undone");
        var many = new Crosswalk { Name = "tax", Entries = [new("S", "A"), new("T", "A")] };
        ReadyMap
            .Make(
                new FieldMap
                {
                    Crosswalks = [many],
                    Fields =
                    [
                        new FieldMapping
                        {
                            Target = "t",
                            Source = new MapSource(["a"]),
                            Steps = [Maps.Step("crosswalk", ("table", "tax"))],
                            Flow = Flow.Both,
                        },
                    ],
                },
                Maps.Sides(FieldType.Text, FieldType.Text),
                out faults
            )
            .ShouldBeNull();
        faults[0].Message.ShouldContain("several codes become “A”");
    }
}
