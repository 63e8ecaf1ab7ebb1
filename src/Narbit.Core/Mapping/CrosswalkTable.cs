namespace Narbit.Core.Mapping;

/// <summary>A crosswalk made ready for looking codes up, and what is wrong with one.</summary>
public sealed class CrosswalkTable
{
    private readonly Dictionary<string, CrosswalkEntry> _entries = new(StringComparer.OrdinalIgnoreCase);
    private readonly string? _separator;

    /// <summary>A crosswalk, ready. Of two entries for the same code the first counts.</summary>
    public CrosswalkTable(Crosswalk crosswalk)
    {
        _separator = crosswalk.Separator;
        foreach (var entry in crosswalk.Entries)
            _entries.TryAdd(entry.From.Trim(), entry);
    }

    /// <summary>The entry for a code, without regard to case; in a tree the nearest branch's. Null: there is none.</summary>
    public CrosswalkEntry? Find(string code)
    {
        for (var path = code.Trim(); path.Length > 0; )
        {
            if (_entries.TryGetValue(path, out var entry))
                return entry;
            var cut = string.IsNullOrEmpty(_separator) ? -1 : path.LastIndexOf(_separator, StringComparison.Ordinal);
            if (cut < 0)
                return null;
            path = path[..cut].TrimEnd();
        }

        return null;
    }

    /// <summary>What is wrong with a crosswalk by itself and against the codes that both systems use.</summary>
    /// <param name="crosswalk">The crosswalk.</param>
    /// <param name="path">Where it stands in its document.</param>
    /// <param name="here">The source's codes; empty: not known.</param>
    /// <param name="there">The target's codes; empty: not known.</param>
    public static IEnumerable<RuleFault> Check(Crosswalk crosswalk, string path, IReadOnlySet<string> here, IReadOnlySet<string> there)
    {
        foreach (
            var group in crosswalk
                .Entries.Select((e, i) => (Entry: e, At: i))
                .GroupBy(x => x.Entry.From.Trim(), StringComparer.OrdinalIgnoreCase)
        )
        {
            var targets = group.Select(x => x.Entry.To.Trim()).Distinct(StringComparer.Ordinal).ToList();
            if (targets.Count > 1)
                yield return new RuleFault(
                    $"{path}.entries[{group.Last().At}]",
                    Severity.Refuse,
                    $"“{group.Key}” would become {string.Join(" and ", targets.Select(t => $"“{t}”"))}: one code cannot become "
                        + $"several; keep one of them"
                );
        }

        foreach (var (entry, i) in crosswalk.Entries.Select((e, i) => (e, i)))
            if (string.IsNullOrWhiteSpace(entry.From) || string.IsNullOrWhiteSpace(entry.To))
                yield return new RuleFault($"{path}.entries[{i}]", Severity.Refuse, "an entry needs a code on both sides");

        if (crosswalk.Unlisted == Unlisted.Default && string.IsNullOrWhiteSpace(crosswalk.Default))
            yield return new RuleFault(
                $"{path}.default",
                Severity.Refuse,
                $"codes without an entry in “{crosswalk.Name}” are to use a default, and there is none"
            );
        if (Swapped(crosswalk, here, there))
            yield return new RuleFault(
                path,
                Severity.Refuse,
                $"both sides of “{crosswalk.Name}” seem to be swapped: what stands under “from” are codes of the target, and "
                    + $"under “to” codes of the source"
            );
        else if (here.Count > 0 && there.Count > 0)
        {
            foreach (var (entry, i) in crosswalk.Entries.Select((e, i) => (e, i)))
                if (!there.Contains(entry.To.Trim()))
                    yield return new RuleFault(
                        $"{path}.entries[{i}].to",
                        Severity.Warn,
                        $"“{entry.To}” is a code that the target does not use so far"
                    );
        }
    }

    // Most entries only make sense the other way round.
    private static bool Swapped(Crosswalk crosswalk, IReadOnlySet<string> here, IReadOnlySet<string> there)
    {
        if (here.Count == 0 || there.Count == 0 || crosswalk.Entries.Count == 0)
            return false;
        var straight = crosswalk.Entries.Count(e => here.Contains(e.From.Trim()) || there.Contains(e.To.Trim()));
        var turned = crosswalk.Entries.Count(e =>
            there.Contains(e.From.Trim()) && here.Contains(e.To.Trim()) && !here.Contains(e.From.Trim()) && !there.Contains(e.To.Trim())
        );
        return turned > straight;
    }

    /// <summary>The code at the target whose name is most like a code's, with the reason; null: none is like it.</summary>
    /// <param name="code">The source's code or category.</param>
    /// <param name="candidates">The target's.</param>
    public static (string To, string Why)? Suggest(string code, IEnumerable<string> candidates)
    {
        var form = Words(code);
        (string To, string Why, double Score)? best = null;
        foreach (var candidate in candidates)
        {
            if (string.Equals(code, candidate, StringComparison.OrdinalIgnoreCase))
                return (candidate, "the same code on both sides");
            var other = Words(candidate);
            var shared = form.Intersect(other, StringComparer.Ordinal).Count();
            double score = shared == 0 ? 0 : 2.0 * shared / (form.Count + other.Count);
            if (score == 0 && Abbreviates(candidate, form))
                score = 0.6;
            if (score > (best?.Score ?? 0.39))
                best = (
                    candidate,
                    shared == 0 ? "its letters begin the words"
                    : shared == form.Count && shared == other.Count ? "the same words"
                    : $"{shared} {(shared == 1 ? "word" : "words")} in common",
                    score
                );
        }

        return best is { } found ? (found.To, found.Why) : null;
    }

    // “GL-BR” for “Glazes › Brush-on”.
    private static bool Abbreviates(string candidate, HashSet<string> words)
    {
        var parts = candidate.ToLowerInvariant().Split(['-', '.', '_', '/', ' '], StringSplitOptions.RemoveEmptyEntries);
        return parts.Length > 0
            && parts.All(p => p.Length is >= 2 and <= 4)
            && parts.All(p => words.Any(w => w.StartsWith(p, StringComparison.Ordinal)))
            && parts.Length >= Math.Min(2, words.Count);
    }

    private static HashSet<string> Words(string text) =>
        [
            .. new string([.. text.ToLowerInvariant().Select(c => char.IsLetterOrDigit(c) ? c : ' ')])
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(w => w.Length > 3 && w.EndsWith('s') ? w[..^1] : w),
        ];
}
