using System.Text;
using System.Text.Json;
using Narbit.Cli;
using Narbit.Core;

namespace Narbit.Core.Tests;

/// <summary>The worked cases of the rules, through the same door as the command line.</summary>
public sealed class CaseTests
{
    public static TheoryData<int, string> PriceCases => Cases("price");

    public static TheoryData<int, string> StockCases => Cases("stock");

    public static TheoryData<int, string> OrderCases => Cases("order");

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

    [Fact]
    public void All_the_cases_are_here()
    {
        PriceCases.Count.ShouldBe(60);
        StockCases.Count.ShouldBe(60);
        OrderCases.Count.ShouldBe(120);
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
