using System.Globalization;
using System.Text;

namespace Narbit.Core.Pairing;

/// <summary>A number in a title, with its unit where it has one.</summary>
/// <param name="Dimension">What it measures.</param>
/// <param name="Base">The value in ml, g, mm, pieces, W, V or °C; as written where it has no unit.</param>
/// <param name="Written">The number as written.</param>
/// <param name="Words">As a person reads it, e.g. <c>500 ml</c>.</param>
internal readonly record struct Measure(Dimension Dimension, decimal Base, decimal Written, string Words)
{
    /// <summary>Whether two measures are of the same kind, so that they can contradict each other.</summary>
    public bool Comparable(Measure other) =>
        Dimension == other.Dimension || Dimension == Dimension.None || other.Dimension == Dimension.None;

    /// <summary>Whether two measures say the same, within half a percent for converted units.</summary>
    public bool Says(Measure other)
    {
        if (Dimension != other.Dimension)
            return (Dimension == Dimension.None || other.Dimension == Dimension.None) && Written == other.Written;
        return Base == other.Base || Math.Abs(Base - other.Base) <= Math.Max(Math.Abs(Base), Math.Abs(other.Base)) * 0.005m;
    }
}

/// <summary>A title taken apart: words, measures, colours, sizes.</summary>
/// <param name="Words">Distinct words in order, as places in the shared dictionary; without the words that say nothing.</param>
/// <param name="Measures">Numbers and quantities.</param>
/// <param name="Colours">Colours, each once.</param>
/// <param name="Sizes">Sizes such as S or XL, each once.</param>
internal sealed record TitleReading(int[] Words, Measure[] Measures, string[] Colours, string[] Sizes)
{
    public static readonly TitleReading Nothing = new([], [], [], []);

    public bool IsEmpty => Words.Length + Measures.Length == 0;
}

/// <summary>Reads titles into words that share one dictionary, and knows how rare each word is.</summary>
internal sealed class TitleReader
{
    private readonly Dictionary<string, int> _places = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int>.AlternateLookup<ReadOnlySpan<char>> _byText;
    private readonly List<string> _words = [];
    private readonly List<int> _uses = [];
    private readonly StringBuilder _folded = new();
    private int _titles;

    public TitleReader() => _byText = _places.GetAlternateLookup<ReadOnlySpan<char>>();

    public IReadOnlyList<string> Words => _words;

    /// <summary>How much a word tells: the rarer, the more (inverse document frequency).</summary>
    public double Weight(int word) => Math.Log(1 + (double)_titles / Math.Max(1, _uses[word]));

    /// <summary>What a number tells: as much as a fairly common word, for what contradicts is looked at separately.</summary>
    public double MeasureWeight => 0.3 * Math.Log(1 + Math.Max(1, _titles));

    /// <summary>Whether one of two words is so much rarer than the other that it may be a slip for it.</summary>
    public bool MaySlip(int a, int b) =>
        Math.Min(_uses[a], _uses[b]) is var rarer && (rarer <= 2 || rarer * 20 <= Math.Max(_uses[a], _uses[b]));

    /// <summary>Reads a title with its option values.</summary>
    /// <param name="title">The title.</param>
    /// <param name="option">The option values, which the title may repeat.</param>
    /// <param name="cut">Whether the title was cut off at its system's limit, so that its last word and number mean nothing.</param>
    public TitleReading Read(string? title, string? option, bool cut)
    {
        if (string.IsNullOrWhiteSpace(title) && string.IsNullOrWhiteSpace(option))
            return TitleReading.Nothing;
        var (words, measures, colours, sizes) = (new List<int>(10), new List<Measure>(3), new List<string>(1), new List<string>(0));
        Into(title, cut, words, measures, colours, sizes);
        if (!string.IsNullOrWhiteSpace(option) && title?.Contains(option, StringComparison.OrdinalIgnoreCase) != true)
        {
            var known = measures.Count;
            Into(option, false, words, measures, colours, sizes);
            // What the title says already is not said a second time.
            for (var i = measures.Count - 1; i >= known; i--)
                if (measures.Take(known).Any(m => m.Says(measures[i])))
                    measures.RemoveAt(i);
        }

        _titles++;
        foreach (var word in words)
            _uses[word]++;
        return new TitleReading([.. words], [.. measures], [.. colours], [.. sizes]);
    }

