using CsCheck;
using Narbit.Core.Pairing;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Pairing;

public sealed class HousekeepingTests
{
    [Theory]
    [InlineData("9528840100021", "09528840100021")]
    [InlineData("09528840100021", "09528840100021")]
    [InlineData("952 884 010 0021", "09528840100021")]
    [InlineData("96385074", "00000096385074")]
    [InlineData("9528840100022", null)]
    [InlineData("123", null)]
    [InlineData("abc", null)]
    [InlineData("0000000000000", null)]
    [InlineData(null, null)]
    public void Barcodes_are_read_at_fourteen_digits(string? text, string? gtin) => Gtin.Of(text).ShouldBe(gtin);

    [Fact]
    public void One_wrong_digit_is_always_noticed() =>
        Gen.Select(Gen.Long[1, 999_999_999_999], Gen.Int[0, 12], Gen.Int[1, 9])
            .Sample(
                (number, at, by) =>
                {
                    var digits = number.ToString("D12", System.Globalization.CultureInfo.InvariantCulture);
                    var right = digits + Gtin.CheckDigit("0" + digits);
                    Gtin.Of(right).ShouldNotBeNull();
                    Gtin.Of(right[..at] + (char)('0' + (right[at] - '0' + by) % 10) + right[(at + 1)..]).ShouldBeNull();
                }
            );

    [Fact]
    public void Each_cause_is_found_with_its_record_and_a_way_to_put_it_right()
    {
        RecordToCheck[] records =
        [
            Record("1", sku: "", group: "GLZ-CEL", option: "500 ml"),
            Record("2", sku: "A-1"),
            Record("3", sku: "A-1", group: "GLZ-MOS", option: "1 l"),
            Record("4", sku: "B-7"),
            Record("5", sku: "b 7"),
            Record("6", sku: "C-1", barcode: "9528840100022", partner: new() { [FieldRole.Barcode] = "9528840100021" }),
            Record("7", sku: "D-1", barcode: "9528840100038"),
            Record("8", sku: "D-2", barcode: "9528840100038"),
            Record("9", sku: "E-1", weight: null),
            Record("10", sku: "F-1", price: "0"),
            Record("11", sku: "", partner: new() { [FieldRole.Sku] = "WS-4" }),
            Record("12", sku: "G-1", title: "A title that is longer than the till takes"),
        ];
        var findings = Readiness.Check(records, new Dictionary<FieldRole, string> { [FieldRole.Weight] = "Weight" }, 24, "Shop");
        string[] told = [.. findings.Select(f => $"{f.Cause} {f.Key} {f.Proposal ?? "-"}")];
        told.ShouldBe(
            [
                "SkuMissing 1 GLZ-CEL-500-ML",
                "SkuTwice 2 -",
                "SkuTwice 3 GLZ-MOS-1-L",
                "SkuForm 4 -",
                "SkuForm 5 -",
                "BarcodeInvalid 6 9528840100021",
                "BarcodeTwice 7 -",
                "BarcodeTwice 8 -",
                "Missing 9 -",
                "PriceZero 10 -",
                "SkuMissing 11 WS-4",
                "TitleTooLong 12 -",
            ],
            ignoreOrder: true
        );
        findings.First(f => f.Key == "2").Words.ShouldBe("SKU A-1 is used by 3 too");
    }

    [Fact]
    public void A_store_follows_the_hub_in_how_a_SKU_is_written_and_not_the_other_way_round()
    {
        var record = Record("1", sku: "a 1", partner: new() { [FieldRole.Sku] = "A-1" });
        Readiness.Check([record], new Dictionary<FieldRole, string>(), null, "Hub").ShouldHaveSingleItem().Proposal.ShouldBe("A-1");
        Readiness.Check([record], new Dictionary<FieldRole, string>(), null, "Shop", leads: true).ShouldBeEmpty();
    }

    [Fact]
    public void A_proposed_SKU_is_never_one_that_is_taken()
    {
        RecordToCheck[] records =
        [
            Record("1", sku: "GLZ-500"),
            Record("2", sku: "", group: "glz", option: "500"),
            Record("3", sku: "", group: "glz", option: "500"),
        ];
        Readiness
            .Check(records, new Dictionary<FieldRole, string>(), null, "Shop")
            .Select(f => f.Proposal)
            .ShouldBe(["GLZ-500-2", "GLZ-500-3"]);
    }

