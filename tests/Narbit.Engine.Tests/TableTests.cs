using System.IO.Compression;
using System.Text;
using MiniExcelLibs;
using Narbit.Adapters.Files;
using Narbit.Core;

namespace Narbit.Engine.Tests;

public sealed class TableTests
{
    private static readonly TableShape Shape = new(["key", "part_number", "title"], ["key"]);

    [Theory]
    [InlineData("key,title\n1,Glaze\n")]
    [InlineData("key;title\r\n1;Glaze\r\n")]
    [InlineData("Key\tTitle\r1\tGlaze\r")]
    [InlineData("\"key\",\"title\"\r\n\"1\",\"Glaze\"")]
    [InlineData("title|other|KEY\nGlaze|x|1\n\n")]
    public void Delimiters_line_ends_and_the_order_of_columns_are_found_out(string text) =>
        Read(Encoding.UTF8.GetBytes(text)).ShouldBe(["2: 1 - Glaze"]);

    [Fact]
    public void Mixed_line_ends_and_breaks_within_cells_keep_the_lines_right() =>
        Read(Encoding.UTF8.GetBytes("key,title\r\n1,\"two\nlines\"\n2,\"a \"\"b\"\", c\"\r\n3,x\n"))
            .ShouldBe(["2: 1 - two\nlines", "4: 2 - a \"b\", c", "5: 3 - x"]);

    [Theory]
    [InlineData("utf-8", true)]
    [InlineData("utf-8", false)]
    [InlineData("utf-16", true)]
    [InlineData("utf-16", false)]
    [InlineData("utf-16BE", true)]
    [InlineData("utf-16BE", false)]
    [InlineData("windows-1252", false)]
    public void The_encoding_is_found_out(string name, bool mark)
    {
        var encoding = name == "windows-1252" ? TextEncoding.Named(name) : Encoding.GetEncoding(name);
        byte[] bytes =
        [
            .. mark ? encoding.GetPreamble() : [],
            .. encoding.GetBytes("key,title\n1,Glasur grün, 500 ml und lange genug\n".Replace(", ", " ", StringComparison.Ordinal)),
        ];
        Read(bytes).ShouldBe(["2: 1 - Glasur grün 500 ml und lange genug"]);
    }

