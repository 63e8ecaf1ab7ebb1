using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

public sealed class SuggestionTests
{
    private static readonly MapSides Sides = new(
        new FieldSet([
            new("sku", "SKU", FieldType.Text, FieldRole.Sku),
            new("title", "Name", FieldType.Text, FieldRole.Title),
            new("taxCode", "Tax code", FieldType.Code, FieldRole.TaxCode),
            new("category", "Category", FieldType.Text, FieldRole.Category),
            new("weight", "Weight", FieldType.Weight, FieldRole.Weight),
            new("text", "Long text", FieldType.Text, FieldRole.Description),
        ]),
        new FieldSet([
            new("articleCode", "Article code", FieldType.Text, FieldRole.Sku, Writable: true),
            new("article", "Article", FieldType.Text, Writable: true) { MaxLength = 12 },
            new("taxClass", "Tax class", FieldType.Code, Writable: true),
            new("dept", "Department", FieldType.Text, FieldRole.Category, Writable: true),
            new("kg", "Kilograms", FieldType.Weight, Writable: true),
            new("body", "Body", FieldType.Html, FieldRole.Description, Writable: true),
            new("price", "Price", FieldType.Money, FieldRole.Price, Writable: true),
            new("fixed", "Fixed", FieldType.Text),
        ])
    );

    private static readonly List<MapRecord> Pairs =
    [
        .. Enumerable
            .Range(0, 40)
            .Select(i => new MapRecord(
                new Dictionary<string, string>
                {
                    ["sku"] = $"GLZ-{i:D3}",
                    ["title"] = $"Celadon glaze {i}",
                    ["taxCode"] = i % 3 == 0 ? "R" : "S",
                    ["category"] = i % 2 == 0 ? "Glazes › Brush-on" : "Clays",
                    ["weight"] = $"{i + 1}",
                },
                There: new Dictionary<string, string>
                {
                    ["articleCode"] = $"LM.GLZ-{i:D3}",
                    ["article"] = "CELADON GLAZ",
                    ["taxClass"] = i % 3 == 0 ? "B" : "A",
                    ["dept"] = i % 2 == 0 ? "GL-BR" : "CL",
                    ["kg"] = $"{i + 1}.0",
                    ["price"] = "4",
                }
            )),
    ];

    private static readonly IReadOnlyList<MapSuggestion> All = MapSuggestions.For(Sides, Pairs, new HashSet<string>());

    private static MapSuggestion For(string target) => All.Single(s => s.Mapping.Target == target);

    [Fact]
    public void TheFieldWhoseValuesAgreeMostIsSuggestedWithItsReason()
    {
        For("kg").Mapping.Source.Fields.ShouldBe(["weight"]);
        For("kg").Reason.ShouldContain("the values agree in 40 of 40 paired records");
        For("kg").Certain.ShouldBeTrue();
    }

    [Fact]
    public void ATextAroundIsFound()
    {
        For("articleCode").Mapping.Steps.ShouldHaveSingleItem().With!["before"].ShouldBe("LM.");
        For("articleCode").Reason.ShouldContain("both are the sku");
    }

    [Fact]
    public void CapitalsAndACutAreFound() => For("article").Mapping.Steps.Select(s => s.Do).ShouldBe(["case", "limit"]);

    [Fact]
    public void ACrosswalkIsReadOffThePairs()
    {
        For("taxClass").Crosswalk!.Entries.ShouldBe([new("R", "B"), new("S", "A")]);
        For("dept").Crosswalk!.Entries.ShouldContain(new CrosswalkEntry("Glazes › Brush-on", "GL-BR"));
    }

    [Fact]
    public void WithoutValuesTheRoleSpeaks()
    {
        For("body").Mapping.Steps.ShouldHaveSingleItem().Do.ShouldBe("toHtml");
        For("body").Certain.ShouldBeFalse();
    }

    [Fact]
    public void WhatWouldEmptyWhatIsThereIsNotSuggested()
    {
        // The roles are the same, but the source knows no picture of anything.
        var sides = new MapSides(
            new FieldSet([new("images", "Images", FieldType.List, FieldRole.Image)]),
            new FieldSet([new("picture", "Picture", FieldType.Text, FieldRole.Image, Writable: true)])
        );
        MapRecord Pair(int i, bool knows) =>
            new(
                knows ? new Dictionary<string, string> { ["images"] = $"[\"https://x.example/{i}.png\"]" } : [],
                There: new Dictionary<string, string> { ["picture"] = $"{i}.png" }
            );
        MapSuggestions.For(sides, [.. Enumerable.Range(0, 20).Select(i => Pair(i, false))], new HashSet<string>()).ShouldBeEmpty();
        MapSuggestions.For(sides, [.. Enumerable.Range(0, 20).Select(i => Pair(i, true))], new HashSet<string>()).Count.ShouldBe(1);
    }

    [Fact]
    public void PricesQuantitiesAndWhatCannotBeWrittenAreLeftOut()
    {
        All.ShouldNotContain(s => s.Mapping.Target == "price" || s.Mapping.Target == "fixed");
        MapSuggestions.For(Sides, Pairs, new HashSet<string> { "kg" }).ShouldNotContain(s => s.Mapping.Target == "kg");
    }

    [Fact]
    public void EverySuggestionFits() =>
        ReadyMap
            .Make(
                new FieldMap
                {
                    Fields = [.. All.Select(s => s.Mapping)],
                    Crosswalks = [.. All.Select(s => s.Crosswalk).OfType<Crosswalk>()],
                },
                Sides,
                out var faults
            )
            .ShouldNotBeNull(string.Join("; ", faults.Select(f => f.Message)));
}
