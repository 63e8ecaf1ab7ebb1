using CsCheck;
using Narbit.Core.Comparing;
using Narbit.Core.Pairing;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Pairing;

public sealed class SkuFormTests
{
    [Theory]
    [InlineData("GLZ-CEL-500", "GLZCEL500")]
    [InlineData("glz cel.500", "GLZCEL500")]
    [InlineData("00GLZ_CEL/500", "GLZCEL500")]
    [InlineData("ＧＬＺ‑cel‑500", "GLZCEL500")]
    [InlineData("000", "0")]
    [InlineData("10-0", "100")]
    [InlineData("--", null)]
    [InlineData("  ", null)]
    [InlineData(null, null)]
    public void A_SKU_has_one_form(string? sku, string? form) => SkuForm.Of(sku).ShouldBe(form);

    [Fact]
    public void The_form_of_a_form_is_itself() =>
        Gen.String[Gen.Char.AlphaNumeric, 1, 12]
            .Sample(sku =>
            {
                var form = SkuForm.Of(sku);
                SkuForm.Of(form).ShouldBe(form);
                SkuForm.Of($" {sku.ToLowerInvariant()} ").ShouldBe(SkuForm.Of(sku.ToUpperInvariant()));
            });

    [Fact]
    public void The_whole_seam_shows_every_field_of_both_records()
    {
        FieldSet hub = new([
            new("sku", "SKU", FieldType.Text, FieldRole.Sku),
            new("name", "Name", FieldType.Text, FieldRole.Title),
            new("studio", "Studio price", FieldType.Money, FieldRole.Price, "Studio"),
            new("cost", "Cost", FieldType.Money, FieldRole.Cost),
            new("note", "Note", FieldType.Text),
        ]);
        FieldSet shop = new([
            new("code", "Code", FieldType.Text, FieldRole.Sku),
            new("title", "Title", FieldType.Text, FieldRole.Title),
            new("option", "Option", FieldType.Text, FieldRole.Option),
            new("price", "Price", FieldType.Money, FieldRole.Price),
            new("shown", "Shown", FieldType.Integer, FieldRole.OnHand, Unit: "pcs"),
        ]);
        var rows = Seam.Whole(
            hub,
            new Dictionary<string, string>
            {
                ["sku"] = "A-1",
                ["name"] = "Moss glaze 500 ml",
                ["studio"] = "12.4",
                ["note"] = "fragile",
            },
            shop,
            new Dictionary<string, string>
            {
                ["code"] = "a1",
                ["title"] = "Glaze, moss",
                ["option"] = "500ml",
                ["price"] = "14.9",
                ["shown"] = "3",
            }
        );
        rows.Select(r => $"{r.Label}: {r.Here ?? "-"} {r.Sign} {r.There ?? "-"}")
            .ShouldBe([
                "SKU: A-1 SameByMeaning a1",
                "Name: Moss glaze 500 ml SameByMeaning Glaze, moss",
                "Option: - NotMapped 500ml",
                "Studio price: 12.40 NotMapped 14.90",
                "Note: fragile NotMapped -",
                "Shown: - NotMapped 3",
            ]);
    }

    [Theory]
    [InlineData(FieldRole.Email, "M@X.example", "m@x.example", SeamSign.SameByMeaning)]
    [InlineData(FieldRole.Postcode, "LM02 A1K", "lm02a1k", SeamSign.SameByMeaning)]
    [InlineData(FieldRole.Barcode, "09528840100021", "9528840100021", SeamSign.SameByMeaning)]
    [InlineData(FieldRole.Option, "no. 2", "no.2", SeamSign.SameByMeaning)]
    [InlineData(FieldRole.Option, "no. 2", "no. 4", SeamSign.Differs)]
    [InlineData(FieldRole.Brand, "Kilnyard", "Harbour", SeamSign.Differs)]
    public void Values_are_compared_by_what_they_mean(FieldRole role, string here, string there, SeamSign sign)
    {
        FieldSet fields = new([new("f", "Field", FieldType.Text, role)]);
        Seam.Whole(fields, new Dictionary<string, string> { ["f"] = here }, fields, new Dictionary<string, string> { ["f"] = there })
            .ShouldHaveSingleItem()
            .Sign.ShouldBe(sign);
    }
}
