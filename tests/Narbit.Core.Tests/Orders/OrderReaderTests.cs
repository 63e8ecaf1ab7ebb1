using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Narbit.Cli;
using Narbit.Core.Orders;

namespace Narbit.Core.Tests.Orders;

/// <summary>An order that is read fast is the one that the serializer reads, or is left to it.</summary>
public sealed class OrderReaderTests
{
    [Fact]
    public void Every_worked_case_is_read_as_the_serializer_reads_it()
    {
        var read = 0;
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "cases", "order.jsonl")))
        {
            var order = JsonNode.Parse(line)!["order"]!.ToJsonString();
            if (Fast(order) is not { } fast)
                continue;
            read++;
            Json(fast).ShouldBe(Json(Slow(order)), order);
        }

        // What is as it should be is what comes; only what is odd is left to the serializer.
        read.ShouldBeGreaterThan(100);
    }

    [Theory]
    [InlineData("""{"id":"1","total":"12.50","lines":[{"id":"a","quantity":2,"price":"6.25"}]}""")]
    [InlineData("""{"id":"1","total":12.5,"taxTotal":null,"billTo":null,"email":null,"refunds":[]}""")]
    [InlineData("""{"id":"1","total":0,"shipTo":{"phone":null,"name":"Aé明"},"payment":{"state":"paid"}}""")]
    [InlineData("""{"id":"1","total":0,"fees":[{"title":"Gift","amount":1,"taxRate":20}],"vouchers":[{"code":"X","amount":"2"}]}""")]
    [InlineData(
        """{"id":"1","total":-3.00,"refunds":[{"id":"r","at":"2026-11-01T00:00:00Z","lines":[{"line":"a","quantity":1}],"total":1}]}"""
    )]
    [InlineData("""{"id":"first","id":"second","total":1,"total":2}""")]
    public void What_is_as_it_should_be_is_read(string order) => Json(Fast(order).ShouldNotBeNull()).ShouldBe(Json(Slow(order)));

    [Theory]
    [InlineData("""{"total":1}""")]
    [InlineData("""{"id":"1","unknown":1}""")]
    [InlineData("""{"id":"1","lines":null}""")]
    [InlineData("""{"id":"1","lines":[{"sku":"X"}]}""")]
    [InlineData("""{"id":"1","lines":[7]}""")]
    [InlineData("""{"id":"1","total":"1e2"}""")]
    [InlineData("""{"id":"1","total":true}""")]
    [InlineData("""{"id":"1","decimals":"2"}""")]
    [InlineData("""{"id":"1","decimals":2.5}""")]
    [InlineData("""{"id":"1","placedAt":"yesterday"}""")]
    [InlineData("""{"id":"1","taxIncluded":"yes"}""")]
    [InlineData("""{"id":"1","billTo":{"planet":"Mars"}}""")]
    [InlineData("""{"id":"1","billTo":{"name":"A","name":"B"}}""")]
    [InlineData("""{"id":"1","billTo":"here"}""")]
    [InlineData("""{"id":"1","payment":null}""")]
    [InlineData("""{"id":"1","shipping":[{"method":"post"}]}""")]
    [InlineData("""{"id":"1","refunds":[{"id":"r","lines":[{"line":"a"}]}]}""")]
    [InlineData("""{"id":"1","refunds":[{"id":"r","at":5}]}""")]
    [InlineData("""{"id":"1\u00e9"}""")]
    [InlineData("""{"id":"a line\nmore"}""")]
    [InlineData("""{"id":"1","total":"01"}""")]
    [InlineData("""{"id":"1","total":1.}""")]
    [InlineData("""{"id":"1","total":".5"}""")]
    [InlineData("""{"id":"1","total":"1.5}""")]
    [InlineData("""{"id":"1","total":1234567890123456789012}""")]
    [InlineData("""{"id":"1","placedAt":"2026-11-01T08:30:00+01:00"}""")]
    [InlineData("""{"id":"1"} more""")]
    [InlineData("[]")]
    [InlineData("7")]
    public void What_is_odd_is_left_to_the_serializer(string order) => Fast(order).ShouldBeNull();

    private static Order? Fast(string order) => OrderReader.Read(Encoding.UTF8.GetBytes(order));

    private static Order Slow(string order) => JsonSerializer.Deserialize<Order>(order, RuleJson.Options)!;

    private static string Json(Order order) => JsonSerializer.Serialize(order, RuleJson.Options);
}
