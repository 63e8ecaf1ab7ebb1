namespace Narbit.Core.Pairing;

/// <summary>How alike two titles are.</summary>
/// <param name="Likeness">From 0 (nothing in common) to 1 (the same words, in any order).</param>
/// <param name="Replaced">The share of what they say for which the other says something else, from 0 to 1.</param>
/// <param name="Contradiction">A measure, size or colour that rules the pair out, in words; or null.</param>
internal readonly record struct TitleLikeness(double Likeness, double Replaced, string? Contradiction);

/// <summary>
/// Compares titles word by word, with tolerance for order, abbreviations and typing errors, and none for numbers, sizes and colours.
/// </summary>
internal sealed class TitleComparison(TitleReader reader)
{
    private readonly Dictionary<long, float> _alike = [];

    /// <summary>Compares two titles that were read by the same reader.</summary>
    public TitleLikeness Compare(TitleReading a, TitleReading b)
    {
        var contradiction = Contradiction(a, b);
        double total = 0,
            matched = 0,
            aloneA = 0,
            aloneB = 0;
        Span<bool> exactB = stackalloc bool[b.Words.Length];
        Span<bool> usedB = stackalloc bool[b.Words.Length];
        Span<int> openA = stackalloc int[a.Words.Length];
        var open = 0;
        foreach (var word in a.Words)
        {
            var weight = reader.Weight(word);
            total += weight;
            var at = Array.IndexOf(b.Words, word);
            if (at >= 0)
                (exactB[at], usedB[at], matched) = (true, true, matched + 2 * weight);
            else
                openA[open++] = word;
        }

        foreach (var word in b.Words)
            total += reader.Weight(word);
        if (open > 0 && exactB.Contains(false) && SameLetters(openA[..open], b.Words, exactB))
        {
            // Words run together, torn apart or with a letter astray: what is written is the same but for spaces.
            foreach (var word in openA[..open])
                matched += 0.9 * reader.Weight(word);
            for (var j = 0; j < b.Words.Length; j++)
                if (!exactB[j])
                    matched += 0.9 * reader.Weight(b.Words[j]);
            open = 0;
            usedB.Fill(true);
        }

        for (var i = 0; i < open; i++)
        {
            var (best, like) = (-1, 0f);
            for (var j = 0; j < b.Words.Length; j++)
                if (!usedB[j] && Alike(openA[i], b.Words[j]) is var alike && alike > like)
                    (best, like) = (j, alike);
            if (best >= 0)
            {
                usedB[best] = true;
                // A misspelt word is as rare as can be; what it stands for is what tells.
                var (mine, theirs) = (reader.Weight(openA[i]), reader.Weight(b.Words[best]));
                total += 2 * Math.Min(mine, theirs) - mine - theirs;
                matched += 2 * Math.Min(mine, theirs) * like;
            }
            else
            {
                aloneA += reader.Weight(openA[i]);
            }
        }

        for (var j = 0; j < b.Words.Length; j++)
            if (!usedB[j])
                aloneB += reader.Weight(b.Words[j]);

        Span<bool> said = stackalloc bool[b.Measures.Length];
        foreach (var measure in a.Measures)
        {
            var found = false;
            for (var j = 0; j < b.Measures.Length && !found; j++)
                if (!said[j] && measure.Says(b.Measures[j]))
                    said[j] = found = true;
            if (found)
                matched += 2 * reader.MeasureWeight;
            else
                aloneA += reader.MeasureWeight;
        }

        aloneB += reader.MeasureWeight * said.Count(false);
        total += reader.MeasureWeight * (a.Measures.Length + b.Measures.Length);
        if (total <= 0)
            return new TitleLikeness(contradiction is null ? 1 : 0, 0, contradiction);
        return new TitleLikeness(Math.Min(1, matched / total), 2 * Math.Min(aloneA, aloneB) / total, contradiction);
    }

    /// <summary>Whether two titles, each with its option values, say the same in whatever order.</summary>
    public static bool SaysTheSame((string? Title, string? Option) a, (string? Title, string? Option) b)
    {
        var reader = new TitleReader();
        var (left, right) = (reader.Read(a.Title, a.Option, false), reader.Read(b.Title, b.Option, false));
        return !left.IsEmpty
            && !right.IsEmpty
            && new TitleComparison(reader).Compare(left, right) is { Contradiction: null, Likeness: >= 0.995 };
    }

    /// <summary>Words of a list that may stand for a word: misspelt, shortened, or in another number.</summary>
    public float Alike(int a, int b)
    {
        var key = a < b ? ((long)a << 32) | (uint)b : ((long)b << 32) | (uint)a;
        if (_alike.TryGetValue(key, out var known))
            return known;
        return _alike[key] = Alike(reader.Words[a], reader.Words[b], reader.MaySlip(a, b));
    }

