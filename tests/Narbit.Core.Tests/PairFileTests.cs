using Narbit.Adapters.Files;
using Narbit.Cli;

namespace Narbit.Core.Tests;

[Collection(nameof(PairFileTests))]
public sealed class PairFileTests : IDisposable
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-pair");

    public void Dispose() => _folder.Delete(recursive: true);

    [Theory]
    [InlineData(".csv")]
    [InlineData(".jsonl")]
    [InlineData(".xlsx")]
    public void Pairs_are_written_a_line_a_left_record_then_what_is_alone_on_the_right(string ending)
    {
        var left = Write("left.csv", "key,sku,title\n1,A-1,Celadon glaze\n2,,Kiln wash\n3,X-1,Rutile\n4,X-1,Rutile\n");
        var right = Write(
            "right.jsonl",
            """
            {"key":"a","sku":"a1","title":"Celadon glaze"}
            {"key":"b","sku":"X-1","title":"Rutile"}
            {"key":"c","sku":"Q-9","title":"Sponge","unheard":"of"}
            """
        );
        var output = Path.Combine(_folder.FullName, "pairs" + ending);
        PairFile.Run(["--left", left, "--right", right, "--out", output]).ShouldBe(0);
        var rows = Table.All(Table.Read(output, new TableShape(["left_key", "right_key", "verdict", "confidence", "evidence"], []))).Value;
        rows.Select(r => string.Join(' ', r.Cells.Take(3).Select(x => x ?? "-")))
            .ShouldBe(["1 a certain", "2 - none", "3 b ambiguous", "4 b ambiguous", "- c none"]);
        rows[0].Cells[3].ShouldNotBeNull();
        rows[2].Cells[4]!.ShouldContain("SKU X-1 is used 2 times in left.csv");
    }

    [Theory]
    [InlineData("sku,title\nA,B\n", "line 1 has no column “key”")]
    [InlineData("key,sku\n1,A\n1,B\n", "line 3 has the key 1, which line 2 has already")]
    [InlineData("key,price\n1,dear\n", "line 2: the price “dear” is no number")]
    [InlineData("key,sku\n,A\n", "line 2 has no key")]
    [InlineData("", "line 1 should name the columns")]
    public void A_bad_file_is_refused_by_line(string content, string message)
    {
        var (code, said) = Run(
            "--left",
            Write("bad.csv", content),
            "--right",
            Write("right.csv", "key\nx\n"),
            "--out",
            Path.Combine(_folder.FullName, "o.csv")
        );
        code.ShouldBe(1);
        said.ShouldContain(message);
        File.Exists(Path.Combine(_folder.FullName, "o.csv")).ShouldBeFalse();
    }

    [Fact]
    public void Wrong_usage_is_told_apart_from_bad_input()
    {
        Run("--left", "a.csv").Code.ShouldBe(2);
        Run("--left", "a.csv", "--right", "b.csv", "--out", "pairs.pdf").Code.ShouldBe(2);
        Run("--left", Write("l.csv", "key\n1\n"), "--right", Path.Combine(_folder.FullName, "none.csv"), "--out", "x.csv")
            .ShouldSatisfyAllConditions(r => r.Code.ShouldBe(1), r => r.Said.ShouldContain("none.csv"));
        Run("--left", Write("l.doc", "key\n1\n"), "--right", Write("r.csv", "key\n1\n"), "--out", "x.csv")
            .Said.ShouldContain("what it holds is told by its ending");
    }

    private static (int Code, string Said) Run(params string[] args)
    {
        var (before, said) = (Console.Error, new StringWriter());
        Console.SetError(said);
        try
        {
            return (PairFile.Run(args), said.ToString());
        }
        finally
        {
            Console.SetError(before);
        }
    }

    private string Write(string name, string content)
    {
        var path = Path.Combine(_folder.FullName, name);
        File.WriteAllText(path, content);
        return path;
    }
}
