using System.Text;
using System.Text.Json;
using Narbit.Cli;

namespace Narbit.Core.Tests;

/// <summary>The worked cases of the rules, through the same door as the command line.</summary>
public sealed class CaseTests
{
    public static TheoryData<int, string> PriceCases => Cases("price");

    public static TheoryData<int, string> StockCases => Cases("stock");

    public static TheoryData<int, string> OrderCases => Cases("order");

    public static TheoryData<int, string> TimetableCases => Cases("timetable");

    public static TheoryData<int, string> ReplayCases => Cases("replay");

    [Theory, MemberData(nameof(TimetableCases))]
    public Task Timetable_case(int line, string json) => IsExpectedAsync(line, json, CaseFile.Timetable);

    [Theory, MemberData(nameof(ReplayCases))]
    public Task Replay_case(int line, string json) => IsExpectedAsync(line, json, CaseFile.Replay);

    private static async Task IsExpectedAsync(int line, string json, CaseFile.Compute compute)
    {
        var (expected, result) = await ComputeAsync(json, compute);
        JsonElement.DeepEquals(expected, result).ShouldBeTrue($"line {line}:\n{expected}\nbut was\n{result}");
    }

    [Theory, MemberData(nameof(PriceCases))]
    public async Task Price_case(int line, string json)
    {
        var (expected, result) = await ComputeAsync(json, CaseFile.Price);
        foreach (var name in new[] { "price", "salePrice", "compareAt", "outcome" })
            result.GetProperty(name).ToString().ShouldBe(expected.GetProperty(name).ToString(), $"line {line}, {name}");
        result.GetProperty("trace").GetArrayLength().ShouldBeGreaterThan(0);
    }

    [Theory, MemberData(nameof(StockCases))]
    public async Task Stock_case(int line, string json)
    {
        var (expected, result) = await ComputeAsync(json, CaseFile.Stock);
        result.GetProperty("quantity").ToString().ShouldBe(expected.GetProperty("quantity").ToString(), $"line {line}");
        result.GetProperty("source").ToString().ShouldBe(expected.GetProperty("source").ToString(), $"line {line}");
    }

    [Theory, MemberData(nameof(OrderCases))]
    public async Task Order_case(int line, string json)
    {
        var (expected, result) = await ComputeAsync(json, CaseFile.Order);
        foreach (var part in expected.EnumerateObject())
            JsonElement
                .DeepEquals(part.Value, result.GetProperty(part.Name))
                .ShouldBeTrue($"line {line}, {part.Name}:\n{part.Value}\nbut was\n{result.GetProperty(part.Name)}");
        result.GetProperty("trace").GetArrayLength().ShouldBeGreaterThan(0);
    }

    [Theory]
    [InlineData("""{"after":"2026-01-01T00:00:00Z","count":1}""", "line 1: “timetable” is missing")]
    [InlineData("""{"timetable":{"zone":"UTC","at":["06:30"]},"count":1}""", "line 1: “after” is missing")]
    [InlineData("""{"timetable":{"zone":"UTC","at":["06:30"]},"after":"2026-01-01T00:00:00Z"}""", "line 1: “count” is missing")]
    [InlineData(
        """{"timetable":{"zone":"UTC","at":["6:30"]},"after":"2026-01-01T00:00:00Z","count":1}""",
        "line 1: timetable.at: “6:30” is no clock time"
    )]
    [InlineData(
        """{"timetable":{"zone":"UTC","at":["06:30"],"days":["Monday"]},"after":"2026-01-01T00:00:00Z","count":1}""",
        "line 1: timetable.days[0] cannot be read"
    )]
    public Task A_bad_timetable_says_what_is_wrong_with_it(string line, string message) =>
        IsRefusedAsync(line, message, CaseFile.Timetable);

