using System.Text;
using System.Text.Json;
using CsCheck;
using Narbit.Adapters.Files;
using Narbit.Cli;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;

namespace Narbit.Core.Tests;

/// <summary>A lane's work from files: the fast reader against a plain comparison of the same values.</summary>
// Both look at what is said on the error stream.
[Collection(nameof(PairFileTests))]
public sealed class PreviewFileTests : IDisposable
{
    private static readonly Gen<string> Cell = Gen.OneOf(
        Gen.Const(""),
        Gen.Const("a"),
        Gen.Const("b,c"),
        Gen.Const("say \"hi\""),
        Gen.Const("two\nlines"),
        Gen.Const("käse"),
        Gen.Const("d;e"),
        Gen.Const("12.50")
    );
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-preview");

    public void Dispose() => _folder.Delete(recursive: true);

    private string At(string name) => Path.Combine(_folder.FullName, name);

    [Fact]
    public void It_finds_in_files_what_a_comparison_of_their_values_finds()
    {
        File.WriteAllText(
            At("lane.json"),
            JsonSerializer.Serialize(
                new LaneFile
                {
                    Format = LaneFile.CurrentFormat,
                    Document = new ItemDocument(
                        new FieldMap
                        {
                            Fields = [.. new[] { "x", "y" }.Select(f => new FieldMapping { Target = f, Source = new MapSource([f]) })],
                            Publish = new PublishRule { New = NewRecords.All },
                        }
                    ),
                    Guards = GuardLimits.None,
                },
                LaneJson.Options
            )
        );
        var row = Gen.Select(Gen.Int[0, 30], Cell, Cell);
        Gen.Select(row.List[0, 20], row.List[0, 20], Gen.Bool, Gen.Int[0, 3])
            .Sample(
                (left, right, windows, encoding) =>
                {
                    var (here, there) = (Distinct(left), Distinct(right));
                    Write("left.csv", here, windows, Encoding.UTF8);
                    Write(
                        "right.csv",
                        there,
                        !windows,
                        encoding switch
                        {
                            0 => new UTF8Encoding(false),
                            1 => Encoding.UTF8,
                            2 => Encoding.Unicode,
                            _ => TextEncoding.Named("windows-1252"),
                        }
                    );
                    PreviewFile
                        .Run(["--lane", At("lane.json"), "--left", At("left.csv"), "--right", At("right.csv"), "--out", At("changes.csv")])
                        .ShouldBe(0);
                    var found = Table
                        .All(Table.Read(At("changes.csv"), new TableShape(["kind", "key", "field", "old", "new"], [])))
                        .Value.Select(r => string.Join('|', r.Cells.Take(5).Select(c => c ?? "")))
                        .Order(StringComparer.Ordinal);
                    found.ShouldBe(Expected(here, there).Order(StringComparer.Ordinal));
                },
                iter: 60,
                threads: 1
            );
    }

    [Fact]
    public void Numbers_compare_by_meaning_where_the_lane_says_that_they_are_numbers_and_guards_end_with_3()
    {
        File.WriteAllText(
            At("lane.json"),
            """
            { "format": "narbit/lane/2",
              "source": { "key": "sku", "fields": [ { "name": "studio", "type": "money", "role": "price", "list": "Studio" } ] },
              "target": { "key": "sku", "fields": [ { "name": "price", "type": "money", "role": "price", "writable": true } ] },
              "document": { "kind": "price", "rule": { "priceList": "Studio", "bands": [ { "from": "0", "multiply": "1.1" } ] } } }
            """
        );
        File.WriteAllText(At("left.csv"), "sku,studio\nA,10\nB,10.00\nC,20\n");
        File.WriteAllText(At("right.csv"), "sku,price\nA,11.0\nB,10.9\nC,30\n");
        PreviewFile
            .Run(["--lane", At("lane.json"), "--left", At("left.csv"), "--right", At("right.csv"), "--out", At("changes.csv")])
            .ShouldBe(3);
        var lines = File.ReadAllLines(At("changes.csv"));
        lines.Skip(1).Select(l => string.Join(',', l.Split(',').Take(5))).ShouldBe(["change,B,price,10.9,11", "change,C,price,30,22"]);
    }

