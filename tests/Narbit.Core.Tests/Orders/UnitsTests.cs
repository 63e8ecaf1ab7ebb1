using System.Numerics;
using Narbit.Core.Orders;

namespace Narbit.Core.Tests.Orders;

/// <summary>Amounts in whole units: rounded and shared out exactly, beside a plain reckoning with numbers of any size.</summary>
public sealed class UnitsTests
{
    private const int Rounds = 2_000;

    private readonly Random _random = new(20_261_128);

    [Fact]
    public void A_quotient_is_rounded_half_away_from_zero_whatever_its_size()
    {
        for (var n = 0; n < Rounds; n++)
        {
            // Below and above what a machine word holds.
            var number = (Int128)_random.NextInt64(-1_000_000, 1_000_000) * _random.NextInt64(1, n % 2 == 0 ? 100 : 4_000_000_000_000);
            var by = (Int128)_random.NextInt64(1, 10_000);
            Units.Rounded(number, by).ShouldBe(Plain(number, by), $"{number} / {by}");
        }
    }

    [Theory]
    [InlineData(5, 10, 1)]
    [InlineData(-5, 10, -1)]
    [InlineData(4, 10, 0)]
    [InlineData(15, 10, 2)]
    [InlineData(0, 7, 0)]
    [InlineData(-14, 7, -2)]
    public void A_half_goes_away_from_zero(int number, int by, int rounded) => Units.Rounded(number, by).ShouldBe(rounded);

    [Fact]
    public void Parts_add_up_and_none_is_a_whole_unit_off_its_share()
    {
        for (var n = 0; n < Rounds; n++)
        {
            var weights = Enumerable.Range(0, 1 + _random.Next(6)).Select(_ => (Int128)_random.Next(0, 500)).ToList();
            long amount = _random.Next(-100_000, 100_000);
            var parts = Units.ShareOut(amount, weights);
            parts.Sum().ShouldBe(amount);
            var sum = weights.Aggregate(Int128.Zero, (a, b) => a + b);
            for (var i = 0; i < parts.Length; i++)
            {
                var (share, whole) = sum == 0 ? (amount, (Int128)weights.Count) : (amount * weights[i], sum);
                Int128.Abs(parts[i] * whole - share).ShouldBeLessThan(whole);
            }
        }
    }

    [Fact]
    public void What_is_missing_goes_to_the_largest_remainder_and_the_earlier_where_they_tie()
    {
        Units.ShareOut(100, [1, 1, 1]).ShouldBe([34, 33, 33]);
        Units.ShareOut(-100, [1, 1, 1]).ShouldBe([-33, -33, -34]);
        Units.ShareOut(10, [1, 2, 4]).ShouldBe([1, 3, 6]);
        Units.ShareOut(5, [0, 0]).ShouldBe([3, 2]);
        Units.ShareOut(0, [3, 4]).ShouldBe([0, 0]);
        Units.ShareOut(7, [0, 1, 0]).ShouldBe([0, 7, 0]);
    }

    [Fact]
    public void Parts_of_different_wholes_are_compared_by_what_is_left_of_each()
    {
        // 1/3, 1/2 and 2/5 of a unit are left; two are missing.
        Units.Cut([(4, 3), (3, 2), (7, 5)], 5).ShouldBe([1, 2, 2]);
        Units.Cut([(4, 3), (3, 2), (7, 5)], 3).ShouldBe([1, 1, 1]);
        // Too large for a crosswise product within 128 bits.
        var large = (Int128)long.MaxValue * 1_000_000;
        Units.Cut([(large - 1, large), (large - 2, large - 1)], 1).ShouldBe([1, 0]);
    }

    [Theory]
    [InlineData(2, "12.345", 1235, "12.35")]
    [InlineData(0, "1200.5", 1201, "1201")]
    [InlineData(3, "1.2345", 1235, "1.235")]
    [InlineData(2, "-0.005", -1, "-0.01")]
    [InlineData(2, "5.10", 510, "5.1")]
    public void An_amount_becomes_units_of_its_currency_and_back(int decimals, string amount, long units, string text)
    {
        var own = new Units(decimals);
        own.Of(decimal.Parse(amount, System.Globalization.CultureInfo.InvariantCulture)).ShouldBe(units);
        own.Text(units).ShouldBe(text);
    }

    [Fact]
    public void A_customer_is_found_however_his_address_and_number_are_written()
    {
        var known = new KnownToHub
        {
            Customers =
            [
                new KnownCustomer { Key = "C1", Email = " Maeve@Lanternmoor.EXAMPLE " },
                new KnownCustomer { Key = "C2", Phone = "+353 20 910 5001" },
                new KnownCustomer
                {
                    Key = "C3",
                    Name = "Ines  Marrow",
                    Postcode = "lm3-a1bc",
                },
            ],
        };
        Found(known, new Order { Id = "1", Email = "maeve@lanternmoor.example" }).ShouldBe("C1");
        Found(known, new Order { Id = "2", Phone = "00353209105001" }).ShouldBe("C2");
        var address = new OrderAddress { Name = "INES MARROW", Postcode = "LM3 A1BC" };
        Found(known, new Order { Id = "3", BillTo = address }).ShouldBe("C3");
        Found(known, new Order { Id = "4", Phone = "00 12 34" }).ShouldBeNull();
        // A copy with other customers looks among those.
        Found(known with { Customers = [] }, new Order { Id = "5", Email = "maeve@lanternmoor.example" }).ShouldBeNull();
    }

    private static string? Found(KnownToHub known, Order order)
    {
        var rule = new OrderRule { OtherState = OrderOutcome.Take };
        return rule.Compute(order with { Payment = new OrderPayment("paid", null) }, known).Document?.Customer?.Key;
    }

    private static long Plain(Int128 number, Int128 by)
    {
        var (size, whole) = (BigInteger.Abs((BigInteger)number), (BigInteger)by);
        var rounded = (2 * size + whole) / (2 * whole);
        return (long)(number < 0 ? -rounded : rounded);
    }
}
