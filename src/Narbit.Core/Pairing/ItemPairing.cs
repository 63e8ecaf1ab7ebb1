using System.Globalization;

namespace Narbit.Core.Pairing;

/// <summary>
/// Pairs items with listings from everything that is known of both: SKU, barcode, part number, title, brand, price, sisters, and what was
/// decided before.
/// The same input gives the same result, in any order of its records.
/// </summary>
public sealed class ItemPairing
{
    // Weights are logarithms of odds, added up; the sum 0 is as likely as not.
    private const double Prior = -3;
    private const double Alike = 0.62;
    private const double Unrelated = 0.35;
    private const double MostReplaced = 0.22;
    private const double LeastReplaced = 0.1;
    private const int MostShared = 12;
    private const int TitleCandidates = 16;

    private readonly Side _left;
    private readonly Side _right;
    private readonly SideNames _names;
    private readonly TitleReader _titles = new();
    private readonly TitleComparison _comparison;
    private readonly Judgement _judgement;
    private readonly SkuHabit? _habit;
    private readonly Dictionary<string, string> _groups = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> _groupsBack = new(StringComparer.Ordinal);

    private ItemPairing(IReadOnlyList<ItemToPair> left, IReadOnlyList<ItemToPair> right, SideNames names, SkuHabit? habit)
    {
        (_names, _habit) = (names, habit);
        _comparison = new TitleComparison(_titles);
        _left = new Side(left, _titles, null);
        _right = new Side(right, _titles, habit);
        _judgement = new Judgement(left.Count, right.Count);
    }

    /// <summary>Pairs two sides.</summary>
    /// <param name="left">The left side, usually the hub's.</param>
    /// <param name="right">The right side.</param>
    /// <param name="names">What they are called in evidence.</param>
    /// <param name="habit">How the right side writes SKUs, where that was learned; or null.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>One finding a left record that is not taken, in key order, then one for each right record that is neither taken nor
    /// anybody's partner or candidate.</returns>
    public static IReadOnlyList<PairFinding> Pair(
        IReadOnlyList<ItemToPair> left,
        IReadOnlyList<ItemToPair> right,
        SideNames names,
        SkuHabit? habit = null,
        CancellationToken cancel = default
    )
    {
        var pairing = new ItemPairing(
            [.. left.OrderBy(r => r.Key, StringComparer.Ordinal)],
            [.. right.OrderBy(r => r.Key, StringComparer.Ordinal)],
            names,
            habit
        );
        return pairing.Run(cancel);
    }

    private List<PairFinding> Run(CancellationToken cancel)
    {
        AddByIdentifiers(cancel);
        _judgement.SettleCertain();
        LearnGroups();
        AddByTitle(cancel);
        _judgement.SettleRest();
        return Findings(cancel);
    }

    // Everything that shares an identifier is looked at.
    private void AddByIdentifiers(CancellationToken cancel)
    {
        for (var l = 0; l < _left.Count; l++)
        {
            if (l % 4096 == 0)
                cancel.ThrowIfCancellationRequested();
            if (_left.Items[l].Taken)
                continue;
            Consider(l, _right.WithSku(_left.Items[l].Sku));
            Consider(l, _right.WithForm(_left.Form[l]));
            Consider(l, _right.WithGtin(_left.Gtin[l]));
            Consider(l, _right.WithPart(_left.Part[l]));
            foreach (var known in _left.Items[l].KnownAs)
            {
                Consider(l, _right.WithForm(SkuForm.Of(known.Sku)));
                Consider(l, _right.WithGtin(Gtin.Of(known.Barcode)));
            }
        }

        void Consider(int left, IReadOnlyList<int> rights)
        {
            foreach (var right in rights.Count > MostShared ? rights.Take(MostShared) : rights)
                if (!_right.Items[right].Taken && !_judgement.Has(left, right))
                    _judgement.Add(Score(left, right, _comparison));
        }
    }