    private const string Sides = """
        "source": { "fields": [ { "name": "title" }, { "name": "tax", "type": "code" }, { "name": "weight", "type": "weight" } ] },
        "target": { "fields": [ { "name": "caption", "writable": true }, { "name": "taxClass", "type": "code", "writable": true },
                                { "name": "weight", "type": "weight", "writable": true } ] }
        """;

    private const string FieldMap = """
        { "publish": { "new": "all" },
          "fields": [ { "target": "caption", "source": { "fields": ["title"] } },
                      { "target": "weight", "source": { "fields": ["weight"] } },
                      { "target": "taxClass", "source": { "fields": ["tax"] },
                        "steps": [ { "do": "crosswalk", "with": { "table": "Tax" } } ] } ],
          "crosswalks": [ { "name": "Tax", "entries": [ { "from": "S", "to": "A" }, { "from": "R", "to": "B" } ] } ] }
        """;

    private const string Map = $$"""
        { "format": "narbit/lane/2", {{Sides}}, "document": { "kind": "item", "map": {{FieldMap}} } }
        """;

    private const string EarlierMap = $$"""
        { "format": "narbit/lane/1", "kind": "item", {{Sides}}, "map": {{FieldMap}} }
        """;

    [Fact]
    public void A_map_with_steps_is_applied_and_what_cannot_be_mapped_is_held()
    {
        Files(Map);
        Run().Exit.ShouldBe(0);
        var lines = File.ReadAllLines(At("changes.csv"));
        lines[0].ShouldBe("kind,key,field,old,new,reason");
        lines.ShouldContain(l => l.StartsWith("change,A-1,caption,Celadon glaze,\"Celadon glaze, brush-on\",", StringComparison.Ordinal));
        // 1.0 and 1.00 are the same weight; a code without an entry holds its record; what is only there is left.
        lines.ShouldNotContain(l => l.Contains("A-2", StringComparison.Ordinal));
        lines
            .Single(l => l.Contains("A-3", StringComparison.Ordinal))
            .ShouldSatisfyAllConditions(l => l.ShouldNotStartWith("change"), l => l.ShouldContain("crosswalk"));
        lines.Count(l => l.StartsWith("new,A-4,", StringComparison.Ordinal)).ShouldBe(3);
        lines.Single(l => l.StartsWith("gone,A-9", StringComparison.Ordinal)).ShouldContain("the lane leaves it");
    }

    [Fact]
    public void A_lane_of_the_earlier_format_does_the_same()
    {
        Files(Map);
        Run().Exit.ShouldBe(0);
        var now = File.ReadAllText(At("changes.csv"));
        Files(EarlierMap);
        Run().Exit.ShouldBe(0);
        File.ReadAllText(At("changes.csv")).ShouldBe(now);
    }

    [Theory]
    [InlineData(Map, "document.map")]
    [InlineData(EarlierMap, "map")]
    public void Every_fault_of_the_lane_file_is_said_by_its_path(string lane, string map)
    {
        Files(
            lane.Replace("{ \"target\": \"weight\"", "{ \"colour\": 1, \"target\": \"weight\"", StringComparison.Ordinal)
                .Replace("\"all\"", "\"most\"", StringComparison.Ordinal)
        );
        var (exit, said) = Run();
        exit.ShouldBe(1);
        said.ShouldContain($"lane.json: {map}.fields[1].colour: unknown key “colour”");
        said.ShouldContain($"lane.json: {map}.publish.new: is not one of the allowed words");
        Files(lane.Replace("\"do\": \"crosswalk\"", "\"do\": \"dance\"", StringComparison.Ordinal));
        Run().Said.ShouldContain($"lane.json: {map}.fields[2].steps[0]: taxClass: there is no step “dance”");
        File.Delete(At("left.csv"));
        Run().ShouldSatisfyAllConditions(r => r.Exit.ShouldBe(1), r => r.Said.ShouldContain("left.csv"));
    }

