using System.Globalization;
using System.Text;
using CsCheck;

namespace Narbit.Core.Tests;

/// <summary>Numbers in their shortest exact form.</summary>
public sealed class NumbersTests
{
    [Theory]
    [InlineData("0", "0")]
    [InlineData("-0.00", "0")]
    [InlineData("1.50", "1.5")]
    [InlineData("2.00", "2")]
    [InlineData("-0.05", "-0.05")]
    [InlineData("1200", "1200")]
    [InlineData("79228162514264337593543950335", "79228162514264337593543950335")]
    [InlineData("-7.9228162514264337593543950335", "-7.9228162514264337593543950335")]
    [InlineData("0.0000000000000000000000000001", "0.0000000000000000000000000001")]
    public void Zeros_at_the_end_are_left_out(string number, string plain) =>
        Numbers.Plain(decimal.Parse(number, CultureInfo.InvariantCulture)).ShouldBe(plain);

    [Fact]
    public void It_is_the_same_number_and_never_longer() =>
        Gen.Decimal.Sample(number =>
        {
            var bytes = new byte[32];
            var plain = Encoding.ASCII.GetString(bytes, 0, Numbers.Plain(number, bytes));
            plain.ShouldBe(Numbers.Plain(number));
            decimal.Parse(plain, CultureInfo.InvariantCulture).ShouldBe(number);
            plain.Length.ShouldBeLessThanOrEqualTo(number.ToString(CultureInfo.InvariantCulture).Length);
        });
}