    // What has no certain partner is looked up by the words of its title among what has none either; each core takes its share.
    private void AddByTitle(CancellationToken cancel)
    {
        var index = new TitleIndex(_titles, _right.Titles, r => _judgement.RightTaken[r] < 0 && !_right.Items[r].Taken);
        int[] open = [.. Enumerable.Range(0, _left.Count).Where(l => _judgement.LeftTaken[l] < 0 && !_left.Items[l].Taken)];
        var found = new List<ScoredPair>?[open.Length];
        Parallel.For(
            0,
            open.Length,
            new ParallelOptions { CancellationToken = cancel },
            () => new TitleIndex.Search(index, new TitleComparison(_titles)),
            (i, _, search) =>
            {
                var l = open[i];
                foreach (var right in search.Nearest(_left.Titles[l], TitleCandidates))
                {
                    if (_judgement.Has(l, right))
                        continue;
                    var scored = Score(l, right, search.Comparison);
                    if (scored.Confidence >= Judgement.Worth)
                        (found[i] ??= []).Add(scored);
                }

                return search;
            },
            _ => { }
        );
        foreach (var pairs in found)
        foreach (var pair in pairs ?? [])
            _judgement.Add(pair);
    }

    // Which parent there is which parent here, by the sisters that are certain.
    private void LearnGroups()
    {
        var votes = new Dictionary<(string, string), int>();
        for (var l = 0; l < _left.Count; l++)
        {
            if (
                _judgement.LeftTaken[l] is not (>= 0 and var r)
                || _left.Items[l].Group is not { } here
                || _right.Items[r].Group is not { } there
            )
                continue;
            votes[(here, there)] = votes.GetValueOrDefault((here, there)) + 1;
        }

        foreach (
            var ((here, there), _) in votes
                .OrderByDescending(v => v.Value)
                .ThenBy(v => v.Key.Item1, StringComparer.Ordinal)
                .ThenBy(v => v.Key.Item2, StringComparer.Ordinal)
        )
        {
            _groups.TryAdd(here, there);
            _groupsBack.TryAdd(there, here);
        }
    }

    private ScoredPair Score(int l, int r, TitleComparison comparison)
    {
        var found = Facts(l, r, comparison);
        var odds = Prior + found.Identifiers + found.TitleOdds + found.Support;
        if (found.Forbidden is not null)
            odds -= 6;
        var confidence = 1 / (1 + Math.Exp(-odds));
        // Without an identifier a contradiction forbids the pair altogether, and a word replaced by another leaves it to a person.
        if (!found.HasIdentifier)
            confidence =
                found.Forbidden is not null ? 0
                : found.Replaced > LeastReplaced ? Math.Min(confidence, Judgement.LikelyFrom - 0.05)
                : confidence;
        // What shares an identifier is shown, whatever speaks against it.
        else
            confidence = Math.Max(confidence, Judgement.Worth + 0.01);
        return new ScoredPair(
            l,
            r,
            Math.Min(confidence, found.Strong && !found.Contradicted ? 1 : 0.98),
            found.Strong && !found.Contradicted,
            found.Contradicted
        );
    }

