using System.Globalization;

namespace Narbit.Core;

/// <summary>One line of a trace: what a step made of a value, and why.</summary>
/// <param name="Step">The step's name in the rules, e.g. <c>bands</c>; the steps of a carried sale price start with <c>sale </c>.</param>
/// <param name="Before">The value that came in, or null if there was none.</param>
/// <param name="After">The value that went out, or null if none is left.</param>
/// <param name="Why">The reason in plain words.</param>
public readonly record struct TraceStep(string Step, string? Before, string? After, string Why);

/// <summary>How the rules write numbers: invariant, without an exponent or trailing zeros.</summary>
public static class Numbers
{
    // Stock is mostly small whole numbers, and every step of every trace names two.
    private static readonly string[] Small = [.. Enumerable.Range(0, 4096).Select(n => n.ToString(CultureInfo.InvariantCulture))];

    /// <summary>The shortest exact form of a decimal: 1.50 becomes <c>1.5</c>, 2.00 becomes <c>2</c>.</summary>
    public static string Plain(decimal value)
    {
        if (value >= 0 && value < Small.Length && value.Scale == 0)
            return Small[(int)value];
        var text = value.ToString(CultureInfo.InvariantCulture);
        if (!text.Contains('.', StringComparison.Ordinal))
            return text;
        text = text.TrimEnd('0').TrimEnd('.');
        return text == "-0" ? "0" : text;
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
}