    [Fact]
    public void A_pair_table_is_resolved_line_by_line()
    {
        PairTableLine[] lines =
        [
            new(2, "10001", "A", "Shop", null),
            new(3, "10002", "KIT", null, "2"),
            new(4, "10003", "KIT", null, null),
            new(5, "", "A", null, null),
            new(6, "99", "A", null, null),
            new(7, "10001", "TWICE", null, null),
            new(8, "10001", "A", "Other", null),
            new(9, "10001", "B", null, "none"),
            new(10, "10001", "A", null, null),
        ];
        var (pairs, faults) = PairTable.Resolve(
            lines,
            s => s == "Shop",
            k => k.StartsWith("100", StringComparison.Ordinal) ? [k] : [],
            s => s == "TWICE" ? ["t1", "t2"] : [s.ToLowerInvariant()],
            "Hub",
            "Shop"
        );
        pairs
            .Select(p => $"{p.OtherKey} {p.IsKit} {string.Join('+', p.Parts.Select(i => $"{i.Quantity}×{i.HubKey}"))}")
            .ShouldBe(["a False 1×10001", "kit True 2×10002+1×10003"]);
        faults.Select(f => f.Line).ShouldBe([5, 6, 7, 8, 9, 10]);
        faults[1].Message.ShouldBe("Hub has no record “99”");
        faults[2].Message.ShouldContain("Shop has 2 records “TWICE”: t1, t2");
        faults[5].Message.ShouldContain("already on line 2");
    }

    private static RecordToCheck Record(
        string key,
        string? sku = null,
        string? barcode = null,
        string? group = null,
        string? option = null,
        string? weight = "1",
        string? price = "5",
        string? title = "Glaze",
        Dictionary<FieldRole, string>? partner = null
    )
    {
        var texts = new Dictionary<FieldRole, string>();
        foreach (
            var (role, text) in new[]
            {
                (FieldRole.Sku, sku),
                (FieldRole.Barcode, barcode),
                (FieldRole.Option, option),
                (FieldRole.Weight, weight),
                (FieldRole.Price, price),
                (FieldRole.Title, title),
            }
        )
            if (text is not null)
                texts[role] = text;
        return new RecordToCheck(key, group, texts, partner);
    }

    [Fact]
    public void A_barcode_with_a_wrong_check_digit_is_mended_to_one_that_is_right_and_written_alike()
    {
        Gen.Long[1, 99_999_999_999]
            .Select(Gen.Int[0, 9])
            .Sample(
                (number, wrong) =>
                {
                    var twelve = $"{number:000000000000}";
                    var right = Gtin.CheckDigit($"0{twelve}");
                    var text = $"{twelve}{wrong}";
                    var mended = Gtin.Mended(text);
                    return wrong == right - '0' ? mended is null : mended == $"{twelve}{right}" && Gtin.Of(mended) is not null;
                }
            );
        Gtin.Mended("9528840-10045 9").ShouldBe("9528840-10045 8");
        Gtin.Mended("no barcode").ShouldBeNull();
    }

    [Fact]
    public void A_wrong_check_digit_is_mended_unless_somebody_else_has_that_barcode()
    {
        RecordToCheck Record(string key, string barcode) =>
            new(key, null, new Dictionary<FieldRole, string> { [FieldRole.Sku] = key, [FieldRole.Barcode] = barcode }, null);
        var wrong = Record("A", "9528840100459");
        Readiness
            .Check([wrong], new Dictionary<FieldRole, string>(), null, "Shop")
            .ShouldHaveSingleItem()
            .Proposal.ShouldBe("9528840100458");
        Readiness
            .Check([wrong, Record("B", "9528840100458")], new Dictionary<FieldRole, string>(), null, "Shop")
            .ShouldHaveSingleItem()
            .Proposal.ShouldBeNull();
    }

    [Fact]
    public void A_SKU_of_another_record_than_the_partner_is_told_of()
    {
        var record = new RecordToCheck(
            "L",
            null,
            new Dictionary<FieldRole, string> { [FieldRole.Sku] = "A-2" },
            new Dictionary<FieldRole, string> { [FieldRole.Sku] = "A-1" }
        );
        var nothing = new Dictionary<FieldRole, string>();
        Readiness.Check([record], nothing, null, "Hub", across: new HashSet<string> { SkuForm.Of("A-1")! }).ShouldBeEmpty();
        var found = Readiness
            .Check([record], nothing, null, "Hub", across: new HashSet<string> { SkuForm.Of("A-1")!, SkuForm.Of("A-2")! })
            .ShouldHaveSingleItem();
        (ReadinessWords.Code(found), found.Proposal).ShouldBe(("skuOfAnother", "A-1"));
    }
}