    private PairFacts Facts(int l, int r, TitleComparison comparison)
    {
        var (left, right) = (_left.Items[l], _right.Items[r]);
        var facts = new PairFacts();
        var title =
            _left.Titles[l].IsEmpty || _right.Titles[r].IsEmpty
                ? (TitleLikeness?)null
                : comparison.Compare(_left.Titles[l], _right.Titles[r]);
        facts.Title = title?.Likeness;
        facts.Forbidden = title?.Contradiction;
        facts.Replaced = title?.Replaced ?? 0;

        if (_left.Form[l] is { } form && _right.Form[r] is { } other)
        {
            facts.SkuExact = string.Equals(left.Sku!.Trim(), right.Sku!.Trim(), StringComparison.Ordinal);
            facts.SkuForm = !facts.SkuExact && string.Equals(form, other, StringComparison.Ordinal);
            facts.SkuHabit = facts.SkuForm && !string.Equals(SkuForm.Of(right.Sku), form, StringComparison.Ordinal);
            facts.SkuDiffers = !facts.SkuExact && !facts.SkuForm;
            facts.SkuTwice = facts.SkuExact
                ? _left.WithSku(left.Sku).Count > 1 || _right.WithSku(right.Sku).Count > 1
                : facts.SkuForm && (_left.WithForm(form).Count > 1 || _right.WithForm(other).Count > 1);
        }

        if (_left.Gtin[l] is { } gtin && _right.Gtin[r] is { } theirs)
        {
            facts.BarcodeSame = string.Equals(gtin, theirs, StringComparison.Ordinal);
            facts.BarcodeDiffers = !facts.BarcodeSame;
            facts.BarcodeTwice = facts.BarcodeSame && (_left.WithGtin(gtin).Count > 1 || _right.WithGtin(gtin).Count > 1);
        }

        if (_left.Part[l] is { } part && _right.Part[r] is { } partThere)
        {
            facts.PartSame = string.Equals(part, partThere, StringComparison.Ordinal);
            facts.PartDiffers = !facts.PartSame;
            facts.PartTwice = facts.PartSame && (_left.WithPart(part).Count > 1 || _right.WithPart(part).Count > 1);
        }

        foreach (var known in left.KnownAs)
        {
            var bySku =
                _right.Form[r] is { } sku
                && string.Equals(SkuForm.Of(known.Sku), sku, StringComparison.Ordinal)
                && _right.WithForm(sku).Count == 1;
            var byBarcode =
                _right.Gtin[r] is { } code
                && string.Equals(Gtin.Of(known.Barcode), code, StringComparison.Ordinal)
                && _right.WithGtin(code).Count == 1;
            if (bySku || byBarcode)
                facts.Known ??= known;
        }

        if (_left.Brand[l] is { } brand && _right.Brand[r] is { } brandThere)
            facts.Brand = BrandsAgree(brand, brandThere);
        if (left.Price is > 0 and var price && right.Price is > 0 and var priceThere)
            facts.PriceRatio = (double)(priceThere / price);
        if (left.Group is { } group && right.Group is { } groupThere)
        {
            if (_groups.TryGetValue(group, out var expected))
                facts.Group = string.Equals(expected, groupThere, StringComparison.Ordinal);
            else if (_groupsBack.ContainsKey(groupThere))
                facts.Group = false;
        }

        return facts;
    }

    private static bool BrandsAgree(string a, string b) =>
        string.Equals(a, b, StringComparison.Ordinal)
        || a.StartsWith(b, StringComparison.Ordinal)
        || b.StartsWith(a, StringComparison.Ordinal)
        || TitleComparison.Alike(a, b) >= 0.85f;

