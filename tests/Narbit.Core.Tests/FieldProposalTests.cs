using System.Globalization;
using Narbit.Core.Describing;
using Narbit.Core.Records;

namespace Narbit.Core.Tests;

/// <summary>What the fields of a sample are taken for.</summary>
public sealed class FieldProposalTests
{
    [Theory]
    [InlineData("netPrice", "net price")]
    [InlineData("PrixVente_TTC", "prix vente ttc")]
    [InlineData("VATRate", "vat rate")]
    [InlineData("Größe-cm", "grosse cm")]
    [InlineData("libellé", "libelle")]
    [InlineData("@id", "id")]
    [InlineData("EAN13", "ean13")]
    [InlineData("", "")]
    public void A_name_is_taken_apart_into_plain_words(string name, string words) =>
        NameWords.Of(name).ShouldBe(words.Split(' ').Where(w => w.Length > 0));

    [Fact]
    public void A_name_becomes_one_that_a_person_can_read()
    {
        NameWords.Label("netPrice").ShouldBe("Net price");
        NameWords.Label("§§").ShouldBe("§§");
    }

    [Theory]
    [InlineData("changed", "2026-11-02T08:00:00Z|2026-11-03T09:30:00+01:00", FieldType.Instant, null)]
    [InlineData("changed", "2026-11-02|2026-12-31", FieldType.Date, null)]
    [InlineData("changed", "02.11.2026|31.12.2026", FieldType.Date, "dd.MM.yyyy")]
    [InlineData("changed", "02.11.2026 08:00|31.12.2026 23:59", FieldType.Instant, "dd.MM.yyyy HH:mm")]
    [InlineData("changed", "soon|2026-12-31", FieldType.Text, null)]
    [InlineData("created_at", "1764300000|#1764400000", FieldType.Instant, "seconds")]
    [InlineData("timestamp", "#1764300000000|#1764400000000", FieldType.Instant, "milliseconds")]
    [InlineData("atoms", "#1764300000|#1764400000", FieldType.Integer, null)]
    [InlineData("created_at", "#12|#1764400000", FieldType.Integer, null)]
    [InlineData("body", "<p>A mug</p>|<b>B</b>", FieldType.Html, null)]
    [InlineData("note", "a|b", FieldType.Text, null)]
    [InlineData("rank", "1|20", FieldType.Integer, null)]
    [InlineData("ratio", "1.5|20", FieldType.Decimal, null)]
    [InlineData("postal_code", "01234|56789", FieldType.Text, null)]
    [InlineData("supplier_no", "1001|1002", FieldType.Text, null)]
    public void Types_are_told_by_values(string path, string values, FieldType type, string? format)
    {
        var field = Of(RecordKind.Item, Column(path, values)).Single();
        (field.Type, field.Format).ShouldBe((type, format));
        field.Values.ShouldBe(values.Split('|').Select(v => v.TrimStart('#')));
    }

    [Theory]
    [InlineData("price", "12,50|9,00", ',', "1")]
    [InlineData("price", "12.50|9.00", '.', "1")]
    [InlineData("price_cents", "1250|900", '.', "0.01")]
    [InlineData("price.minor", "1250|900", '.', "0.01")]
    [InlineData("price", "#1250|#900|#3295|#4999|#1000", '.', "0.01")]
    [InlineData("price", "#12|#9|#32|#49|#10", '.', "1")]
    [InlineData("price", "#12.5|#900|#3295|#4999|#1000", '.', "1")]
    public void Amounts_are_told_from_cents(string path, string values, char mark, string factor)
    {
        var field = Of(RecordKind.Item, Column(path, values)).Single();
        (field.Type, field.Role, field.DecimalMark, field.Factor).ShouldBe(
            (FieldType.Money, FieldRole.Price, mark, decimal.Parse(factor, CultureInfo.InvariantCulture))
        );
    }