    [Theory]
    [InlineData("""{"stock":{},"intake":{},"publish":{}}""", "line 1: “from” is missing")]
    [InlineData("""{"from":"2026-01-01T00:00:00Z","intake":{},"publish":{}}""", "line 1: “stock” is missing")]
    [InlineData(
        """{"from":"2026-01-01T00:00:00Z","stock":{"a":-1},"intake":{},"publish":{}}""",
        "line 1: stock: a has -1, which is less than nothing"
    )]
    [InlineData(
        """{"from":"2026-01-01T00:00:00Z","stock":{},"intake":{},"publish":{},"orders":"""
            + """[{"at":"2026-01-01T00:00:00Z","sku":"a","quantity":1}]}""",
        "names no store or no SKU"
    )]
    public Task A_bad_replay_says_what_is_wrong_with_it(string line, string message) => IsRefusedAsync(line, message, CaseFile.Replay);

    [Fact]
    public async Task A_replay_that_is_written_otherwise_is_the_same()
    {
        const string Line =
            """{"from":"2026-01-01T00:00:00Z","stock":{"a":3},"intake":{"s":5},"publish":{"s":0},"orders":[{"at":"2026-01-01T00:01:00Z","""
            + "\"store\":\"s\",\"sku\":\"a\",\"quantity\":2}]}\n";
        var (usual, bad) = await RunAsync(Line, CaseFile.Replay);
        bad.ShouldBe(0);
        usual.ShouldContain("\"accepted\":1");
        (await RunAsync(Line.Replace("\"sku\":\"a\"", "\"sku\":\"\\u0061\""), CaseFile.Replay)).ShouldBe((usual, 0));
        (await RunAsync(Line.Replace("00:01:00Z", "01:01:00+01:00"), CaseFile.Replay)).ShouldBe((usual, 0));
    }

    private static async Task IsRefusedAsync(string line, string message, CaseFile.Compute compute)
    {
        var (output, bad) = await RunAsync(line + "\n", compute);
        bad.ShouldBe(1);
        output.ShouldContain(message);
    }

    [Fact]
    public void All_the_cases_are_here()
    {
        PriceCases.Count.ShouldBe(60);
        StockCases.Count.ShouldBe(60);
        OrderCases.Count.ShouldBe(120);
        TimetableCases.Count.ShouldBe(90);
        ReplayCases.Count.ShouldBe(40);
    }

    [Theory]
    [InlineData("""{"rule":{"priceList":"a","foo":1},"item":{}}""", "line 1: unknown key “foo” in rule")]
    [InlineData("""{"rule":{"tax":{"sorce":"net"}},"item":{}}""", "line 1: unknown key “sorce” in rule.tax")]
    [InlineData("""{"rule":{},"item":{"prices":{"a":{"amout":"1"}}}}""", "line 1: unknown key “amout” in item.prices.a")]
    [InlineData("""{"rule":{},"item":{},"extra":1}""", "line 1: unknown key “extra”")]
    [InlineData("""{"rule":{"sale":"sometimes"},"item":{}}""", "line 1: rule.sale cannot be read")]
    [InlineData("""{"rule":{"currencyRate":"abc"},"item":{}}""", "line 1: rule.currencyRate cannot be read")]
    [InlineData("""{"item":{}}""", "line 1: “rule” is missing")]
    [InlineData("""{"rule":{}}""", "line 1: “item” is missing")]
    [InlineData("""{"rule":{},"item":{"decimals":9}}""", "line 1: item.decimals must be from 0 to 6")]
    [InlineData(
        """{"rule":{"priceList":"a","sale":"merge"},"item":{"prices":{"a":{"amount":"2","sale":"1","saleFrom":"2026-01-01T00:00:00Z"}}}}""",
        "line 1: The sale in list a has dates"
    )]
    [InlineData("no json", "line 1: not a JSON object")]
    public async Task A_bad_line_says_what_is_wrong_with_it(string line, string message)
    {
        var (output, bad) = await RunAsync(line + "\n", CaseFile.Price);
        bad.ShouldBe(1);
        JsonDocument.Parse(output).RootElement.GetProperty("error").GetString().ShouldStartWith(message);
    }