    private List<PairFinding> Findings(CancellationToken cancel)
    {
        var findings = new List<PairFinding>(_left.Count + 1024);
        for (var l = 0; l < _left.Count; l++)
        {
            if (l % 4096 == 0)
                cancel.ThrowIfCancellationRequested();
            if (_left.Items[l].Taken)
                continue;
            var partner = _judgement.LeftTaken[l];
            var verdict = _judgement.LeftVerdict[l];
            List<Candidate> candidates =
                verdict == Verdict.Certain
                    ? []
                    :
                    [
                        .. _judgement
                            .CandidatesOf(l)
                            .Select(p => new Candidate(_right.Items[p.Right].Key, Rounded(p.Confidence), Explain(l, p.Right))),
                    ];
            findings.Add(
                verdict switch
                {
                    Verdict.Certain or Verdict.Likely => new PairFinding(
                        _left.Items[l].Key,
                        _right.Items[partner].Key,
                        verdict,
                        Rounded(_judgement.LeftConfidence[l]),
                        Explain(l, partner),
                        candidates
                    ),
                    Verdict.Ambiguous => new PairFinding(
                        _left.Items[l].Key,
                        null,
                        verdict,
                        Rounded(_judgement.LeftConfidence[l]),
                        WhyOpen(_left, l, _names.Left, candidates),
                        candidates
                    ),
                    _ => new PairFinding(
                        _left.Items[l].Key,
                        null,
                        verdict,
                        0,
                        WhyAlone(_left, l, _names.Left, _right, _names.Right),
                        candidates
                    ),
                }
            );
        }

        for (var r = 0; r < _right.Count; r++)
        {
            if (_right.Items[r].Taken || _judgement.RightTaken[r] >= 0 || _judgement.IsCandidate(r))
                continue;
            List<Candidate> candidates =
            [
                .. _judgement
                    .CandidatesOfRight(r)
                    .Select(p => new Candidate(_left.Items[p.Left].Key, Rounded(p.Confidence), Explain(p.Left, r))),
            ];
            findings.Add(
                new PairFinding(
                    null,
                    _right.Items[r].Key,
                    Verdict.None,
                    0,
                    WhyAlone(_right, r, _names.Right, _left, _names.Left),
                    candidates
                )
            );
        }

        return findings;
    }

