using CsCheck;
using Narbit.Core.Mismatches;

namespace Narbit.Core.Tests.Mismatches;

/// <summary>Which item an unknown SKU most likely is.</summary>
public sealed class LikelyItemTests
{
    private static readonly LikelyItems Items = new([
        new KnownItem("1", "GLZ-CEL-250", "Celadon glaze 250 ml"),
        new KnownItem("2", "GLZ-CEL-500", "Celadon glaze 500 ml"),
        new KnownItem("3", "GLZ-OAT-250", "Oatmeal glaze 250 ml"),
        new KnownItem("4", "KLN-SHF-40", "Kiln shelf 40 × 40 cm"),
        new KnownItem("5", null, "Wire loop set"),
        new KnownItem("6", "TL-SPO-1", "Sponge on a stick"),
        new KnownItem("7", "TLSPO1", "Sponge, loose"),
    ]);

    [Theory]
    [InlineData("glz cel 250", null, "1", "the SKU differs only in form")]
    [InlineData("LM.GLZ-CEL-500", null, "2", "the SKUs have most letters in common")]
    [InlineData("OLD-77", "Celadon glaze 250 ml", "1", "the title is the same")]
    [InlineData("OLD-78", "Kiln shelf, 40 × 40 cm", "4", "the title is the same")]
    [InlineData("OLD-79", "Loop set of wire", "5", "the titles have most words in common")]
    [InlineData("GLZ-OAT-25O", "Oatmeal glaze 250 ml", "3", "SKU and title are alike")]
    [InlineData("tl spo 1", null, "6", "the SKU differs only in form from 2 items")]
    public void What_is_most_alike_is_found_with_the_reason(string sku, string? title, string key, string why)
    {
        var found = Items.Of(sku, title)!;
        found.Item.Key.ShouldBe(key);
        found.Why.ShouldBe(why);
    }

    [Theory]
    [InlineData("OLD-1", null)]
    [InlineData(null, null)]
    [InlineData("", "")]
    [InlineData("QXW-9911", "Something else altogether")]
    public void What_is_like_nothing_is_not_guessed(string? sku, string? title) => Items.Of(sku, title).ShouldBeNull();

    [Fact]
    public void Where_either_could_be_meant_it_says_so_by_its_confidence()
    {
        Items.Of("GLZ-CEL-X", "Celadon glaze")!.Confidence.ShouldBeLessThan(0.6);
        Items.Of("OLD-77", "Celadon glaze 250 ml")!.Confidence.ShouldBeGreaterThan(0.75);
        Items.Of("tl spo 1", null)!.Confidence.ShouldBeLessThan(0.6);
    }

    [Fact]
    public void An_item_is_always_found_by_its_own_SKU_whatever_its_form() =>
        Gen.Select(Gen.Char['A', 'Z'].Array[3, 8], Gen.Int[1, 9999], Gen.Int[1, 40])
            .Sample(
                (letters, number, others) =>
                {
                    var sku = $"{new string(letters)}-{number}";
                    var items = Enumerable.Range(0, others).Select(i => new KnownItem($"{i}", $"ZZ{i}-{i}", $"Thing {i}"));
                    var found = new LikelyItems([.. items, new KnownItem("own", sku, "Own")]).Of(
                        sku.ToLowerInvariant().Replace("-", " / "),
                        null
                    );
                    found!.Item.Sku.ShouldBe(sku);
                    found.Confidence.ShouldBeInRange(0, 1);
                },
                iter: 200
            );
}