    private void Into(string? text, bool cut, List<int> words, List<Measure> measures, List<string> colours, List<string> sizes)
    {
        if (text is null)
            return;
        var folded = Fold(text);
        var at = 0;
        var afterNumber = false;
        while (at < folded.Length)
        {
            var c = folded[at];
            var from = at;
            if (char.IsAsciiDigit(c))
            {
                at = NumberEnd(folded, at);
                if (cut && at == folded.Length)
                    return;
                var number = Number(folded.AsSpan(from, at - from));
                var unit = UnitAfter(folded, at, out var end);
                // “30 × 40 cm”: the unit stands once, at the last number.
                if (unit is null && TimesUnit(folded, at) is { } shared)
                    unit = shared;
                else if (unit is not null)
                    at = end;
                var (dimension, factor) = unit is not null ? TitleWords.Units[unit] : (Dimension.None, 1m);
                measures.Add(new Measure(dimension, number * factor, number, unit is null ? Plain(number) : $"{Plain(number)} {unit}"));
                afterNumber = true;
            }
            else if (char.IsLetter(c))
            {
                while (
                    at < folded.Length
                    && (char.IsLetter(folded[at]) || (folded[at] == '\'' && at + 1 < folded.Length && char.IsLetter(folded[at + 1])))
                )
                    at++;
                if (cut && at == folded.Length && at - from < 4)
                    return;
                Word(folded.AsSpan(from, at - from), afterNumber, words, colours, sizes);
                afterNumber = false;
            }
            else
            {
                at++;
            }
        }
    }

    private void Word(ReadOnlySpan<char> text, bool afterNumber, List<int> words, List<string> colours, List<string> sizes)
    {
        Span<char> without = stackalloc char[text.Length];
        var length = 0;
        foreach (var c in text)
            if (c != '\'')
                without[length++] = c;
        var word = without[..length];

        if (TitleWords.Abbreviations.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(word, out var full))
            word = full.ToCharArray();
        if (!afterNumber && TitleWords.Sizes.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(word, out var size))
        {
            if (!sizes.Contains(size))
                sizes.Add(size);
            return;
        }

        if (TitleWords.Empty.GetAlternateLookup<ReadOnlySpan<char>>().Contains(word))
            return;
        if (TitleWords.Colours.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(word, out var colour) && !colours.Contains(colour))
            colours.Add(colour);
        if (!_byText.TryGetValue(word, out var place))
        {
            place = _words.Count;
            var kept = new string(word);
            _places.Add(kept, place);
            _words.Add(kept);
            _uses.Add(0);
        }

        if (!words.Contains(place))
            words.Add(place);
    }

    // Compatibility forms, lower case, no accents, one kind of multiplication sign.
    private string Fold(string text)
    {
        if (Ascii.IsValid(text))
            return text.ToLowerInvariant();
        _folded.Clear();
        foreach (var c in text.Normalize(NormalizationForm.FormKD))
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) == UnicodeCategory.NonSpacingMark)
                continue;
            _folded.Append(
                c switch
                {
                    '×' => 'x',
                    '″' or '”' or '“' => '"',
                    '’' or '‘' => '\'',
                    'ß' => 's',
                    'ø' or 'Ø' => 'o',
                    _ => char.ToLowerInvariant(c),
                }
            );
        }

        return _folded.ToString();
    }

    private static int NumberEnd(string text, int at)
    {
        while (
            at < text.Length
            && (char.IsAsciiDigit(text[at]) || (text[at] is '.' or ',' && at + 1 < text.Length && char.IsAsciiDigit(text[at + 1])))
        )
            at++;
        return at;
    }

    // A comma before three digits groups thousands, unless the number starts with 0; otherwise it is the decimal mark.
    private static decimal Number(ReadOnlySpan<char> text)
    {
        Span<char> plain = stackalloc char[Math.Min(text.Length, 24)];
        var (length, point) = (0, false);
        for (var i = 0; i < text.Length && length < plain.Length; i++)
        {
            if (char.IsAsciiDigit(text[i]))
                plain[length++] = text[i];
            else if (text[i] == ',' && text[0] != '0' && Thousands(text[(i + 1)..]))
                continue;
            else if (!point)
                (plain[length++], point) = ('.', true);
        }

        return decimal.TryParse(plain[..length], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var number) ? number : 0;

        static bool Thousands(ReadOnlySpan<char> rest) =>
            rest.Length >= 3 && !rest[..3].ContainsAnyExceptInRange('0', '9') && (rest.Length == 3 || !char.IsAsciiDigit(rest[3]));
    }

    private static string? UnitAfter(string text, int at, out int end)
    {
        var from = at;
        while (from < text.Length && (text[from] is ' ' or '-'))
            from++;
        end = from;
        if (from < text.Length && text[from] == '"')
        {
            end = from + 1;
            return "\"";
        }

        if (end < text.Length && text[end] == '°')
            end++;
        while (end < text.Length && char.IsLetter(text[end]))
            end++;
        if (end == from)
            return null;
        return TitleWords.Units.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(text.AsSpan(from, end - from), out _)
            ? text[from..end]
            : null;
    }

    private static string? TimesUnit(string text, int at)
    {
        for (var depth = 0; depth < 3; depth++)
        {
            while (at < text.Length && text[at] == ' ')
                at++;
            if (at >= text.Length || text[at] != 'x')
                return null;
            at++;
            while (at < text.Length && text[at] == ' ')
                at++;
            if (at >= text.Length || !char.IsAsciiDigit(text[at]))
                return null;
            at = NumberEnd(text, at);
            if (UnitAfter(text, at, out _) is { } unit)
                return TitleWords.Units[unit].Dimension == Dimension.Length ? unit : null;
        }

        return null;
    }

    private static string Plain(decimal number) => number.ToString("0.####", CultureInfo.InvariantCulture);
}
