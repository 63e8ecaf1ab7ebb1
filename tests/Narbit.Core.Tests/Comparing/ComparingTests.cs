using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Core.Timetables;

namespace Narbit.Core.Tests.Comparing;

public sealed class ComparingTests
{
    private static readonly FieldSet Hub = new([
        new("sku", "SKU", FieldType.Text, FieldRole.Sku),
        new("title", "Name", FieldType.Text, FieldRole.Title),
        new("barcode", "Barcode", FieldType.Text, FieldRole.Barcode),
        new("weight", "Weight", FieldType.Weight, FieldRole.Weight, Unit: "kg"),
        new("cost", "Cost", FieldType.Money, FieldRole.Cost),
    ]);

    private static readonly FieldSet Shop = new([
        new("sku", "SKU", FieldType.Text, FieldRole.Sku),
        new("title", "Title", FieldType.Text, FieldRole.Title),
        new("option", "Option", FieldType.Text, FieldRole.Option),
        new("barcode", "Barcode", FieldType.Text, FieldRole.Barcode),
        new("weight", "Weight", FieldType.Weight, FieldRole.Weight, Unit: "kg"),
    ]);

    [Theory]
    [InlineData(FieldType.Money, "1.0", "1.00", true)]
    [InlineData(FieldType.Money, "1.01", "1.0", false)]
    [InlineData(FieldType.Integer, "7", "7", true)]
    [InlineData(FieldType.Text, "1.0", "1.00", false)]
    [InlineData(FieldType.Instant, "2026-01-01T01:00:00+01:00", "2026-01-01T00:00:00Z", true)]
    [InlineData(FieldType.Money, null, null, true)]
    [InlineData(FieldType.Money, null, "0", false)]
    [InlineData(FieldType.Money, "x", "x", true)]
    public void Values_compare_by_what_they_mean(FieldType type, string? one, string? other, bool same) =>
        FieldComparison.Same(type, one, other).ShouldBe(same);

    [Fact]
    public void A_seam_has_one_sign_a_field()
    {
        var rows = Seam.Between(
            Hub,
            new Dictionary<string, string>
            {
                ["sku"] = "GLZ-1",
                ["title"] = "Moss glaze 1 l",
                ["barcode"] = "9528840100014",
                ["weight"] = "1.4",
                ["cost"] = "7.1",
            },
            Shop,
            new Dictionary<string, string>
            {
                ["sku"] = "glz 1",
                ["title"] = "Moss glaze",
                ["option"] = "1 l",
                ["barcode"] = "09528840100014",
            }
        );
        rows.Select(r => $"{r.Label} {r.Sign}")
            .ShouldBe([
                "SKU SameByMeaning",
                "Barcode SameByMeaning",
                "Name SameByMeaning",
                "Option NotMapped",
                "Cost NotMapped",
                "Weight MissingThere",
            ]);
        rows.First(r => r.Label == "Cost").Here.ShouldBe("7.10");
    }

    [Fact]
    public void A_title_that_says_something_else_differs()
    {
        var rows = Seam.Between(
            Hub,
            new Dictionary<string, string> { ["title"] = "Moss glaze" },
            Shop,
            new Dictionary<string, string> { ["title"] = "Rose glaze" }
        );
        rows.First(r => r.Label == "Name").Sign.ShouldBe(SeamSign.Differs);
    }

    [Theory]
    [InlineData(-4, 10.0, 5, "negative")]
    [InlineData(0, 10.0, 5, "zero")]
    [InlineData(5, 10.0, 31, "3.1 times")]
    [InlineData(5, 10.0, 3.9, "39 %")]
    [InlineData(5, 10.0, 0, "would be 0")]
    [InlineData(5, null, 2_000_000, "above")]
    [InlineData(5, 10.0, 30, null)]
    [InlineData(5, 10.0, 4, null)]
    [InlineData(5, null, 12, null)]
    public void Prices_that_look_wrong_are_held(double source, double? now, double next, string? reason)
    {
        var hold = Plausibility.PriceHold(new PlausibilityLimits(), (decimal)source, (decimal?)now, (decimal)next);
        if (reason is null)
            hold.ShouldBeNull();
        else
            hold!.Words.ShouldContain(reason);
    }

    [Theory]
    [InlineData(2_000_000, "above")]
    [InlineData(2.5, "not whole")]
    [InlineData(12, null)]
    public void Quantities_that_look_wrong_are_held(double next, string? reason)
    {
        var hold = Plausibility.QuantityHold(new PlausibilityLimits(), (decimal)next);
        if (reason is null)
            hold.ShouldBeNull();
        else
            hold!.Words.ShouldContain(reason);
    }

    [Fact]
    public void An_interval_keeps_its_beat_whenever_it_is_asked()
    {
        var five = new Interval(TimeSpan.FromMinutes(5));
        var noon = new DateTimeOffset(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);
        five.Next(noon).ShouldBe(noon.AddMinutes(5));
        five.Next(noon.AddTicks(-1)).ShouldBe(noon);
        five.Next(noon.AddMinutes(3)).ShouldBe(noon.AddMinutes(5));
        five.Between(noon, noon.AddMinutes(15)).ShouldBe([noon.AddMinutes(5), noon.AddMinutes(10), noon.AddMinutes(15)]);
        new Interval(TimeSpan.FromSeconds(30)).Valid.ShouldBeFalse();
        new Interval(TimeSpan.FromHours(25)).Valid.ShouldBeFalse();
    }

    [Theory]
    [InlineData("1.50", "1.5")]
    [InlineData("2.00", "2")]
    [InlineData("-0.00", "0")]
    [InlineData("100", "100")]
    public void Numbers_are_written_plainly(string number, string plain) =>
        Numbers.Plain(decimal.Parse(number, System.Globalization.CultureInfo.InvariantCulture)).ShouldBe(plain);

    [Fact]
    public void A_move_is_in_percent_of_what_was()
    {
        Numbers.Move(10, 12.5m).ShouldBe(25);
        Numbers.Move(10, 8).ShouldBe(-20);
        Numbers.Move(0, 8).ShouldBeNull();
        Numbers.Move(null, 8).ShouldBeNull();
    }
}