    [Fact]
    public async Task Results_stand_in_the_order_of_the_lines_and_a_bad_one_takes_its_own_place()
    {
        const string good = """{"rule":{"untracked":7},"item":{"tracked":false}}""";
        var (output, bad) = await RunAsync($"{good}\nbroken\n{good.Replace('7', '8')}", CaseFile.Stock);
        var lines = output.TrimEnd('\n').Split('\n');
        bad.ShouldBe(1);
        lines.Length.ShouldBe(3);
        lines[0].ShouldStartWith("""{"quantity":7,"source":null""");
        lines[1].ShouldStartWith("""{"error":"line 2:""");
        lines[2].ShouldStartWith("""{"quantity":8""");
    }

    [Fact]
    public async Task A_kit_component_without_quantity_is_an_error_and_not_a_crash()
    {
        var (output, bad) = await RunAsync("""{"rule":{},"item":{"kit":[{"quantity":0,"levels":[]}]}}""", CaseFile.Stock);
        bad.ShouldBe(1);
        output.ShouldContain("must be above 0");
    }

    [Fact]
    public async Task Numbers_may_be_strings_in_stock_lines_too()
    {
        var (output, bad) = await RunAsync("""{"rule":{"cap":"5"},"item":{"levels":[{"location":"a","onHand":"12"}]}}""", CaseFile.Stock);
        bad.ShouldBe(0);
        output.ShouldStartWith("""{"quantity":5,"source":12""");
    }

    [Fact]
    public async Task The_command_line_reads_and_writes_files_and_tells_by_its_exit_code()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-cases");
        try
        {
            var (input, output) = (Path.Combine(folder.FullName, "in.jsonl"), Path.Combine(folder.FullName, "out.jsonl"));
            await File.WriteAllTextAsync(input, """{"rule":{},"item":{"tracked":false}}""");
            (await CaseFile.RunAsync("stock", ["--in", input, "--out", output], CaseFile.Stock)).ShouldBe(0);
            (await File.ReadAllTextAsync(output)).ShouldStartWith("""{"quantity":1""");
            (await CaseFile.RunAsync("stock", ["--out", output, "--in", input], CaseFile.Stock)).ShouldBe(0);
            await File.WriteAllTextAsync(input, "x");
            (await CaseFile.RunAsync("stock", ["--in", input, "--out", output], CaseFile.Stock)).ShouldBe(1);
            (await CaseFile.RunAsync("stock", ["--in", input], CaseFile.Stock)).ShouldBe(2);
            (await CaseFile.RunAsync("stock", ["--in", input, "--out", input], CaseFile.Stock)).ShouldBe(1);
            (await File.ReadAllTextAsync(input)).ShouldBe("x");
            (await CaseFile.RunAsync("stock", ["--in", input + ".gone", "--out", output], CaseFile.Stock)).ShouldBe(1);
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static TheoryData<int, string> Cases(string kind)
    {
        var data = new TheoryData<int, string>();
        var number = 0;
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "cases", $"{kind}.jsonl")))
            data.Add(++number, line);
        return data;
    }

    private static async Task<(JsonElement Expected, JsonElement Result)> ComputeAsync(string json, CaseFile.Compute compute)
    {
        var (output, bad) = await RunAsync(json, compute);
        bad.ShouldBe(0, output);
        return (JsonDocument.Parse(json).RootElement.GetProperty("expect"), JsonDocument.Parse(output).RootElement);
    }

    private static async Task<(string Output, int Bad)> RunAsync(string input, CaseFile.Compute compute)
    {
        using var output = new MemoryStream();
        var bad = await CaseFile.RunAsync(new MemoryStream(Encoding.UTF8.GetBytes(input)), output, compute);
        return (Encoding.UTF8.GetString(output.ToArray()), bad);
    }
}