    private List<Evidence> Explain(int l, int r)
    {
        var (facts, left, right) = (Facts(l, r, _comparison), _left.Items[l], _right.Items[r]);
        var evidence = new List<Evidence>(6);
        void Say(EvidenceKind kind, EvidenceEffect effect, string words) => evidence.Add(new Evidence(kind, effect, words));

        if (facts.Known is { } known)
            Say(EvidenceKind.Earlier, EvidenceEffect.For, $"in {known.System} the same {Shared(known, r)} was paired with this item");
        if (facts.SkuExact)
            Say(
                EvidenceKind.Sku,
                facts.SkuTwice ? EvidenceEffect.Neutral : EvidenceEffect.For,
                facts.SkuTwice
                    ? Twice($"SKU {left.Sku}", _left.WithSku(left.Sku).Count, _right.WithSku(right.Sku).Count)
                    : $"SKU {left.Sku} on both sides"
            );
        else if (facts.SkuTwice)
            Say(
                EvidenceKind.Sku,
                EvidenceEffect.Neutral,
                $"SKU {left.Sku} here is {right.Sku} there, but "
                    + Twice("it", _left.WithForm(_left.Form[l]).Count, _right.WithForm(_right.Form[r]).Count)
            );
        else if (facts.SkuHabit)
            Say(EvidenceKind.Sku, EvidenceEffect.For, $"SKU {left.Sku} here is {right.Sku} there: {_habit!.Words(_names.Right)}");
        else if (facts.SkuForm)
            Say(
                EvidenceKind.Sku,
                EvidenceEffect.For,
                $"SKU {left.Sku} here is {right.Sku} there: the same but for case, spaces, separators or leading zeros"
            );

        if (facts.BarcodeSame)
            Say(
                EvidenceKind.Barcode,
                facts.BarcodeTwice ? EvidenceEffect.Neutral : EvidenceEffect.For,
                facts.BarcodeTwice
                    ? Twice($"barcode {left.Barcode}", _left.WithGtin(_left.Gtin[l]).Count, _right.WithGtin(_right.Gtin[r]).Count)
                    : $"barcode {left.Barcode} on both sides, check digit right"
            );
        else if (facts.BarcodeDiffers)
            Say(
                EvidenceKind.Barcode,
                EvidenceEffect.Against,
                $"{(facts.SkuExact || facts.SkuForm ? "same SKU, other barcode" : "other barcode")}: {left.Barcode} here, "
                    + $"{right.Barcode} there"
            );
        if (Gtin.Fault(left.Barcode) is { } wrongHere)
            Say(EvidenceKind.Barcode, EvidenceEffect.Neutral, $"{wrongHere}, so it counts for nothing");
        if (Gtin.Fault(right.Barcode) is { } wrongThere && right.Barcode != left.Barcode)
            Say(EvidenceKind.Barcode, EvidenceEffect.Neutral, $"{wrongThere} there, so it counts for nothing");

        if (facts.PartSame)
            Say(
                EvidenceKind.PartNumber,
                facts.PartTwice ? EvidenceEffect.Neutral : EvidenceEffect.For,
                facts.PartTwice
                    ? $"part number {left.PartNumber} on both sides, and used more than once"
                    : $"part number {left.PartNumber} on both sides"
            );
        else if (facts.PartDiffers)
            Say(EvidenceKind.PartNumber, EvidenceEffect.Against, $"other part number: {left.PartNumber} here, {right.PartNumber} there");

        if (facts.Forbidden is { } forbidden)
            Say(EvidenceKind.Measure, EvidenceEffect.Forbids, forbidden);
        if (facts.Title is { } title)
        {
            var percent = Math.Round(title * 100).ToString(CultureInfo.InvariantCulture);
            if (title >= 0.995)
                Say(EvidenceKind.Title, EvidenceEffect.For, "titles say the same");
            else if (title >= Alike && facts.Replaced <= MostReplaced)
                Say(EvidenceKind.Title, EvidenceEffect.For, $"titles agree to {percent} %");
            else if (title < Unrelated)
                Say(EvidenceKind.Title, EvidenceEffect.Against, $"titles are unrelated: they agree to {percent} %");
            else
                Say(
                    EvidenceKind.Title,
                    facts.Replaced > MostReplaced ? EvidenceEffect.Against : EvidenceEffect.Neutral,
                    $"titles agree to {percent} % only"
                );
        }

        if (facts.Brand is { } brand)
            Say(
                EvidenceKind.Brand,
                brand ? EvidenceEffect.For : EvidenceEffect.Against,
                brand ? $"brand {left.Brand} on both sides" : $"other brand: {left.Brand} here, {right.Brand} there"
            );
        if (facts.Group is { } group)
            Say(
                EvidenceKind.Group,
                group ? EvidenceEffect.For : EvidenceEffect.Against,
                group ? "its sisters are under the same parent there" : "its sisters are under another parent there"
            );
        if (facts.PriceRatio is { } ratio && (ratio > 3 || ratio < 1 / 3.0))
            Say(EvidenceKind.Price, EvidenceEffect.Against, $"prices are far apart: {Priced(left)} here, {Priced(right)} there");
        else if (facts.PriceRatio is > 0.9 and < 1.35)
            Say(EvidenceKind.Price, EvidenceEffect.For, Near(left, right));
        return evidence;
    }

    // Amounts that are not of one sort are never simply near each other.
    private static string Near(ItemToPair left, ItemToPair right) =>
        string.Equals(left.PriceUnit, right.PriceUnit, StringComparison.Ordinal)
            ? $"prices are near each other: {Priced(left)} here, {Priced(right)} there"
            : $"prices fit, though not of one sort: {Priced(left)} here, {Priced(right)} there";

    private static string Priced(ItemToPair item) =>
        item.PriceUnit is { } unit ? $"{item.Price} {unit}" : string.Create(CultureInfo.InvariantCulture, $"{item.Price}");

    // By what a record of an earlier store is the same as one on the right.
    private string Shared(KnownAs known, int r) =>
        known.Sku is { Length: > 0 } sku && SkuForm.Of(sku) == _right.Form[r] ? $"SKU {sku}" : $"barcode {known.Barcode}";

    private string Twice(string what, int here, int there) =>
        here > 1 && there > 1 ? $"{what} is used {here} times in {_names.Left} and {there} times in {_names.Right}"
        : here > 1 ? $"{what} is used {here} times in {_names.Left}"
        : $"{what} is used {there} times in {_names.Right}";

