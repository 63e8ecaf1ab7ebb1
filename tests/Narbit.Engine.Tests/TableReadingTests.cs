using System.Text;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Engine.Tests;

/// <summary>What the files of a system that nobody has described are taken for.</summary>
public sealed class TableReadingTests
{
    private const string Articles = """
        Preisliste Markthalle

        PLU;Art.-Nr.;Bezeichnung;EAN;VK-Preis;Bestand;Warengruppe;
        1001;KY-0001;Schüssel, groß;4006381333931;1.249,90;12;Schalen;
        1002;KY-0002;Teller;4006381333948;8,50;0;Teller;
        1003;KY-0003;Becher;4006381333955;12,00;7;Becher;
        """;

    private const string Receipts = """
        Bon;Datum;Summe;Artikel;Menge;Preis
        7001;28.11.2026 09:15;20,50;KY-0002;1;8,50
        7001;28.11.2026 09:15;20,50;KY-0003;1;12,00
        7002;28.11.2026 10:40;17,00;KY-0002;2;8,50
        """;

    [Fact]
    public void A_table_with_a_title_above_it_is_taken_apart()
    {
        var windows = TextEncoding.Named("windows-1252");
        var read = Of("artikel_20261128-060000.csv", Articles, windows).Value;
        var resource = read.Resource;
        (resource.Kind, resource.Key, resource.File, resource.Time, resource.Whole).ShouldBe(
            (RecordKind.Item, "PLU", "artikel_{time}.csv", "yyyyMMdd-HHmmss", true)
        );
        (resource.Header, resource.Delimiter, resource.Encoding).ShouldBe((3, ';', "windows-1252"));
        resource
            .Fields.Where(f => f.Role != FieldRole.None)
            .Select(f => (f.Column, f.Role, f.Type))
            .ShouldBe([
                ("Art.-Nr.", FieldRole.Sku, FieldType.Text),
                ("Bezeichnung", FieldRole.Title, FieldType.Text),
                ("EAN", FieldRole.Barcode, FieldType.Text),
                ("VK-Preis", FieldRole.Price, FieldType.Money),
                ("Bestand", FieldRole.OnHand, FieldType.Integer),
                ("Warengruppe", FieldRole.Category, FieldType.Text),
            ]);
        resource.Fields.Single(f => f.Role == FieldRole.Price).DecimalMark.ShouldBe(',');
        read.Remarks.ShouldContain("line 3 names its columns; what stands above it is left out");
        read.Remarks.ShouldContain("semicolons between its cells");
        read.Fields.Single(f => f.Path == "Bezeichnung").Values.ShouldContain("Schüssel, groß");
    }

    [Fact]
    public void Rows_under_one_number_are_an_order_with_lines()
    {
        var read = Of("bons_2026-11-28.csv", Receipts).Value;
        var resource = read.Resource;
        (resource.Kind, resource.Key, resource.File, resource.Time, resource.Whole).ShouldBe(
            (RecordKind.Order, "Bon", "bons_{time}.csv", "yyyy-MM-dd", false)
        );
        resource.Fields.Select(f => f.Column).ShouldBe(["Bon", "Datum", "Summe"]);
        (resource.Fields[1].Type, resource.Fields[1].Format).ShouldBe((FieldType.Instant, "dd.MM.yyyy HH:mm"));
        var lines = resource.Children.ShouldHaveSingleItem();
        (lines.Name, lines.Role).ShouldBe(("lines", ListRole.Lines));
        lines
            .Fields.Select(f => (f.Column, f.Role))
            .ShouldBe([("Artikel", FieldRole.Sku), ("Menge", FieldRole.Quantity), ("Preis", FieldRole.Price)]);
        read.Remarks.ShouldContain("rows with the same “Bon” are one order: 2 in 3 rows");
    }

    private const string Nested =
        "{\"no\":\"G-1\",\"text\":{\"title\":\"Bowl\"},\"price\":{\"net\":2.5,\"unit\":{\"of\":\"pcs\"}},\"tags\":[\"a\"]}\n"
        + "{\"no\":\"G-2\",\"text\":{\"title\":\"Cup\"},\"price\":{\"net\":3,\"unit\":{\"of\":\"pcs\"}},\"tags\":[]}\n";

    [Fact]
    public async Task Values_within_objects_are_columns_of_their_own()
    {
        var read = Of("goods.jsonl", Nested).Value;
        read.Columns.ShouldBe(["no", "text.title", "price.net", "price.unit.of"]);
        read.Resource.Fields.Single(f => f.Column == "text.title").Role.ShouldBe(FieldRole.Title);
        var folder = Directory.CreateTempSubdirectory("narbit-table");
        using var adapter = new FileAdapter(Document(read.Resource), folder.FullName, TimeProvider.System);
        await adapter.BringAsync(RecordKind.Item, "goods.jsonl", Content(Nested), default);
        var records = (await adapter.ReadPageAsync(RecordKind.Item, null, null, default)).Value.Records;
        var price = read.Resource.Fields.Single(f => f.Column == "price.net").Name;
        records.Select(r => r.Values[price]).ShouldBe(["2.5", "3"]);
        folder.Delete(recursive: true);
    }

