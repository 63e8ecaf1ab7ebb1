namespace Narbit.Core.Pairing;

/// <summary>A way in which one system writes the SKUs of another: something before them or after them.</summary>
/// <param name="Before">What stands before the SKU; empty: nothing.</param>
/// <param name="After">What stands after it; empty: nothing.</param>
public sealed record SkuHabit(string Before, string After)
{
    /// <summary>How many pairs it takes to call something a habit.</summary>
    public const int Enough = 4;

    /// <summary>The SKU without what this system adds to it; null where it adds nothing to this one.</summary>
    /// <param name="sku">The SKU as this system writes it.</param>
    public string? Plain(string? sku)
    {
        if (sku is null)
            return null;
        var text = sku.Trim();
        return
            text.Length > Before.Length + After.Length
            && text.StartsWith(Before, StringComparison.OrdinalIgnoreCase)
            && text.EndsWith(After, StringComparison.OrdinalIgnoreCase)
            ? text[Before.Length..(text.Length - After.Length)]
            : null;
    }

    /// <summary>The habit in words.</summary>
    /// <param name="system">The system that has it.</param>
    public string Words(string system) =>
        (Before, After) switch
        {
            ({ Length: > 0 }, { Length: > 0 }) => $"{system} writes {Before} before a SKU and {After} after it",
            ({ Length: > 0 }, _) => $"{system} writes {Before} before a SKU",
            _ => $"{system} writes {After} after a SKU",
        };

    /// <summary>
    /// Learns a habit from pairs that were decided, where at least <see cref="Enough"/> of them and a fifth of those that differ share it.
    /// </summary>
    /// <param name="pairs">The SKUs of decided pairs: the hub's, then the system's.</param>
    /// <returns>The habit with the number of pairs that show it and the number that were looked at, or null.</returns>
    public static (SkuHabit Habit, int Shown, int Of)? Learn(IReadOnlyCollection<(string Hub, string Other)> pairs)
    {
        var seen = new Dictionary<(string, string), int>();
        var differing = 0;
        foreach (var (hub, other) in pairs)
        {
            var (mine, theirs) = (hub.Trim(), other.Trim());
            if (mine.Length < 3 || SkuForm.Of(mine) == SkuForm.Of(theirs))
                continue;
            differing++;
            var at = theirs.IndexOf(mine, StringComparison.OrdinalIgnoreCase);
            if (at < 0 || theirs.Length == mine.Length)
                continue;
            var habit = (theirs[..at].ToUpperInvariant(), theirs[(at + mine.Length)..].ToUpperInvariant());
            seen[habit] = seen.GetValueOrDefault(habit) + 1;
        }

        if (seen.Count == 0)
            return null;
        var best = seen.OrderByDescending(s => s.Value)
            .ThenBy(s => s.Key.Item1, StringComparer.Ordinal)
            .ThenBy(s => s.Key.Item2, StringComparer.Ordinal)
            .First();
        return best.Value >= Enough && best.Value * 5 >= differing
            ? (new SkuHabit(best.Key.Item1, best.Key.Item2), best.Value, differing)
            : null;
    }
}
