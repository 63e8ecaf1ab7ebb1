namespace Narbit.Core;

/// <summary>Money of one currency.</summary>
/// <param name="Currency">ISO 4217; empty: it is not said.</param>
/// <param name="Sum">How much, in units of the currency.</param>
public sealed record Amount(string Currency, decimal Sum)
{
    /// <summary>Adds up what is of one currency, the largest sum first; amounts of two currencies are never one.</summary>
    /// <param name="amounts">The amounts.</param>
    public static IReadOnlyList<Amount> SumsOf(IEnumerable<Amount> amounts) =>
        [
            .. amounts
                .GroupBy(a => a.Currency, StringComparer.Ordinal)
                .Select(g => new Amount(g.Key, g.Sum(a => a.Sum)))
                .OrderByDescending(a => a.Sum),
        ];
}