    [Theory]
    [InlineData("t.csv", "title\nx\n", "t.csv: line 1 has no column “key”. It has: title.")]
    [InlineData("t.csv", "key,Key\n1,2\n", "two columns|2 columns “key”")]
    [InlineData("t.csv", "", "the file is empty")]
    [InlineData("t.jsonl", "{\"key\":1}\n{\"title\":\"x\"}\n", "line 2 has no “key”")]
    [InlineData("t.jsonl", "{\"key\":1}\nnonsense\n", "line 2 is no JSON")]
    [InlineData("t.jsonl", "[1]", "line 1 is no JSON object")]
    [InlineData("t.xlsx", "no workbook", "is no workbook")]
    [InlineData("t.docx", "x", "what it holds is told by its ending")]
    public void What_is_wrong_is_said_by_line(string name, string text, string message) =>
        Table
            .All(Table.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), name, Shape))
            .Fault!.Words.ShouldMatch(
                message.Replace("two columns|", "", StringComparison.Ordinal).Replace(".", "\\.", StringComparison.Ordinal)
            );

    [Theory]
    [InlineData("endless.csv")]
    [InlineData("endless.jsonl")]
    public void A_gigabyte_of_one_line_is_refused_without_being_taken_in(string name)
    {
        var before = GC.GetTotalAllocatedBytes(precise: true);
        using var endless = new Endless(1L << 30);
        Table
            .All(Table.Read(endless, name, Shape))
            .Fault!.ShouldSatisfyAllConditions(f => f.Code.ShouldBe("table.lineTooLong"), f => f.Words.ShouldContain("line 1"));
        (GC.GetTotalAllocatedBytes(precise: true) - before).ShouldBeLessThan(64L << 20);
    }

    [Fact]
    public void A_zip_bomb_is_not_opened()
    {
        using var bomb = new MemoryStream();
        using (var zip = new ZipArchive(bomb, ZipArchiveMode.Create, leaveOpen: true))
        {
            zip.CreateEntry("xl/workbook.xml");
            using var sheet = zip.CreateEntry("xl/worksheets/sheet1.xml", CompressionLevel.Fastest).Open();
            var zeros = new byte[1 << 20];
            for (var i = 0; i < 40; i++)
                sheet.Write(zeros);
        }

        bomb.Length.ShouldBeLessThan(1 << 20);
        var fault = Table.All(Table.Read(bomb, "bomb.xlsx", Shape, new TableLimits { Unpacked = 16 << 20 })).Fault!;
        fault.ShouldSatisfyAllConditions(f => f.Code.ShouldBe("table.tooLarge"), f => f.Words.ShouldContain("unpacks to more than 16 MiB"));
    }

    [Theory]
    [InlineData("t.csv")]
    [InlineData("t.jsonl")]
    public void A_file_that_is_too_large_as_a_whole_is_refused_before_it_is_read(string name)
    {
        using var file = new Endless(3L << 30);
        var fault = Table.All(Table.Read(file, name, Shape)).Fault!;
        (fault.Code, fault.Words).ShouldBe(("table.tooLarge", $"{name} has 3,072 MiB; at most 1,024 MiB are read. Split it."));
    }

    [Theory]
    [InlineData("key;title\n1;a\n2;b;;\n", "t.csv: line 3 has more than 3 columns.")]
    [InlineData("key;title\r\n1;\"a\r\nb\";;\r\n", "t.csv: line 3 has more than 3 columns.")]
    [InlineData("key;;;title\n1;a\n", "t.csv: line 1 has more than 3 columns.")]
    [InlineData("key;title\n1;\"a;b;\"\"c\"\";;;d\"\n", null)]
    [InlineData("key;title\n1;a, b, c, d\n", null)]
    [InlineData("key;title\n1;5\" wide;\n2;4\";\n", null)]
    public void A_line_with_too_many_cells_is_refused_and_what_stands_within_a_cell_is_none(string text, string? words) =>
        Table
            .All(Table.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), "t.csv", Shape, new TableLimits { Columns = 3 }))
            .Fault.ShouldBe(words is null ? null : new Reason("table.tooWide", words));

    [Fact]
    public void Too_many_rows_are_refused() =>
        Table
            .All(Table.Read(new MemoryStream("key\n1\n2\n3\n"u8.ToArray()), "t.csv", Shape, new TableLimits { Rows = 2 }))
            .Fault!.Code.ShouldBe("table.tooLong");

    [Theory]
    [InlineData(".csv")]
    [InlineData(".xlsx")]
    [InlineData(".jsonl")]
    public void What_is_written_is_read_again(string ending)
    {
        using var stream = new MemoryStream();
        TableOut.Write(
            stream,
            ending,
            ["key", "part_number", "title"],
            [
                ["1", null, "a \"b\", c\nd"],
                ["007", "P-1", "grün"],
            ]
        );
        Table
            .All(Table.Read(new MemoryStream(stream.ToArray()), "t" + ending, Shape))
            .Value.Select(r => string.Join('|', r.Cells.Select(c => c ?? "-")))
            .ShouldBe(["1|-|a \"b\", c\nd", "007|P-1|grün"]);
    }

    [Fact]
    public void Columns_that_are_called_alike_or_like_a_formula_are_written_as_they_should()
    {
        using var csv = new MemoryStream();
        TableOut.Write(
            csv,
            ".csv",
            ["=cmd", "a,b"],
            [
                ["1", "2"],
            ]
        );
        Encoding.UTF8.GetString(csv.ToArray()).ShouldBe("'=cmd,\"a,b\"\r\n1,2\r\n");
        using var workbook = new MemoryStream();
        TableOut.Write(
            workbook,
            ".xlsx",
            ["key", "title", "title"],
            [
                ["1", "one", "two"],
            ]
        );
        workbook.Position = 0;
        ((IDictionary<string, object>)workbook.Query(useHeaderRow: true).Single()).ShouldBe(
            new Dictionary<string, object>
            {
                ["key"] = "1",
                ["title"] = "one",
                ["title (2)"] = "two",
            }
        );
    }

    [Theory]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("@x", "'@x")]
    [InlineData("+x", "'+x")]
    [InlineData("-x", "'-x")]
    [InlineData("-4.50", "-4.50")]
    [InlineData("=HYPERLINK(\"x\")", "\"'=HYPERLINK(\"\"x\"\")\"")]
    [InlineData("plain", "plain")]
    [InlineData(null, "")]
    public void No_spreadsheet_is_handed_a_formula(string? text, string cell) => TableOut.Cell(text).ShouldBe(cell);

    private static string[] Read(byte[] bytes) =>
        [
            .. Table
                .All(Table.Read(new MemoryStream(bytes), "t.csv", Shape))
                .Value.Select(r => $"{r.Line}: {string.Join(' ', r.Cells.Select(c => c ?? "-"))}"),
        ];

    // A stream of the letter x, made as it is read.
    private sealed class Endless(long length) : Stream
    {
        private long _at;

        public override bool CanRead => true;

        public override bool CanSeek => true;

        public override bool CanWrite => false;

        public override long Length => length;

        public override long Position
        {
            get => _at;
            set => _at = value;
        }

        public override int Read(byte[] buffer, int offset, int count)
        {
            var n = (int)Math.Min(count, length - _at);
            buffer.AsSpan(offset, n).Fill((byte)'x');
            _at += n;
            return n;
        }

        public override void Flush() { }

        public override long Seek(long offset, SeekOrigin origin) => _at = offset;

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
    }
}
