using System.Buffers;
using System.Text;
using System.Text.Json;
using Narbit.Cli;
using Narbit.Core.Orders;

namespace Narbit.Core.Tests.Orders;

/// <summary>A line of an order file: read fast where it is ordinary, and written as the serializer would.</summary>
public sealed class OrderLineTests
{
    private const string Rule =
        """{"states":{"open":"take"},"methods":{"card":"card"},"number":"{number}\"}","customer":{"missing":"create"}}""";

    private const string Order = """
        {"id":"1","number":"W}1","placedAt":"2026-11-01T10:00:00Z","state":"open","currency":"EUR","taxIncluded":true,
        "payment":{"state":"paid","method":"card"},"email":"a@lanternmoor.example",
        "billTo":{"name":"Maeve \"Kiln\" Quarry","street":"4 Slip Row","city":"Port Ember","postcode":"LM3","country":"IE"},
        "lines":[{"id":"1","sku":"A","title":"{","quantity":2,"price":"12.00","taxRate":20}],"shipping":[],"total":"24"}
        """;

    private const string Known = """{"items":{"A":"10001"}}""";

    private static readonly string Plain = Line("");

    private static string Line(string more) => $$"""{"rule":{{Rule}},"order":{{Order.ReplaceLineEndings("")}},"known":{{Known}}{{more}}}""";

    public static TheoryData<string> Expectations =>
        new()
        {
            ""","expect":{"outcome":"hold","document":{"number":"} \" {","lines":[{},{}]}}""",
            ""","expect":{}""",
            ""","expect":null""",
            ""","expect":"}{" """,
            ""","expect":[{"a":1},"\\"]""",
            ""","expect":{"a":"\\\\"} """,
        };

    [Theory]
    [MemberData(nameof(Expectations))]
    public void What_is_expected_is_left_unread_whatever_it_is(string expect) => Computed(Line(expect)).ShouldBe(Computed(Plain));

    [Fact]
    public void The_parts_may_come_in_any_order()
    {
        var turned = $$"""{"expect":{"x":"}"},"known":{{Known}},"order":{{Order.ReplaceLineEndings("")}},"rule":{{Rule}}}""";
        Computed(turned).ShouldBe(Computed(Plain));
    }

    [Theory]
    [InlineData("""{"rule":{},"order":{"id":"1","colour":"red"},"known":{}}""", "colour")]
    [InlineData("""{"rule":{"speed":1},"order":{"id":"1"},"known":{}}""", "speed")]
    [InlineData("""{"rule":{},"order":{"id":"1"},"known":{},"more":1}""", "more")]
    [InlineData("""{"rule":{},"known":{}}""", "order")]
    [InlineData("""{"order":{"id":"1"}}""", "rule")]
    [InlineData("""{"rule":{},"order":{"id":"1","decimals":9}}""", "decimals")]
    [InlineData("""{"rule":{},"order":{"id":"1","lines":[{"id":"7","quantity":0}]}}""", "line 7")]
    public void What_is_wrong_with_a_line_is_named(string line, string named)
    {
        var error = Should.Throw<Exception>(() => Computed(line));
        (error is JsonException json ? RuleJson.Explain(json) : error.Message).ShouldContain(named);
    }

    [Fact]
    public void A_result_is_written_as_the_serializer_writes_it()
    {
        var rounds = 0;
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "cases", "order.jsonl")))
        {
            var (rule, order, known, _) = JsonSerializer.Deserialize<OrderCase>(line, RuleJson.Options)!;
            var result = rule!.Compute(order!, known ?? new KnownToHub());
            Computed(line).ShouldBe(JsonSerializer.Serialize(result, RuleJson.Options));
            rounds++;
        }

        rounds.ShouldBe(120);
    }

    [Theory]
    [InlineData("Maeve \"Kiln\" \\ Quarry\t")]
    [InlineData("مريم كوري, 明, Zoë, 🏺")]
    [InlineData("line\u2028more\u007f\ud800")]
    [InlineData("=SUM(A1) <b>&'+")]
    public void Odd_texts_are_written_as_the_serializer_writes_them(string name)
    {
        var order = new Order
        {
            Id = name,
            State = "open",
            BillTo = new OrderAddress
            {
                Name = name,
                Street = "1",
                City = "Port Ember",
                Country = "IE",
            },
            Lines =
            [
                new OrderLine
                {
                    Id = "1",
                    Sku = name,
                    Price = 1.10m,
                    TaxRate = 20,
                },
            ],
        };
        var parts = new OrderCase(JsonSerializer.Deserialize<OrderRule>(Rule, RuleJson.Options), order, new KnownToHub());
        var line = JsonSerializer.Serialize(parts, RuleJson.Options).Replace(",\"expect\":null", "", StringComparison.Ordinal);
        var read = JsonSerializer.Deserialize<OrderCase>(line, RuleJson.Options)!;
        Computed(line).ShouldBe(JsonSerializer.Serialize(read.Rule!.Compute(read.Order!, read.Known!), RuleJson.Options));
    }

    [Fact]
    public void Many_rules_are_told_apart()
    {
        // More than are looked for one by one, each met twice, in another order.
        var lines = Enumerable
            .Range(0, 300)
            .Select(n => Plain.Replace(":\"card\"},\"number\"", $":\"card{n}\"}},\"number\"", StringComparison.Ordinal))
            .ToList();
        foreach (var n in Enumerable.Range(0, 300).Concat(Enumerable.Range(0, 300).Select(n => n * 7 % 300)))
            Computed(lines[n]).ShouldContain($"\"type\":\"card{n}\"");
    }

    private static string Computed(string line)
    {
        var results = new ArrayBufferWriter<byte>();
        CaseFile.Order(Encoding.UTF8.GetBytes(line), results);
        return Encoding.UTF8.GetString(results.WrittenSpan);
    }
}