    private static List<Evidence> WhyOpen(Side side, int at, string name, List<Candidate> candidates)
    {
        var why = new List<Evidence>();
        if (Trouble(side, at, name) is { } trouble)
            why.Add(trouble);
        why.Add(
            new Evidence(
                EvidenceKind.Rival,
                EvidenceEffect.Neutral,
                candidates.Count switch
                {
                    1 when candidates[0].Confidence < Judgement.LikelyFrom => "one candidate, and too little speaks for it",
                    1 => "one candidate, and another record fits it as well",
                    _ => $"{candidates.Count} candidates, none clearly ahead",
                }
            )
        );
        return why;
    }

    private static List<Evidence> WhyAlone(Side side, int at, string name, Side other, string otherName)
    {
        var why = new List<Evidence>();
        if (Trouble(side, at, name) is { } trouble)
            why.Add(trouble);
        else if (other.WithForm(side.Form[at]).Count == 0)
            why.Add(new Evidence(EvidenceKind.Sku, EvidenceEffect.Neutral, $"no SKU {side.Items[at].Sku} in {otherName}"));
        why.Add(
            new Evidence(
                EvidenceKind.Title,
                EvidenceEffect.Neutral,
                side.Titles[at].IsEmpty ? "no title to go by" : $"nothing in {otherName} that is free resembles it"
            )
        );
        return why;
    }

    private static Evidence? Trouble(Side side, int at, string name)
    {
        if (side.Form[at] is not { } form)
            return new Evidence(EvidenceKind.Sku, EvidenceEffect.Neutral, $"no SKU in {name}");
        var users = side.WithForm(form);
        return users.Count < 2
            ? null
            : new Evidence(
                EvidenceKind.Sku,
                EvidenceEffect.Neutral,
                $"SKU {side.Items[at].Sku} is used {users.Count} times in {name}: "
                    + $"{string.Join(", ", users.Take(5).Select(u => side.Items[u].Key))}{(users.Count > 5 ? " …" : "")}"
            );
    }

    private static double Rounded(double confidence) => Math.Round(confidence, 3);

    // What is known of two records, and what it weighs.
    private struct PairFacts
    {
        public bool SkuExact,
            SkuForm,
            SkuHabit,
            SkuTwice,
            SkuDiffers,
            BarcodeSame,
            BarcodeTwice,
            BarcodeDiffers,
            PartSame,
            PartTwice,
            PartDiffers;
        public KnownAs? Known;
        public double? Title;
        public double Replaced;
        public string? Forbidden;
        public bool? Brand;
        public bool? Group;
        public double? PriceRatio;

        public readonly bool HasIdentifier => SkuExact || SkuForm || BarcodeSame || PartSame || Known is not null;

        public readonly bool Contradicted =>
            BarcodeDiffers || Forbidden is not null || Brand == false || Title < Unrelated || Replaced > MostReplaced;

        public readonly double Identifiers =>
            (
                SkuExact
                    ? SkuTwice
                        ? 2.5
                        : 6
                    : SkuForm
                        ? SkuTwice
                            ? 2
                            : 5
                        : SkuDiffers
                            ? -0.6
                            : 0
            )
            + (
                BarcodeSame
                    ? BarcodeTwice
                        ? 3
                        : 7
                    : BarcodeDiffers
                        ? -4
                        : 0
            )
            + (
                PartSame
                    ? PartTwice
                        ? 2
                        : 5
                    : PartDiffers
                        ? -2
                        : 0
            )
            + (Known is not null ? 6 : 0);

        // Nothing known of a title says nothing; 0.5 is neutral.
        public readonly double TitleOdds =>
            Title is not { } likeness ? 0 : Math.Max(-5, (likeness - 0.5) * 11) - 6 * Math.Max(0, Replaced - MostReplaced / 2);

