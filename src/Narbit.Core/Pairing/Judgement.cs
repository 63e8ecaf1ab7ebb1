namespace Narbit.Core.Pairing;

/// <summary>What was found out about two records that may belong together.</summary>
/// <param name="Left">The left record's place.</param>
/// <param name="Right">The right record's place.</param>
/// <param name="Confidence">From 0 to 1.</param>
/// <param name="Strong">Whether the evidence would do for <see cref="Verdict.Certain"/> if no other record had a claim.</param>
/// <param name="Contradicted">Whether something speaks against the pair, so that it takes no other pair's certainty away.</param>
internal readonly record struct ScoredPair(int Left, int Right, double Confidence, bool Strong, bool Contradicted);

/// <summary>Turns scored pairs into verdicts: certain ones first, the rest by the best assignment over the whole set.</summary>
internal sealed class Judgement
{
    /// <summary>Pairs below this are no candidates.</summary>
    public const double Worth = 0.12;

    /// <summary>Pairs below this are never likely.</summary>
    public const double LikelyFrom = 0.6;

    /// <summary>How far the next best must be away for a pair to be likely.</summary>
    public const double Distance = 0.06;

    private const int MostCandidates = 5;

    private readonly List<ScoredPair>[] _ofLeft;
    private readonly List<ScoredPair>[] _ofRight;

    public Judgement(int left, int right)
    {
        (_ofLeft, _ofRight) = (new List<ScoredPair>[left], new List<ScoredPair>[right]);
        (LeftTaken, RightTaken) = (new int[left], new int[right]);
        Array.Fill(LeftTaken, -1);
        Array.Fill(RightTaken, -1);
        (LeftVerdict, LeftConfidence) = (new Verdict[left], new double[left]);
        Array.Fill(LeftVerdict, Verdict.None);
    }

    /// <summary>For each left record its partner, or −1.</summary>
    public int[] LeftTaken { get; }

    /// <summary>For each right record its partner, or −1.</summary>
    public int[] RightTaken { get; }

    /// <summary>For each left record its verdict.</summary>
    public Verdict[] LeftVerdict { get; }

    /// <summary>For each left record how sure its pair is.</summary>
    public double[] LeftConfidence { get; }

    /// <summary>Adds a scored pair; each pair once.</summary>
    public void Add(ScoredPair pair)
    {
        (_ofLeft[pair.Left] ??= []).Add(pair);
        (_ofRight[pair.Right] ??= []).Add(pair);
    }

    /// <summary>Whether a pair was added already.</summary>
    public bool Has(int left, int right) => _ofLeft[left]?.Exists(p => p.Right == right) == true;

    /// <summary>Settles the certain pairs among what was added so far: strong, and no other uncontradicted claim on either side.</summary>
    public void SettleCertain()
    {
        foreach (var pairs in _ofLeft)
        {
            if (pairs is null)
                continue;
            foreach (var pair in pairs)
            {
                if (!pair.Strong || LeftTaken[pair.Left] >= 0 || RightTaken[pair.Right] >= 0)
                    continue;
                if (Claimed(pairs, pair) || Claimed(_ofRight[pair.Right], pair))
                    continue;
                Take(pair, Verdict.Certain);
            }
        }

        static bool Claimed(List<ScoredPair> pairs, ScoredPair pair) =>
            pairs.Exists(p => p != pair && !p.Contradicted && p.Confidence >= Worth);
    }

