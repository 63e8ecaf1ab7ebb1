namespace Narbit.Core.Pairing;

/// <summary>Finds the titles that share the most telling words with a given one, misspelt words included.</summary>
internal sealed class TitleIndex
{
    // A title is looked up by its rarest words until so many places were looked at.
    private const int Budget = 24_000;
    private const int MostStandIns = 6;

    private readonly TitleReader _reader;
    private readonly TitleComparison _comparison;
    private readonly TitleReading[] _titles;
    private readonly Dictionary<int, List<int>> _places = [];
    private readonly Dictionary<char, List<int>> _byInitial = [];
    private readonly Dictionary<int, int[]> _standIns = [];
    private readonly double[] _score;
    private readonly List<int> _touched = [];

    public TitleIndex(TitleReader reader, TitleComparison comparison, TitleReading[] titles, Func<int, bool> which)
    {
        (_reader, _comparison, _titles, _score) = (reader, comparison, titles, new double[titles.Length]);
        for (var i = 0; i < titles.Length; i++)
        {
            if (!which(i)) continue;
            foreach (var word in titles[i].Words)
            {
                if (_places.TryGetValue(word, out var list))
                {
                    list.Add(i);
                    continue;
                }

                _places[word] = [i];
                var initial = reader.Words[word][0];
                if (_byInitial.TryGetValue(initial, out var words)) words.Add(word);
                else _byInitial[initial] = [word];
            }
        }
    }

    /// <summary>The nearest titles, best first.</summary>
    public List<int> Nearest(TitleReading title, int most)
    {
        var budget = Budget;
        var words = new List<(int Word, double Weight, int Uses)>(title.Words.Length + 4);
        foreach (var word in title.Words)
        {
            if (_places.TryGetValue(word, out var uses)) words.Add((word, _reader.Weight(word), uses.Count));
            foreach (var standIn in StandIns(word)) words.Add((standIn, _reader.Weight(standIn) * _comparison.Alike(word, standIn), _places[standIn].Count));
        }

        words.Sort((a, b) => a.Uses != b.Uses ? a.Uses.CompareTo(b.Uses) : a.Word.CompareTo(b.Word));
        foreach (var (word, weight, uses) in words)
        {
            if (budget < uses && budget < Budget) break;
            foreach (var place in _places[word])
            {
                if (_score[place] == 0) _touched.Add(place);
                _score[place] += weight;
                if (--budget < 0) break;
            }
        }

        if (_touched.Count == 0) return [];
        // Measures decide between sisters, which share all of their words.
        foreach (var place in _touched)
        {
            foreach (var measure in title.Measures)
                foreach (var other in _titles[place].Measures)
                    if (measure.Says(other)) _score[place] += 1;
            _score[place] /= 1 + 0.05 * Math.Abs(_titles[place].Words.Length - title.Words.Length);
        }

        var nearest = new PriorityQueue<int, (double, int)>(most + 1);
        foreach (var place in _touched)
        {
            nearest.Enqueue(place, (_score[place], -place));
            if (nearest.Count > most) nearest.Dequeue();
        }

        foreach (var place in _touched) _score[place] = 0;
        _touched.Clear();
        var found = new List<int>(nearest.Count);
        while (nearest.TryDequeue(out var place, out _)) found.Add(place);
        found.Reverse();
        return found;
    }

    // Words of the index that may stand for one that it does not have, or has seldom.
    private int[] StandIns(int word)
    {
        if (_standIns.TryGetValue(word, out var known)) return known;
        int[] found = [];
        if (!_places.TryGetValue(word, out var uses) || uses.Count < 2)
        {
            found = !_byInitial.TryGetValue(_reader.Words[word][0], out var near) ? [] : [.. near
                .Where(n => n != word)
                .Select(n => (Word: n, Alike: _comparison.Alike(word, n)))
                .Where(n => n.Alike > 0)
                .OrderByDescending(n => n.Alike).ThenByDescending(n => _places[n.Word].Count).ThenBy(n => n.Word)
                .Take(MostStandIns).Select(n => n.Word)];
        }

        return _standIns[word] = found;
    }
}
