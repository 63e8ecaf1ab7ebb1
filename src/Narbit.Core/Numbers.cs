using System.Globalization;
using System.Text;

namespace Narbit.Core;

/// <summary>How the rules write numbers: invariant, without an exponent or trailing zeros.</summary>
public static class Numbers
{
    // 29 digits, a sign and a point.
    private const int LongestNumber = 32;

    // Stock is mostly small whole numbers, and every step of every trace names two.
    private static readonly string[] Small = [.. Enumerable.Range(0, 4096).Select(n => n.ToString(CultureInfo.InvariantCulture))];

    /// <summary>The shortest exact form of a decimal: 1.50 becomes <c>1.5</c>, 2.00 becomes <c>2</c>.</summary>
    public static string Plain(decimal value)
    {
        if (value >= 0 && value < Small.Length && value.Scale == 0)
            return Small[(int)value];
        Span<byte> text = stackalloc byte[LongestNumber];
        return Encoding.ASCII.GetString(text[..Plain(value, text)]);
    }

    /// <summary>Writes the shortest exact form of a decimal as ASCII.</summary>
    /// <param name="value">Any decimal.</param>
    /// <param name="into">At least 32 bytes.</param>
    /// <returns>How many bytes it took.</returns>
    public static int Plain(decimal value, Span<byte> into)
    {
        Span<int> parts = stackalloc int[4];
        decimal.GetBits(value, parts);
        var scale = (parts[3] >> 16) & 0xFF;
        return parts[2] == 0 ? Plain(((ulong)(uint)parts[1] << 32) | (uint)parts[0], scale, parts[3] < 0, into) : Long(value, into);
    }

    // The digits from the last to the first, with the point where the scale says; zeros at the end are left out.
    private static int Plain(ulong digits, int scale, bool negative, Span<byte> into)
    {
        for (; scale > 0 && digits % 10 == 0; scale--)
            digits /= 10;
        Span<byte> reversed = stackalloc byte[LongestNumber];
        var length = 0;
        for (var place = 0; digits > 0 || place <= scale; place++)
        {
            if (place == scale && place > 0)
                reversed[length++] = (byte)'.';
            (digits, var digit) = (digits / 10, digits % 10);
            reversed[length++] = (byte)('0' + digit);
        }

        if (negative && (length > 1 || reversed[0] != '0'))
            reversed[length++] = (byte)'-';
        for (var i = 0; i < length; i++)
            into[i] = reversed[length - 1 - i];
        return length;
    }

    private static int Long(decimal value, Span<byte> into)
    {
        value.TryFormat(into, out var length, default, CultureInfo.InvariantCulture);
        ReadOnlySpan<byte> text = into[..length];
        return text.Contains((byte)'.') ? text.TrimEnd((byte)'0').TrimEnd((byte)'.').Length : length;
    }

    /// <summary>An amount with two digits after the point.</summary>
    public static string Cents(decimal value) => value.ToString("0.00", CultureInfo.InvariantCulture);

    /// <summary>The value with at least <paramref name="decimals"/> digits after the point: 602.1 with 3 is 602.100.</summary>
    /// <param name="value">Any decimal.</param>
    /// <param name="decimals">0 to 28.</param>
    public static decimal WithDecimals(decimal value, int decimals)
    {
        var rounded = decimal.Round(value, decimals);
        return rounded == value ? rounded + new decimal(0, 0, 0, false, (byte)decimals) : value;
    }

    /// <summary>A change from one amount to another in percent, or null where the first is zero.</summary>
    public static decimal? Move(decimal? before, decimal? after) =>
        before is null or 0 || after is null
            ? null
            : decimal.Round((after.Value - before.Value) / Math.Abs(before.Value) * 100, 1, MidpointRounding.AwayFromZero);

    /// <summary>
    /// A number as people write it, with a point and without groups: 1.249,90 with a comma for its mark is 1249.90. Groups of thousands
    /// are taken only where the decimal mark stands after them: 1.249 alone may be either.
    /// </summary>
    /// <param name="text">What is written.</param>
    /// <param name="mark">The decimal mark, a point or a comma.</param>
    /// <returns>The plain form; null where another mark stands in it.</returns>
    public static string? WithPoint(string text, char mark)
    {
        var other = mark == ',' ? '.' : ',';
        if (text.Contains(other, StringComparison.Ordinal))
        {
            if (!AreThousands(text, text.IndexOf(mark, StringComparison.Ordinal), other))
                return null;
            text = text.Replace(other.ToString(), "", StringComparison.Ordinal);
        }

        return text.Replace(mark, '.');
    }

    private static bool AreThousands(string text, int decimals, char between)
    {
        if (decimals < 0)
            return false;
        var groups = text[..decimals].TrimStart('-', '+').Split(between);
        return !text[decimals..].Contains(between, StringComparison.Ordinal)
            && groups[0].Length is > 0 and <= 3
            && groups.Skip(1).All(g => g.Length == 3)
            && groups.All(g => g.All(char.IsAsciiDigit));
    }
}
