using System.Globalization;
using System.Text;
using CsCheck;
using Narbit.Core.Records;

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

    [Fact]
    public void Instants_that_are_counted_come_back_to_the_unit() =>
        Gen.Long[0, 253_402_300_799_999]
            .Sample(count =>
            {
                var instant = DateTimeOffset.UnixEpoch.AddMilliseconds(count);
                foreach (var (form, unit) in new[] { (EpochForm.Seconds, 1000), (EpochForm.Milliseconds, 1) })
                {
                    var counted = EpochForm.Count(instant, form);
                    counted.ShouldBe(count / unit);
                    EpochForm
                        .Instant(counted.ToString(CultureInfo.InvariantCulture), form)
                        .ShouldBe(instant.AddMilliseconds(-(count % unit)));
                }
            });

    [Theory]
    [InlineData("-1")]
    [InlineData("soon")]
    [InlineData("253402300800")]
    [InlineData("1764400000.5")]
    public void What_is_no_count_is_no_instant(string text) => EpochForm.Instant(text, EpochForm.Seconds).ShouldBeNull();

    [Theory]
    [InlineData("8,50", ',', "8.50")]
    [InlineData("1.249,90", ',', "1249.90")]
    [InlineData("-1.000.249,9", ',', "-1000249.9")]
    [InlineData("1,249.90", '.', "1249.90")]
    [InlineData("12", ',', "12")]
    // It may be a thousand and something, or one and something.
    [InlineData("1.249", ',', null)]
    [InlineData("1,249", '.', null)]
    [InlineData("12.49,90", ',', null)]
    [InlineData("1.2490,90", ',', null)]
    [InlineData("8,50.1", ',', null)]
    [InlineData("x.249,90", ',', null)]
    public void As_people_write_them(string text, char mark, string? plain) => Numbers.WithPoint(text, mark).ShouldBe(plain);
}