    [Theory]
    [InlineData("narbit/lane/3", "format: “narbit/lane/3” is not narbit/lane/2")]
    [InlineData("narbit/lane/2", "document.kind: says what the lane is about: item, price, stock")]
    public void A_file_that_is_no_lane_is_refused_in_words(string format, string words)
    {
        Files($$"""{ "format": "{{format}}", "document": { "kind": "weather" } }""");
        Run().ShouldSatisfyAllConditions(r => r.Exit.ShouldBe(1), r => r.Said.ShouldContain(words));
    }

    private void Files(string lane)
    {
        File.WriteAllText(At("lane.json"), lane);
        File.WriteAllText(
            At("left.csv"),
            "key,title,tax,weight\nA-1,\"Celadon glaze, brush-on\",S,0.38\nA-2,Moss glaze,R,1.0\nA-3,=Formula,Q,2\nA-4,New here,S,1\n"
        );
        File.WriteAllText(
            At("right.csv"),
            "key,caption,taxClass,weight\nA-1,Celadon glaze,A,0.38\nA-2,Moss glaze,B,1.00\nA-3,Old,A,2\nA-9,Only there,A,1\n"
        );
    }

    private (int Exit, string Said) Run()
    {
        var said = new StringWriter();
        var usual = Console.Error;
        Console.SetError(said);
        try
        {
            return (
                PreviewFile.Run([
                    "--lane",
                    At("lane.json"),
                    "--left",
                    At("left.csv"),
                    "--right",
                    At("right.csv"),
                    "--out",
                    At("changes.csv"),
                ]),
                said.ToString()
            );
        }
        finally
        {
            Console.SetError(usual);
        }
    }

    [Theory]
    [InlineData("key,x\n1,a\n1,b\n", "has the key 1, which the 1st has already")]
    [InlineData("key,x\n1,a\n,b\n", "the 2nd record has no key")]
    [InlineData("sku,x\n1,a\n", "has no column “key”")]
    [InlineData("", "is empty")]
    public void A_table_that_cannot_be_told_apart_is_refused_in_words(string table, string message)
    {
        File.WriteAllText(
            At("lane.json"),
            """
            { "format": "narbit/lane/2",
              "document": { "kind": "item", "map": { "fields": [ { "target": "x", "source": { "fields": ["x"] } } ] } } }
            """
        );
        File.WriteAllText(At("left.csv"), table);
        File.WriteAllText(At("right.csv"), "key,x\n1,a\n");
        var (exit, said) = Run();
        exit.ShouldBe(1);
        said.ShouldContain(message);
    }

    [Fact]
    public void The_output_is_never_one_of_the_inputs() =>
        PreviewFile
            .Run(["--lane", At("lane.json"), "--left", At("left.csv"), "--right", At("right.csv"), "--out", At("left.csv")])
            .ShouldBe(2);

    private static Dictionary<int, (string X, string Y)> Distinct(IEnumerable<(int Key, string X, string Y)> rows) =>
        rows.GroupBy(r => r.Key).ToDictionary(g => g.Key, g => (g.First().X, g.First().Y));

    private static IEnumerable<string> Expected(Dictionary<int, (string X, string Y)> here, Dictionary<int, (string X, string Y)> there)
    {
        foreach (var (key, mine) in here)
        {
            if (!there.TryGetValue(key, out var theirs))
            {
                foreach (var (field, value) in new[] { ("x", mine.X), ("y", mine.Y) })
                    if (value.Length > 0)
                        yield return $"new|{key}|{field}||{value}";
                continue;
            }

            if (mine.X != theirs.X)
                yield return $"change|{key}|x|{theirs.X}|{mine.X}";
            if (mine.Y != theirs.Y)
                yield return $"change|{key}|y|{theirs.Y}|{mine.Y}";
        }

        foreach (var key in there.Keys.Where(k => !here.ContainsKey(k)))
            yield return $"gone|{key}|||";
    }

    private void Write(string name, Dictionary<int, (string X, string Y)> rows, bool windows, Encoding encoding)
    {
        var end = windows ? "\r\n" : "\n";
        static string Quoted(string cell) =>
            cell.AsSpan().IndexOfAny(",\"\n") >= 0 ? $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : cell;
        File.WriteAllText(
            At(name),
            "key,x,y" + end + string.Concat(rows.Select(r => $"{r.Key},{Quoted(r.Value.X)},{Quoted(r.Value.Y)}{end}")),
            encoding
        );
    }
}
