using System.Numerics;

namespace Narbit.Core.Orders;

/// <summary>
/// Amounts in whole numbers of a currency's smallest unit, so that sharing out and rounding are exact. Rounding is half away from zero.
/// </summary>
/// <param name="Decimals">The currency's digits after the point.</param>
public readonly record struct Units(int Decimals)
{
    private const long MostInWord = long.MaxValue / 4;

    // The upper half of an amount that stays within a word when it is multiplied by a million.
    private const int MostHigh = 1 << 11;
    private static readonly long[] Powers = [1, 10, 100, 1_000, 10_000, 100_000, 1_000_000];

    /// <summary>An amount as whole units, rounded.</summary>
    public long Of(decimal amount)
    {
        Span<int> parts = stackalloc int[4];
        decimal.GetBits(amount, parts);
        // Nearly every amount fits a machine word and has no more digits than its currency, so that nothing is rounded.
        return amount.Scale <= Decimals && parts is [_, >= 0 and < MostHigh, 0, _]
            ? (amount < 0 ? -1 : 1) * (((long)parts[1] << 32) | (uint)parts[0]) * Powers[Decimals - amount.Scale]
            : (long)decimal.Round(amount * Powers[Decimals], 0, MidpointRounding.AwayFromZero);
    }

    /// <summary>Whole units as an amount, without zeros at its end.</summary>
    public decimal Amount(long units)
    {
        var scale = Decimals;
        for (; scale > 0 && units % 10 == 0; scale--)
            units /= 10;
        var size = units < 0 ? 0UL - (ulong)units : (ulong)units;
        return new decimal((int)size, (int)(size >> 32), 0, units < 0, (byte)scale);
    }

    /// <summary>Units as a person reads them.</summary>
    public string Text(long units) => Numbers.Plain(Amount(units));

    /// <summary>A share of units, rounded: units × part ÷ whole.</summary>
    public static long Share(long units, long part, long whole) => whole == 0 ? 0 : Rounded((Int128)units * part, whole);

    /// <summary>A quotient, rounded half away from zero.</summary>
    public static long Rounded(Int128 number, Int128 by)
    {
        // Nearly every amount fits a machine word, in which dividing is many times as fast.
        if (number >= -MostInWord && number <= MostInWord && by <= MostInWord)
            return RoundedInWord((long)number, (long)by);
        var (quotient, rest) = Int128.DivRem(Int128.Abs(number), by);
        if (rest * 2 >= by)
            quotient++;
        return (long)(number < 0 ? -quotient : quotient);
    }

    private static long RoundedInWord(long number, long by)
    {
        var (quotient, rest) = Math.DivRem(Math.Abs(number), by);
        if (rest * 2 >= by)
            quotient++;
        return number < 0 ? -quotient : quotient;
    }

    /// <summary>
    /// Shares an amount out over weights: each part is cut down, and the units still missing go one each to the parts with the largest
    /// remainder, the earlier first. The parts add up to the amount.
    /// </summary>
    /// <param name="amount">In units.</param>
    /// <param name="weights">None negative; all zero: equal ones.</param>
    public static long[] ShareOut(long amount, IReadOnlyList<Int128> weights)
    {
        var sum = Int128.Zero;
        foreach (var weight in weights)
            sum += weight;
        var parts = new (Int128 Numerator, Int128 Denominator)[weights.Count];
        for (var i = 0; i < parts.Length; i++)
            parts[i] = sum == 0 ? (amount, weights.Count) : (amount * weights[i], sum);
        return Cut(parts, amount);
    }

    /// <summary>Cuts exact parts down to whole units and gives what is missing of a sum to those with the largest remainder.</summary>
    public static long[] Cut(IReadOnlyList<(Int128 Numerator, Int128 Denominator)> exact, long sum)
    {
        var parts = new long[exact.Count];
        var rests = new Int128[exact.Count];
        var missing = sum;
        for (var i = 0; i < parts.Length; i++)
        {
            (parts[i], rests[i]) = Floor(exact[i].Numerator, exact[i].Denominator);
            missing -= parts[i];
        }

        if (missing == 0)
            return parts;
        var order = Enumerable.Range(0, parts.Length).ToArray();
        Array.Sort(
            order,
            (a, b) =>
            {
                var larger = Compare((rests[b], exact[b].Denominator), (rests[a], exact[a].Denominator));
                return larger != 0 ? larger : a.CompareTo(b);
            }
        );
        for (var i = 0; missing > 0; i = (i + 1) % order.Length, missing--)
            parts[order[i]]++;
        return parts;
    }

    private static (long Part, Int128 Left) Floor(Int128 number, Int128 by)
    {
        if (number >= 0 && number <= MostInWord && by <= MostInWord)
        {
            var (part, left) = Math.DivRem((long)number, (long)by);
            return (part, left);
        }

        var floor = number / by;
        if (floor * by > number)
            floor--;
        return ((long)floor, number - floor * by);
    }

    // Where denominators differ, remainders are compared crosswise, which may need more than 128 bits.
    private static int Compare((Int128 Left, Int128 Of) one, (Int128 Left, Int128 Of) other) =>
        one.Of == other.Of
            ? one.Left.CompareTo(other.Left)
            : ((BigInteger)one.Left * (BigInteger)other.Of).CompareTo((BigInteger)other.Left * (BigInteger)one.Of);
}

/// <summary>A tax rate as an exact fraction of the net: tax = net × <see cref="Part"/> ÷ <see cref="Of"/>.</summary>
internal readonly record struct TaxFraction(Int128 Part, Int128 Of)
{
    /// <summary>A rate in percent.</summary>
    public static TaxFraction Percent(decimal rate)
    {
        Int128 of = 100;
        for (; rate.Scale > 0 && rate != decimal.Truncate(rate); of *= 10)
            rate *= 10;
        return new TaxFraction((Int128)rate, of);
    }

    /// <summary>The exact tax in an amount, gross or net, as a fraction of units.</summary>
    public (Int128 Numerator, Int128 Denominator) In(long amount, bool gross) => (amount * Part, gross ? Of + Part : Of);

    /// <summary>Net, tax and gross of an amount.</summary>
    public (long Net, long Tax, long Gross) Split(long amount, bool gross)
    {
        if (gross)
        {
            var net = Units.Rounded(amount * Of, Of + Part);
            return (net, amount - net, amount);
        }

        var tax = Units.Rounded(amount * Part, Of);
        return (amount, tax, amount + tax);
    }
}