    /// <summary>
    /// Assigns what is left one to one over the whole set, and calls likely what has a distance to everything else that could have been.
    /// </summary>
    public void SettleRest()
    {
        var edges = new List<Edge>();
        foreach (var pairs in _ofLeft)
        {
            if (pairs is null)
                continue;
            foreach (var pair in pairs)
                if (LeftTaken[pair.Left] < 0 && RightTaken[pair.Right] < 0 && pair.Confidence >= Worth)
                    edges.Add(new Edge(pair.Left, pair.Right, pair.Confidence));
        }

        var given = Assignment.Best(edges, _ofLeft.Length, _ofRight.Length);
        var assigned = new int[_ofRight.Length];
        Array.Fill(assigned, -1);
        for (var l = 0; l < given.Length; l++)
            if (given[l] >= 0)
                assigned[given[l]] = l;

        var likely = new List<ScoredPair>();
        for (var l = 0; l < given.Length; l++)
        {
            if (given[l] < 0)
                continue;
            var pair = _ofLeft[l].Find(p => p.Right == given[l]);
            if (pair.Confidence >= LikelyFrom && !Swappable(pair, given, assigned))
                likely.Add(pair);
        }

        foreach (var pair in likely)
            Take(pair, Verdict.Likely);
        for (var l = 0; l < given.Length; l++)
        {
            if (LeftTaken[l] >= 0 || Open(_ofLeft[l], p => RightTaken[p.Right] < 0) is not { } best)
                continue;
            (LeftVerdict[l], LeftConfidence[l]) = (Verdict.Ambiguous, best.Confidence);
        }
    }

    /// <summary>The candidates of a left record other than its partner, best first.</summary>
    public IEnumerable<ScoredPair> CandidatesOf(int left) =>
        Best(_ofLeft[left], p => p.Right != LeftTaken[left] && (LeftTaken[left] >= 0 || RightTaken[p.Right] < 0));

    /// <summary>The candidates of a right record without partner, best first; they may be paired already.</summary>
    public IEnumerable<ScoredPair> CandidatesOfRight(int right) => Best(_ofRight[right], _ => true);

    /// <summary>Left records whose candidates include a right record and that are open themselves.</summary>
    public bool IsCandidate(int right) =>
        _ofRight[right]
            ?.Exists(p =>
                p.Confidence >= Worth && LeftVerdict[p.Left] == Verdict.Ambiguous && CandidatesOf(p.Left).Any(c => c.Right == right)
            ) == true;

    private static IEnumerable<ScoredPair> Best(List<ScoredPair>? pairs, Func<ScoredPair, bool> which) =>
        pairs is null
            ? []
            : pairs
                .Where(p => p.Confidence >= Worth && which(p))
                .OrderByDescending(p => p.Confidence)
                .ThenBy(p => p.Left)
                .ThenBy(p => p.Right)
                .Take(MostCandidates);

    private static ScoredPair? Open(List<ScoredPair>? pairs, Func<ScoredPair, bool> which)
    {
        ScoredPair? best = null;
        foreach (var pair in pairs ?? [])
            if (pair.Confidence >= Worth && which(pair) && (best is null || pair.Confidence > best.Value.Confidence))
                best = pair;
        return best;
    }

    // Whether another partner for either of the two would be about as good for the whole.
    private bool Swappable(ScoredPair pair, int[] given, int[] assigned)
    {
        foreach (var other in _ofLeft[pair.Left])
        {
            if (other.Right == pair.Right || RightTaken[other.Right] >= 0 || other.Confidence < Worth)
                continue;
            var holder = assigned[other.Right];
            var (now, then) =
                holder < 0
                    ? (pair.Confidence, other.Confidence)
                    : (pair.Confidence + Of(holder, other.Right), other.Confidence + Of(holder, pair.Right));
            if (then >= now - Distance)
                return true;
        }

        foreach (var other in _ofRight[pair.Right])
        {
            if (other.Left == pair.Left || LeftTaken[other.Left] >= 0 || other.Confidence < Worth)
                continue;
            var held = given[other.Left];
            var (now, then) =
                held < 0
                    ? (pair.Confidence, other.Confidence)
                    : (pair.Confidence + Of(other.Left, held), other.Confidence + Of(pair.Left, held));
            if (then >= now - Distance)
                return true;
        }

        return false;

        double Of(int left, int right)
        {
            foreach (var p in _ofLeft[left])
                if (p.Right == right)
                    return p.Confidence;
            return 0;
        }
    }

    private void Take(ScoredPair pair, Verdict verdict)
    {
        (LeftTaken[pair.Left], RightTaken[pair.Right]) = (pair.Right, pair.Left);
        (LeftVerdict[pair.Left], LeftConfidence[pair.Left]) = (verdict, pair.Confidence);
    }
}