    /// <summary>From 0 to 1: whether one word can stand for the other.</summary>
    /// <param name="a">One word.</param>
    /// <param name="b">The other.</param>
    /// <param name="maySlip">Whether one may be a slip for the other; two words that are both in use are two words.</param>
    internal static float Alike(string a, string b, bool maySlip = true)
    {
        if (TitleWords.Colours.ContainsKey(a) && TitleWords.Colours.ContainsKey(b))
            return 0;
        var (shorter, longer) = a.Length <= b.Length ? (a, b) : (b, a);
        if (longer.Length == shorter.Length + 1 && longer[^1] == 's' && longer.StartsWith(shorter, StringComparison.Ordinal))
            return 0.97f;
        if (maySlip && shorter.Length >= 4 && OneErrorApart(shorter, longer))
            return 0.9f;
        if (maySlip && shorter.Length >= 8 && Math.Abs(longer.Length - shorter.Length) <= 2 && Distance(shorter, longer) <= 2)
            return 0.85f;
        if (shorter.Length >= 3 && shorter.Length < longer.Length && longer.StartsWith(shorter, StringComparison.Ordinal))
            return 0.88f;
        if (shorter.Length == 2 && longer.Length >= 5 && longer.StartsWith(shorter, StringComparison.Ordinal))
            return 0.5f;
        return shorter.Length >= 2 && shorter.Length * 2 <= longer.Length + 3 && shorter[0] == longer[0] && IsSkeleton(shorter, longer)
            ? 0.8f
            : 0;
    }

    // One letter more, less, other, or two neighbours swapped.
    private static bool OneErrorApart(string shorter, string longer)
    {
        if (longer.Length - shorter.Length > 1)
            return false;
        var i = 0;
        while (i < shorter.Length && shorter[i] == longer[i])
            i++;
        if (shorter.Length < longer.Length)
            return longer.AsSpan(i + 1).SequenceEqual(shorter.AsSpan(i));
        if (i == shorter.Length)
            return true;
        if (shorter.AsSpan(i + 1).SequenceEqual(longer.AsSpan(i + 1)))
            return true;
        return i + 1 < shorter.Length
            && shorter[i] == longer[i + 1]
            && shorter[i + 1] == longer[i]
            && shorter.AsSpan(i + 2).SequenceEqual(longer.AsSpan(i + 2));
    }

    // Edit distance, stopped beyond 2.
    private static int Distance(string a, string b)
    {
        Span<int> row = stackalloc int[b.Length + 1];
        for (var j = 0; j <= b.Length; j++)
            row[j] = j;
        for (var i = 1; i <= a.Length; i++)
        {
            var (diagonal, best) = (row[0], row[0] = i);
            for (var j = 1; j <= b.Length; j++)
            {
                var cost = Math.Min(Math.Min(row[j], row[j - 1]) + 1, diagonal + (a[i - 1] == b[j - 1] ? 0 : 1));
                (diagonal, row[j]) = (row[j], cost);
                best = Math.Min(best, cost);
            }

            if (best > 2)
                return 3;
        }

        return row[b.Length];
    }

    // “stnwr” for “stoneware”: its letters in order, starting alike, mostly consonants.
    private static bool IsSkeleton(string shorter, string longer)
    {
        var (at, vowels) = (0, 0);
        foreach (var c in shorter)
        {
            at = longer.IndexOf(c, at) + 1;
            if (at == 0)
                return false;
            if (c is 'a' or 'e' or 'i' or 'o' or 'u')
                vowels++;
        }

        return vowels <= 1 && shorter.Length >= 3;
    }

    // Whether the words that are not in both titles have the same letters, but for two; “stamp set” and “stamps et”.
    private bool SameLetters(ReadOnlySpan<int> openA, int[] wordsB, ReadOnlySpan<bool> exactB)
    {
        var (lettersA, lettersB) = (0, 0);
        foreach (var word in openA)
            lettersA += reader.Words[word].Length;
        for (var j = 0; j < wordsB.Length; j++)
            if (!exactB[j])
                lettersB += reader.Words[wordsB[j]].Length;
        if (lettersA < 7 || Math.Abs(lettersA - lettersB) > 2)
            return false;
        // Single words are compared letter by letter, in order.
        if (openA.Length == 1 && exactB.Count(false) == 1)
            return false;

        Span<short> count = stackalloc short[64];
        foreach (var word in openA)
        foreach (var c in reader.Words[word])
            count[c & 63]++;
        for (var j = 0; j < wordsB.Length; j++)
        {
            if (exactB[j])
                continue;
            foreach (var c in reader.Words[wordsB[j]])
                count[c & 63]--;
        }

        var astray = 0;
        foreach (var n in count)
            astray += Math.Abs(n);
        return astray <= 2;
    }

    private static string? Contradiction(TitleReading a, TitleReading b)
    {
        if (Measures(a.Measures, b.Measures) is { } measure)
            return measure;
        if (a.Sizes.Length > 0 && b.Sizes.Length > 0 && !a.Sizes.Intersect(b.Sizes, StringComparer.Ordinal).Any())
            return $"size {a.Sizes[0]} is not {b.Sizes[0]}";
        if (a.Colours.Length > 0 && b.Colours.Length > 0 && !a.Colours.Intersect(b.Colours, StringComparer.Ordinal).Any())
            return $"{a.Colours[0]} is not {b.Colours[0]}";
        return null;
    }

    // What stays over on both sides and is of the same kind contradicts.
    private static string? Measures(Measure[] a, Measure[] b)
    {
        if (a.Length == 0 || b.Length == 0)
            return null;
        Span<bool> usedB = stackalloc bool[b.Length];
        Span<bool> usedA = stackalloc bool[a.Length];
        for (var i = 0; i < a.Length; i++)
        for (var j = 0; j < b.Length && !usedA[i]; j++)
            if (!usedB[j] && a[i].Says(b[j]))
                usedA[i] = usedB[j] = true;
        for (var i = 0; i < a.Length; i++)
        {
            if (usedA[i])
                continue;
            for (var j = 0; j < b.Length; j++)
                if (!usedB[j] && a[i].Comparable(b[j]))
                    return $"{a[i].Words} is not {b[j].Words}";
        }

        return null;
    }
}