        public readonly double Support =>
            (
                Brand is { } brand
                    ? brand
                        ? 0.8
                        : -3
                    : 0
            )
            + (
                Group is { } group
                    ? group
                        ? 1.2
                        : -1.2
                    : 0
            )
            + (
                PriceRatio is not { } ratio ? 0
                : ratio is > 0.9 and < 1.35 ? 0.5
                : ratio is > 3 or < 1 / 3.0 ? -1.5
                : 0
            );

        // Two things that agree, or a SKU to the letter where nothing else is known.
        public readonly bool Strong
        {
            get
            {
                if (Title is { } likeness && likeness < 0.9 && PriceRatio is > 2.2 or < 0.45)
                    return false;
                var alike = Title >= Alike;
                if (BarcodeSame && !BarcodeTwice && (SkuExact || SkuForm || alike || (Title is null && !SkuDiffers)))
                    return true;
                if (SkuExact && !SkuTwice)
                    return Title is null || alike;
                if (SkuForm && !SkuTwice)
                    return alike;
                return Known is not null && alike;
            }
        }
    }

    // One side, made ready to be compared and looked up.
    private sealed class Side
    {
        private static readonly IReadOnlyList<int> Nobody = [];

        private readonly Dictionary<string, List<int>> _bySku;
        private readonly Dictionary<string, List<int>> _byForm;
        private readonly Dictionary<string, List<int>> _byGtin;
        private readonly Dictionary<string, List<int>> _byPart;

        public Side(IReadOnlyList<ItemToPair> items, TitleReader titles, SkuHabit? habit)
        {
            Items = items;
            Form = new string?[items.Count];
            Gtin = new string?[items.Count];
            Part = new string?[items.Count];
            Brand = new string?[items.Count];
            Titles = new TitleReading[items.Count];
            _bySku = new(items.Count, StringComparer.Ordinal);
            _byForm = new(items.Count, StringComparer.Ordinal);
            _byGtin = new(items.Count, StringComparer.Ordinal);
            _byPart = new(StringComparer.Ordinal);
            for (var i = 0; i < items.Count; i++)
            {
                var item = items[i];
                Form[i] = SkuForm.Of(habit?.Plain(item.Sku) ?? item.Sku);
                Gtin[i] = Pairing.Gtin.Of(item.Barcode);
                Part[i] = SkuForm.Of(item.PartNumber);
                Brand[i] = SkuForm.Of(item.Brand)?.ToLowerInvariant();
                Titles[i] = titles.Read(item.Title, item.Option, item.TitleCut);
                Add(_bySku, string.IsNullOrWhiteSpace(item.Sku) ? null : item.Sku.Trim(), i);
                Add(_byForm, Form[i], i);
                Add(_byGtin, Gtin[i], i);
                Add(_byPart, Part[i], i);
            }
        }

        public IReadOnlyList<ItemToPair> Items { get; }

        public int Count => Items.Count;

        public string?[] Form { get; }

        public string?[] Gtin { get; }

        public string?[] Part { get; }

        public string?[] Brand { get; }

        public TitleReading[] Titles { get; }

        public IReadOnlyList<int> WithSku(string? sku) =>
            sku is null ? Nobody
            : _bySku.TryGetValue(sku.Trim(), out var list) ? list
            : Nobody;

        public IReadOnlyList<int> WithForm(string? form) =>
            form is null ? Nobody
            : _byForm.TryGetValue(form, out var list) ? list
            : Nobody;

        public IReadOnlyList<int> WithGtin(string? gtin) =>
            gtin is null ? Nobody
            : _byGtin.TryGetValue(gtin, out var list) ? list
            : Nobody;

        public IReadOnlyList<int> WithPart(string? part) =>
            part is null ? Nobody
            : _byPart.TryGetValue(part, out var list) ? list
            : Nobody;

        private static void Add(Dictionary<string, List<int>> index, string? key, int at)
        {
            if (key is null)
                return;
            if (index.TryGetValue(key, out var list))
                list.Add(at);
            else
                index[key] = [at];
        }
    }
}
