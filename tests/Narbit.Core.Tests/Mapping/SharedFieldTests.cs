using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

/// <summary>Fields that belong to the product around its variants.</summary>
public sealed class SharedFieldTests
{
    private static readonly MapSides Sides = new(
        new FieldSet([
            new("name", "Name", FieldType.Text, FieldRole.Title, Writable: true),
            new("option", "Option", FieldType.Text, FieldRole.Option),
        ]),
        new FieldSet([
            new("title", "Title", FieldType.Text, FieldRole.Title, Writable: true) { Shared = true },
            new("sku", "SKU", FieldType.Text, Writable: true),
        ])
    );

    private static readonly Dictionary<string, string> First = new() { ["name"] = "Celadon glaze 250 ml", ["option"] = "250 ml" };
    private static readonly Dictionary<string, string> Second = new() { ["name"] = "Celadon glaze, thick 1 l", ["option"] = "1 l" };

    private static FieldMapping Title(params MapStep[] steps) =>
        new()
        {
            Target = "title",
            Source = new MapSource(["name"]),
            Steps = steps,
        };

    [Fact]
    public void Sisters_get_what_the_first_of_their_group_gives()
    {
        var chain = Chain.Make(Title(Maps.Step("without", ("field", "option"))), "", Sides, new Dictionary<string, Crosswalk>(), [])!;
        chain.Run(new MapRecord(First)).Value.ShouldBe("Celadon glaze");
        chain.Run(new MapRecord(Second, First)).Value.ShouldBe("Celadon glaze");
        chain.Run(new MapRecord(Second)).Value.ShouldBe("Celadon glaze, thick");
        var trace = new List<TraceStep>();
        chain.Trace(new MapRecord(Second, First), trace);
        trace[0]
            .ShouldSatisfyAllConditions(
                t => t.After.ShouldBe("Celadon glaze 250 ml"),
                t => t.Why.ShouldContain("sisters have Title in common")
            );
    }

    [Theory]
    [InlineData("Celadon glaze 1 l", "1 l", "Celadon glaze")]
    [InlineData("Celadon glaze, 1 L", "1 l", "Celadon glaze")]
    [InlineData("Celadon glaze (1 l", "1 l", "Celadon glaze")]
    [InlineData("Celadon glaze 11 l", "1 l", "Celadon glaze 11 l")]
    [InlineData("1 l", "1 l", "1 l")]
    [InlineData("Celadon glaze", "1 l", "Celadon glaze")]
    [InlineData("Celadon glaze", null, "Celadon glaze")]
    public void What_a_field_says_is_taken_off_the_end(string name, string? option, string expected)
    {
        var own = new Dictionary<string, string> { ["name"] = name };
        if (option is not null)
            own["option"] = option;
        Chain
            .Make(Title(Maps.Step("without", ("field", "option"))), "", Sides, new Dictionary<string, Crosswalk>(), [])!
            .Run(new MapRecord(own))
            .Value.ShouldBe(expected);
        var faults = new List<RuleFault>();
        Chain.Make(Title(Maps.Step("without", ("field", "colour"))), "", Sides, new Dictionary<string, Crosswalk>(), faults).ShouldBeNull();
        faults[0].Message.ShouldContain("there is no field “colour”");
    }

    [Fact]
    public void Only_the_first_of_a_group_takes_a_shared_value_back()
    {
        var map = Maps.Ready(new FieldMap { Fields = [Title() with { Owner = Owner.Nobody, Flow = Flow.Both }] }, Sides);
        var there = new Dictionary<string, string> { ["title"] = "Called otherwise" };
        LastAgreed agreed = new("Celadon glaze 250 ml");
        RecordMapping
            .Compare(map, new MapRecord(First, There: there), _ => agreed)
            .Fields[0]
            .ShouldSatisfyAllConditions(f => f.Verdict.Movement.ShouldBe(Movement.TakeBack), f => f.Back.ShouldBe("Called otherwise"));
        RecordMapping
            .Compare(map, new MapRecord(Second, First, there), _ => agreed)
            .Fields[0]
            .ShouldSatisfyAllConditions(
                f => f.Verdict.Movement.ShouldBe(Movement.Leave),
                f => f.Verdict.Why.ShouldContain("the first of its group takes it back")
            );
    }

    [Fact]
    public void A_product_title_is_suggested_without_the_option_of_its_first_variant()
    {
        List<MapRecord> pairs =
        [
            .. Enumerable
                .Range(0, 20)
                .SelectMany(i =>
                    new[] { "250 ml", "1 l" }.Select(
                        (size, n) =>
                            new MapRecord(
                                new Dictionary<string, string> { ["name"] = $"Glaze {i} {size}", ["option"] = size },
                                n == 0 ? null : new Dictionary<string, string> { ["name"] = $"Glaze {i} 250 ml", ["option"] = "250 ml" },
                                new Dictionary<string, string> { ["title"] = $"Glaze {i}" }
                            )
                    )
                ),
        ];
        var suggestion = MapSuggestions.For(Sides, pairs, new HashSet<string>()).Single(s => s.Mapping.Target == "title");
        suggestion.Mapping.Steps.Select(s => s.Do).ShouldBe(["without"]);
        (suggestion.Agree, suggestion.Compared, suggestion.Certain).ShouldBe((40, 40, true));
        suggestion.Reason.ShouldContain("without the option at the end");
    }
}
