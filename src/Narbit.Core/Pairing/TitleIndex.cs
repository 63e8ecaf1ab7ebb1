namespace Narbit.Core.Pairing;

/// <summary>Finds the titles that share the most telling words with a given one, misspelt words included.</summary>
internal sealed class TitleIndex
{
    // A title is looked up by its rarest words until so many places were looked at.
    private const int Budget = 12_000;
    private const int MostStandIns = 6;

    private readonly TitleReader _reader;
    private readonly TitleReading[] _titles;
    private readonly Dictionary<int, List<int>> _places = [];
    private readonly Dictionary<(Dimension, decimal), List<int>> _byMeasure = [];
    private readonly Dictionary<char, List<int>> _byInitial = [];

    public TitleIndex(TitleReader reader, TitleReading[] titles, Func<int, bool> which)
    {
        (_reader, _titles) = (reader, titles);
        for (var i = 0; i < titles.Length; i++)
        {
            if (!which(i))
                continue;
            foreach (var measure in titles[i].Measures)
            {
                if (_byMeasure.TryGetValue((measure.Dimension, measure.Base), out var with))
                    with.Add(i);
                else
                    _byMeasure[(measure.Dimension, measure.Base)] = [i];
            }

            foreach (var word in titles[i].Words)
            {
                if (_places.TryGetValue(word, out var list))
                {
                    list.Add(i);
                    continue;
                }

                _places[word] = [i];
                var initial = reader.Words[word][0];
                if (_byInitial.TryGetValue(initial, out var words))
                    words.Add(word);
                else
                    _byInitial[initial] = [word];
            }
        }
    }

    /// <summary>One worker's way into the index; several may search at the same time, each with its own.</summary>
    public sealed class Search(TitleIndex index, TitleComparison comparison)
    {
        private readonly Dictionary<int, int[]> _standIns = [];
        private readonly double[] _score = new double[index._titles.Length];
        private readonly List<int> _touched = [];

        /// <summary>How this worker compares titles.</summary>
        public TitleComparison Comparison { get; } = comparison;

        /// <summary>The nearest titles, best first.</summary>
        public List<int> Nearest(TitleReading title, int most)
        {
            var lists = new List<(List<int> Places, double Weight)>(title.Words.Length + 4);
            foreach (var word in title.Words)
            {
                if (index._places.TryGetValue(word, out var uses))
                    lists.Add((uses, index._reader.Weight(word)));
                foreach (var standIn in StandIns(word))
                    lists.Add((index._places[standIn], index._reader.Weight(standIn) * Comparison.Alike(word, standIn)));
            }

            // Measures decide between sisters, which share all of their words.
            foreach (var measure in title.Measures)
                if (index._byMeasure.TryGetValue((measure.Dimension, measure.Base), out var uses))
                    lists.Add((uses, index._reader.MeasureWeight));

            lists.Sort(
                (a, b) => a.Places.Count != b.Places.Count ? a.Places.Count.CompareTo(b.Places.Count) : a.Places[0].CompareTo(b.Places[0])
            );
            var budget = Budget;
            foreach (var (places, weight) in lists)
            {
                if (budget < places.Count && budget < Budget)
                    break;
                foreach (var place in places)
                {
                    if (_score[place] == 0)
                        _touched.Add(place);
                    _score[place] += weight;
                    if (--budget < 0)
                        break;
                }
            }

            if (_touched.Count == 0)
                return [];
            var nearest = new PriorityQueue<int, (double, int)>(most + 1);
            foreach (var place in _touched)
            {
                var rank = (_score[place] / (1 + 0.05 * Math.Abs(index._titles[place].Words.Length - title.Words.Length)), -place);
                _score[place] = 0;
                if (nearest.Count < most)
                    nearest.Enqueue(place, rank);
                else if (nearest.TryPeek(out _, out var last) && rank.CompareTo(last) > 0)
                    nearest.EnqueueDequeue(place, rank);
            }

            _touched.Clear();
            return [.. nearest.UnorderedItems.OrderByDescending(n => n.Priority).Select(n => n.Element)];
        }

        // Words of the index that may stand for one that it does not have, or has seldom.
        private int[] StandIns(int word)
        {
            if (_standIns.TryGetValue(word, out var known))
                return known;
            int[] found = [];
            if (!index._places.TryGetValue(word, out var uses) || uses.Count < 2)
            {
                found = !index._byInitial.TryGetValue(index._reader.Words[word][0], out var near)
                    ? []
                    :
                    [
                        .. near.Where(n => n != word)
                            .Select(n => (Word: n, Alike: Comparison.Alike(word, n)))
                            .Where(n => n.Alike > 0)
                            .OrderByDescending(n => n.Alike)
                            .ThenByDescending(n => index._places[n.Word].Count)
                            .ThenBy(n => n.Word)
                            .Take(MostStandIns)
                            .Select(n => n.Word),
                    ];
            }

            return _standIns[word] = found;
        }
    }
}
