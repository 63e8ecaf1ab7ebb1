using System.Buffers;
using System.Text;
using System.Text.Json;
using CsCheck;
using Narbit.Cli;
using Narbit.Core.Stock;

namespace Narbit.Core.Tests;

/// <summary>
/// Stock lines are read by hand where they are ordinary and by the serializer where they are not; both must say the same.
/// </summary>
public sealed class StockLineTests
{
    private static readonly Gen<StockLevel> Level =
        from location in Any.Of("main", "shop", "Quay \"Street\"", "Кiln")
        from onHand in Gen.Int[-5, 99_999]
        from allocated in Gen.Int[0, 40]
        select new StockLevel(location, onHand, allocated, allocated * 2);

    private static readonly Gen<StockCase> Case =
        from levels in Level.Array[0, 4]
        from kit in Gen.Select(Gen.Int[1, 4], Level.Array[0, 2], (n, l) => new KitPart(n, l)).Array[0, 2]
        from kind in Gen.Enum<ReplenishKind>()
        from share in Gen.Int[0, 100]
        from zero in Gen.Int[0, 9]
        from flags in Gen.Int[0, 31]
        select new StockCase(
            new StockRule
            {
                Basis = (flags & 1) == 0 ? StockBasis.Available : StockBasis.OnHand,
                IncludeIncoming = (flags & 2) != 0,
                AllowNegative = (flags & 4) != 0,
                Share = share,
                ZeroBelow = zero,
                Locations = (flags & 8) == 0 ? [] : ["main", "shop"],
                Bands =
                    (flags & 16) == 0
                        ? []
                        :
                        [
                            new StockBand
                            {
                                From = 0,
                                To = 11,
                                Add = 4,
                            },
                            new StockBand { From = 12, Set = 24 },
                        ],
                Replenish = new Replenish
                {
                    Kind = kind,
                    Limit = 14,
                    AtOrBelow = 3,
                    To = 20,
                },
            },
            new StockItem
            {
                Levels = levels,
                Kit = kit,
                Target = zero,
                LastSource = share,
                Published = (flags & 3) != 0,
                Tracked = flags != 7,
            }
        );

    [Fact]
    public void Both_ways_of_reading_a_line_give_the_same_result() =>
        Case.Sample(c =>
        {
            var ordinary = JsonSerializer.Serialize(c, RuleJson.Options);
            // A key written with an escape means the same, and is left to the serializer.
            var unusual = ordinary.Replace("\"rule\"", "\"r\\u0075le\"", StringComparison.Ordinal);
            Compute(ordinary).ShouldBe(Compute(unusual));
        });

    [Fact]
    public void The_result_is_what_the_serializer_would_write() =>
        Case.Sample(c =>
            Compute(JsonSerializer.Serialize(c, RuleJson.Options))
                .ShouldBe(JsonSerializer.Serialize(c.Rule!.Quantity(c.Item!), RuleJson.Options))
        );

    [Theory]
    [InlineData("""{"rule":{"cap":007},"item":{}}""")]
    [InlineData("""{"rule":{},"item":{},}""")]
    [InlineData("""{"rule":{},"item":{}} x""")]
    [InlineData("""{"rule":{"locations":["a" "b"]},"item":{}}""")]
    [InlineData("""{"rule":{"bands":[{"from":0]},"item":{}}""")]
    [InlineData("""{"rule":{"cap":},"item":{}}""")]
    [InlineData("""{"rule":{},"item":{"levels":[{"onHand":1}]}""")]
    [InlineData("""{"rule":{},"item":{"tracked":tru}}""")]
    [InlineData("""{"rule":{},"item":{}""")]
    public void What_is_no_json_is_refused_all_the_same(string line) => Should.Throw<JsonException>(() => Compute(line));

    [Theory]
    [InlineData("""{"rule":{"cap":5},"item":{"levels":[{"location":"a","onHand":1e2}]}}""", 5)]
    [InlineData("""{"rule":{},"item":{"levels":[{"location":"a","onHand":12345678901}]}}""", 12345678901)]
    [InlineData(
        """ { "rule" : { } , "item" : { "levels" : [ { "location" : "a" , "onHand" : 7 } ] } , "expect" : { "a" : "}" , "b" : { } } } """,
        7
    )]
    public void Unusual_numbers_and_blanks_are_understood(string line, long quantity) =>
        Compute(line).ShouldStartWith($"{{\"quantity\":{quantity},");

    private static string Compute(string line)
    {
        var results = new ArrayBufferWriter<byte>();
        CaseFile.Stock(Encoding.UTF8.GetBytes(line), results);
        return Encoding.UTF8.GetString(results.WrittenSpan);
    }
}