    [Theory]
    [InlineData("weight", "#250|#1200|#80", "0.001")]
    [InlineData("weight", "#0.25|#1.2|#8", "1")]
    [InlineData("weight_kg", "#250|#120|#80", "1")]
    [InlineData("poids g", "#5|#20|#8", "0.001")]
    public void Grams_are_told_from_kilograms(string path, string values, string factor)
    {
        var field = Of(RecordKind.Item, Column(path, values)).Single();
        (field.Type, field.Unit, field.Factor).ShouldBe((FieldType.Weight, "kg", decimal.Parse(factor, CultureInfo.InvariantCulture)));
    }

    [Theory]
    [InlineData("tva", "#0.2|#0.055|#0.2", FieldRole.TaxRate, "100")]
    [InlineData("vat_rate", "#20|#5|#0", FieldRole.TaxRate, "1")]
    [InlineData("tax", "S|R|S", FieldRole.TaxCode, "1")]
    [InlineData("width_cm", "#20|#5|#7", FieldRole.None, "10")]
    public void Rates_codes_and_lengths_are_told_apart(string path, string values, FieldRole role, string factor)
    {
        var field = Of(RecordKind.Item, Column(path, values)).Single();
        (field.Role, field.Factor).ShouldBe((role, decimal.Parse(factor, CultureInfo.InvariantCulture)));
    }

    [Fact]
    public void A_barcode_is_told_by_its_check_digits_whatever_it_is_called()
    {
        var barcode = Of(RecordKind.Item, Column("zz", "4006381333931|5901234123457|4006381333931")).Single();
        (barcode.Role, barcode.Type).ShouldBe((FieldRole.Barcode, FieldType.Text));
        barcode.Reasons.ShouldContain("digits with a right check digit in 3 of 3: barcode");
        Of(RecordKind.Item, Column("zz", "4006381333932|5901234123458")).Single().Role.ShouldBe(FieldRole.None);
    }

    [Fact]
    public void Each_role_is_given_once_to_the_field_that_fits_best()
    {
        var fields = Of(
            RecordKind.Item,
            Column("id", "#1|#2"),
            Column("handle", "mug|bowl"),
            Column("sku", "M-1|B-1"),
            Column("code", "x1|x2"),
            Column("title", "A mug|A bowl"),
            Column("name", "mug, salt|bowl, ash")
        );
        fields.Count(f => f.Role == FieldRole.Sku).ShouldBe(1);
        fields.Single(f => f.Role == FieldRole.Sku).Path.ShouldBe("sku");
        fields.Count(f => f.Role == FieldRole.Title).ShouldBe(1);
        fields.Select(f => f.Name).ShouldBeUnique();
    }

    [Fact]
    public void Prices_side_by_side_are_price_lists_and_a_cost_among_them_is_none()
    {
        var fields = Of(
            RecordKind.Item,
            Column("prices.studio", "#12.5|#9"),
            Column("prices.counter", "#15.5|#11"),
            Column("prices.purchase_price", "#5.5|#4")
        );
        fields.Select(f => (f.Role, f.List)).ShouldBe([(FieldRole.Price, "studio"), (FieldRole.Price, "counter"), (FieldRole.Cost, null)]);
    }

    [Fact]
    public void Stock_levels_customers_and_orders_have_roles_of_their_own()
    {
        Of(RecordKind.StockLevel, Column("artikelnummer", "A1|A2"), Column("lagerort", "QUAY|QUAY"), Column("bestand", "#4|#0"))
            .Select(f => f.Role)
            .ShouldBe([FieldRole.Item, FieldRole.Location, FieldRole.OnHand]);
        Of(RecordKind.Customer, Column("x", "una@moor.example|idris@moor.example"), Column("ville", "Port Ember|Kilnhaven"))
            .Select(f => f.Role)
            .ShouldBe([FieldRole.Email, FieldRole.City]);
        Of(RecordKind.Order, Column("orderNo", "W1|W2"), Column("grandTotal", "#12.5|#9"), Column("status", "open|done"))
            .Select(f => f.Role)
            .ShouldBe([FieldRole.Number, FieldRole.Total, FieldRole.State]);
    }

