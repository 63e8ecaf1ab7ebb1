using Narbit.Core.Pairing;

namespace Narbit.Core.Mismatches;

/// <summary>
/// Finds the item that an unknown SKU most likely is, by its letters and by the title that stands with it. Letters are compared by the
/// trigrams of their form, titles by their words, both as twice what is shared over what both have (the Sørensen–Dice coefficient).
/// </summary>
public sealed class LikelyItems
{
    // What very many items have tells nothing of any of them.
    private const int CommonFrom = 2_000;
    private const double Least = 0.5;

    // The best must be so much better than the second, or either could be meant.
    private const double Clear = 0.08;
    private const double SameForm = 0.97;
    private const double OfTitle = 0.93;
    private const double BothAgree = 0.05;
    private const double EitherCould = 0.6;

    private readonly IReadOnlyList<KnownItem> _items;
    private readonly string?[] _forms;
    private readonly Dictionary<string, List<int>> _byForm = new(StringComparer.Ordinal);
    private readonly Features _letters;
    private readonly Features _words;

    /// <summary>Makes ready to find some items.</summary>
    public LikelyItems(IReadOnlyList<KnownItem> items)
    {
        _items = items;
        _forms = [.. items.Select(i => SkuForm.Of(i.Sku))];
        for (var i = 0; i < items.Count; i++)
            if (_forms[i] is { } form)
            {
                if (!_byForm.TryGetValue(form, out var same))
                    _byForm[form] = same = [];
                same.Add(i);
            }

        _letters = new Features(_forms.Select(Trigrams));
        _words = new Features(items.Select(i => Words(i.Title)));
    }

    /// <summary>The item that is most likely meant; null: none is like it.</summary>
    /// <param name="sku">What it is called.</param>
    /// <param name="title">The title that stands with it, where one does.</param>
    public LikelyItem? Of(string? sku, string? title)
    {
        var form = SkuForm.Of(sku);
        if (form is not null && _byForm.TryGetValue(form, out var same))
            return same.Count == 1
                ? new LikelyItem(_items[same[0]], SameForm, IsSame(sku, same[0]) ? "it has this very SKU" : "the SKU differs only in form")
                : new LikelyItem(_items[same[0]], SameForm * EitherCould, $"the SKU differs only in form from {same.Count} items");
        var letters = _letters.Like(Trigrams(form), CommonFrom);
        var words = _words.Like(Words(title), CommonFrom);
        var (best, second) = Best(letters, words);
        if (best is not { Score: >= Least } found)
            return null;
        var byLetters = letters.GetValueOrDefault(found.Item);
        var byWords = words.GetValueOrDefault(found.Item);
        var confidence = found.Score - second < Clear ? found.Score * EitherCould : found.Score;
        return new LikelyItem(_items[found.Item], Math.Min(confidence, SameForm), Why(byLetters, byWords));
    }

    private bool IsSame(string? sku, int item) => string.Equals(sku?.Trim(), _items[item].Sku?.Trim(), StringComparison.Ordinal);

    private static ((int Item, double Score)? Best, double Second) Best(Dictionary<int, double> letters, Dictionary<int, double> words)
    {
        (int Item, double Score)? best = null;
        var second = 0.0;
        foreach (var item in letters.Keys.Union(words.Keys))
        {
            var (byLetters, byWords) = (letters.GetValueOrDefault(item), words.GetValueOrDefault(item) * OfTitle);
            var score = Math.Max(byLetters, byWords) + BothAgree * Math.Min(byLetters, byWords);
            if (score > (best?.Score ?? 0))
                (best, second) = ((item, score), best?.Score ?? 0);
            else if (score > second)
                second = score;
        }

        return (best, second);
    }

    private static string Why(double byLetters, double byWords) =>
        (byLetters >= Least, byWords >= Least) switch
        {
            (true, true) => "SKU and title are alike",
            (false, true) => byWords > 0.99 ? "the title is the same" : "the titles have most words in common",
            _ => "the SKUs have most letters in common",
        };

    private static string[] Trigrams(string? form) =>
        form is null ? []
        : form.Length < 3 ? [form]
        : [.. Enumerable.Range(0, form.Length - 2).Select(i => form.Substring(i, 3)).Distinct(StringComparer.Ordinal)];

    private static string[] Words(string? title) =>
        title is null
            ? []
            :
            [
                .. new string([.. title.Select(c => char.IsLetterOrDigit(c) || c == '.' ? char.ToUpperInvariant(c) : ' ')])
                    .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Distinct(StringComparer.Ordinal),
            ];

    /// <summary>What each item has of something, and who has each of it.</summary>
    private sealed class Features
    {
        private readonly List<int> _counts = [];
        private readonly Dictionary<string, List<int>> _who = new(StringComparer.Ordinal);

        public Features(IEnumerable<string[]> all)
        {
            foreach (var some in all)
            {
                foreach (var one in some)
                {
                    if (!_who.TryGetValue(one, out var who))
                        _who[one] = who = [];
                    who.Add(_counts.Count);
                }

                _counts.Add(some.Length);
            }
        }

        /// <summary>How like each item is, from 0 to 1; those that share nothing telling are left out.</summary>
        public Dictionary<int, double> Like(string[] wanted, int commonFrom)
        {
            var shared = new Dictionary<int, int>();
            var common = new List<List<int>>();
            foreach (var one in wanted)
                if (_who.TryGetValue(one, out var who))
                {
                    if (who.Count >= commonFrom)
                    {
                        common.Add(who);
                        continue;
                    }

                    foreach (var item in who)
                        shared[item] = shared.GetValueOrDefault(item) + 1;
                }

            foreach (var who in common)
            foreach (var item in shared.Keys.ToList())
                if (who.BinarySearch(item) >= 0)
                    shared[item]++;
            return shared.ToDictionary(s => s.Key, s => 2.0 * s.Value / (wanted.Length + _counts[s.Key]));
        }
    }
}