    [Fact]
    public async Task What_is_proposed_reads_the_file_that_it_was_proposed_from()
    {
        foreach (
            var (name, text, kind, count) in new[]
            {
                ("artikel_20261128-060000.csv", Articles, RecordKind.Item, 3),
                ("bons_2026-11-28.csv", Receipts, RecordKind.Order, 2),
                (
                    "artikel.jsonl",
                    "{\"plu\":1,\"preis\":2.5,\"name\":\"Krug\"}\n{\"plu\":2,\"preis\":3,\"name\":\"Topf\"}\n",
                    RecordKind.Item,
                    2
                ),
                ("goods.jsonl", Nested, RecordKind.Item, 2),
            }
        )
        {
            var folder = Directory.CreateTempSubdirectory("narbit-table");
            var document = Document(Of(name, text).Value.Resource);
            using var adapter = new FileAdapter(document, folder.FullName, TimeProvider.System);
            (await adapter.BringAsync(kind, name, Content(text), default)).Value.ShouldBe(name);
            var page = (await adapter.ReadPageAsync(kind, null, null, default)).Value;
            page.Records.Count.ShouldBe(count, name);
            page.Records.SelectMany(r => r.Problems).ShouldBeEmpty(name);
            folder.Delete(recursive: true);
        }
    }

    [Fact]
    public void Columns_without_names_are_called_by_their_place_and_a_person_may_say_which_line_has_them()
    {
        var bare = Of("stock.csv", "A-1,12,4006381333931\nA-2,0,4006381333948\n").Value;
        (bare.Resource.Header, bare.Resource.Key).ShouldBe((0, "1"));
        bare.Columns.ShouldBe(["1", "2", "3"]);
        bare.Remarks.ShouldContain("no line names its columns, so they are called by their place");

        var twice = Of("items.csv", "code;name;price\nkey;text;amount\nA-1;Bowl;2.50\nA-2;Cup;3.00\n").Value;
        (twice.Resource.Header, twice.Columns[0]).ShouldBe((2, "key"));
        twice.Remarks.ShouldContain("lines 1 and 2 both look like names of columns; 2 was taken, so choose");
        var said = Of("items.csv", "code;name;price\nkey;text;amount\nA-1;Bowl;2.50\n", form: new TableForm { Header = 1 }).Value;
        said.Columns.ShouldBe(["code", "name", "price"]);
    }

    [Fact]
    public void A_workbook_is_read_like_any_table()
    {
        using var book = new MemoryStream();
        TableOut.Write(
            book,
            ".xlsx",
            ["SKU", "Title", "Price"],
            [
                ["A-1", "Bowl", "2.5"],
                ["A-2", "Cup", "3"],
            ]
        );
        var read = TableReading.Of(new MemoryStream(book.ToArray()), "list.xlsx").Value;
        (read.Resource.Key, read.Resource.Encoding, read.Resource.File).ShouldBe(("SKU", null, "list.xlsx"));
        read.Remarks.ShouldContain("its name says no time: it is one file, “list.xlsx”, that is written over");
    }

    [Theory]
    [InlineData("empty.csv", "", "empty.csv is empty")]
    [InlineData("names.csv", "sku,title\n", "no row stands below it")]
    [InlineData("same.csv", "sku,title\nA,x\nA,x\n", "nothing can be their key")]
    [InlineData("list.docx", "x", "what it holds is told by its ending")]
    [InlineData("odd.jsonl", "{\"a\":1}\n[1]\n", "each line must be a JSON object")]
    [InlineData("odd.jsonl", "{\"a\":1}\nno\n", "line 2 is no JSON object")]
    public void What_is_no_table_says_so(string name, string text, string words) => Of(name, text).Fault!.Words.ShouldContain(words);

    [Fact]
    public void Columns_of_one_name_are_left_out_and_said()
    {
        var read = Of("items.csv", "sku;price;price;\nA-1;1;2;x\nA-2;3;4;y\n").Value;
        read.Columns.ShouldBe(["sku"]);
        read.Remarks.ShouldContain("“price” names several columns, which are left out: rename all but one");
        read.Remarks.ShouldContain("left out for want of a name: 1 column");
    }

    private static Outcome<FileProposal> Of(string name, string text, Encoding? encoding = null, TableForm? form = null) =>
        TableReading.Of(Content(text, encoding), name, form);

    private static MemoryStream Content(string text, Encoding? encoding = null) => new((encoding ?? Encoding.UTF8).GetBytes(text));

    private static FileDocument Document(FileResource resource) =>
        new()
        {
            Format = FileDocument.CurrentFormat,
            Name = "Market Hall",
            Kind = SystemKind.PointOfSale,
            Mark = "MH",
            Currency = "EUR",
            Address = "market-hall",
            Out = "out",
            Archive = "out/archive",
            SettleSeconds = 0,
            Resources = [resource],
        };
}