    [Fact]
    public void Truths_may_be_words_and_lists_stay_lists()
    {
        var fields = Of(
            RecordKind.Item,
            Column("active", "Y|N|Y"),
            new SampleColumn("tags", [new SampleValue(SampleForm.List, "clay"), null]),
            new SampleColumn("fragile", [new SampleValue(SampleForm.Truth, "true"), new SampleValue(SampleForm.Truth, "false")])
        );
        fields.Select(f => f.Type).ShouldBe([FieldType.Boolean, FieldType.List, FieldType.Boolean]);
    }

    [Fact]
    public void What_a_contract_declares_counts_where_there_are_no_values()
    {
        SampleColumn Declared(string path, FieldType type) =>
            new(path, [])
            {
                Declared = type,
                Required = true,
                MaxLength = 40,
            };
        var fields = Of(
            RecordKind.Item,
            Declared("netPrice", FieldType.Decimal),
            Declared("online", FieldType.Boolean),
            Declared("priceCents", FieldType.Integer),
            Declared("weightGrams", FieldType.Integer)
        );
        fields
            .Select(f => (f.Type, f.Factor))
            .ShouldBe([(FieldType.Money, 1m), (FieldType.Boolean, 1m), (FieldType.Money, 0.01m), (FieldType.Weight, 0.001m)]);
        fields.ShouldAllBe(f => f.Required && f.MaxLength == 40 && f.Reasons.Count > 0);
    }

    /// <summary>However names are written, and in whatever order fields come, they mean the same.</summary>
    [Fact]
    public void Writing_and_order_change_nothing()
    {
        for (var seed = 0; seed < 60; seed++)
            SameHoweverWritten(new Random(seed));
    }

    private static void SameHoweverWritten(Random dice)
    {
        (string Name, string Values)[] fields =
        [
            ("item code", "A-1|A-2|A-3"),
            ("product name", "A mug|A bowl|A jug"),
            ("retail price", "#12.5|#9.5|#3"),
            ("purchase price", "#2.5|#1.5|#3"),
            ("on hand", "#4|#0|#7"),
            ("vat rate", "#20|#20|#5"),
        ];
        Func<string, string>[] styles =
        [
            n => n.Replace(' ', '_'),
            n => n.Replace(" ", "", StringComparison.Ordinal),
            n => string.Concat(n.Split(' ').Select(w => char.ToUpperInvariant(w[0]) + w[1..])),
            n => n.ToUpperInvariant().Replace(' ', '-'),
        ];
        var style = styles[dice.Next(styles.Length)];
        var shuffled = fields.OrderBy(_ => dice.Next()).ToArray();
        var roles = Of(RecordKind.Item, [.. shuffled.Select(f => Column(style(f.Name), f.Values))]).Select(f => f.Role).ToList();
        var expected = Of(RecordKind.Item, [.. fields.Select(f => Column(f.Name, f.Values))]).ToDictionary(f => f.Path, f => f.Role);
        roles.ShouldBe(shuffled.Select(f => expected[f.Name]));
        expected.Values.ShouldNotContain(FieldRole.None);
    }

    private static IReadOnlyList<FieldProposal> Of(RecordKind kind, params SampleColumn[] columns) =>
        FieldProposals.Of(columns, kind, "id");

    // Values between bars; what begins with # is a number, anything else text.
    private static SampleColumn Column(string path, string values) =>
        new(
            path,
            [
                .. values
                    .Split('|')
                    .Select(v =>
                        (SampleValue?)(v.StartsWith('#') ? new SampleValue(SampleForm.Number, v[1..]) : new SampleValue(SampleForm.Text, v))
                    ),
            ]
        );
}
