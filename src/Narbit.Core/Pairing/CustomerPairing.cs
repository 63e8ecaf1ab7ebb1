namespace Narbit.Core.Pairing;

/// <summary>Pairs customers by email, phone, account number, name with postcode, and company.</summary>
public sealed class CustomerPairing
{
    private const double Prior = -3;
    private const double SameName = 0.8;
    private const int MostShared = 12;

    private readonly Side _left;
    private readonly Side _right;
    private readonly SideNames _names;
    private readonly TitleReader _reader = new();
    private readonly TitleComparison _comparison;
    private readonly Judgement _judgement;

    private CustomerPairing(IReadOnlyList<CustomerToPair> left, IReadOnlyList<CustomerToPair> right, SideNames names, string? country)
    {
        _names = names;
        _comparison = new TitleComparison(_reader);
        (_left, _right) = (new Side(left, _reader, country), new Side(right, _reader, country));
        _judgement = new Judgement(left.Count, right.Count);
    }

    /// <summary>Pairs two sides.</summary>
    /// <param name="left">The left side.</param>
    /// <param name="right">The right side.</param>
    /// <param name="names">What they are called in evidence.</param>
    /// <param name="country">ISO 3166-1 code of the country whose phone numbers are written without a code; null: none.</param>
    /// <returns>One finding a left record, in key order, then one for each right record that is nobody's partner or candidate.</returns>
    public static IReadOnlyList<PairFinding> Pair(
        IReadOnlyList<CustomerToPair> left,
        IReadOnlyList<CustomerToPair> right,
        SideNames names,
        string? country
    )
    {
        var pairing = new CustomerPairing(
            [.. left.OrderBy(r => r.Key, StringComparer.Ordinal)],
            [.. right.OrderBy(r => r.Key, StringComparer.Ordinal)],
            names,
            country
        );
        return pairing.Run();
    }

    private List<PairFinding> Run()
    {
        for (var l = 0; l < _left.Count; l++)
        {
            if (_left.Items[l].Taken)
                continue;
            var shared = _right
                .With(Particular.Email, _left.Email[l])
                .Concat(_right.With(Particular.Phone, _left.Phone[l]))
                .Concat(_right.With(Particular.Account, _left.Account[l]))
                .Concat(_right.With(Particular.Postcode, _left.Postcode[l]))
                .Concat(_left.NameKeys(l).SelectMany(k => _right.With(Particular.Name, k)));
            foreach (var r in shared.Distinct().Where(r => !_right.Items[r].Taken).Take(MostShared * 4))
                _judgement.Add(Score(l, r));
        }

        _judgement.SettleCertain();
        _judgement.SettleRest();
        var findings = new List<PairFinding>();
        for (var l = 0; l < _left.Count; l++)
        {
            if (_left.Items[l].Taken)
                continue;
            var verdict = _judgement.LeftVerdict[l];
            Candidate[] candidates =
                verdict == Verdict.Certain
                    ? []
                    :
                    [
                        .. _judgement
                            .CandidatesOf(l)
                            .Select(p => new Candidate(_right.Items[p.Right].Key, Math.Round(p.Confidence, 3), Explain(l, p.Right))),
                    ];
            var partner = _judgement.LeftTaken[l];
            findings.Add(
                new PairFinding(
                    _left.Items[l].Key,
                    partner < 0 ? null : _right.Items[partner].Key,
                    verdict,
                    Math.Round(_judgement.LeftConfidence[l], 3),
                    partner >= 0 ? Explain(l, partner) : Why(_left, l, _names.Left, _names.Right, candidates),
                    candidates
                )
            );
        }

        for (var r = 0; r < _right.Count; r++)
        {
            if (_right.Items[r].Taken || _judgement.RightTaken[r] >= 0 || _judgement.IsCandidate(r))
                continue;
            Candidate[] candidates =
            [
                .. _judgement
                    .CandidatesOfRight(r)
                    .Select(p => new Candidate(_left.Items[p.Left].Key, Math.Round(p.Confidence, 3), Explain(p.Left, r))),
            ];
            findings.Add(
                new PairFinding(null, _right.Items[r].Key, Verdict.None, 0, Why(_right, r, _names.Right, _names.Left, []), candidates)
            );
        }

        return findings;
    }

    private ScoredPair Score(int l, int r)
    {
        var f = Facts(l, r);
        var odds =
            Prior
            + (
                f.Email == true
                    ? f.EmailTwice
                        ? 2.5
                        : 6
                    : f.Email == false
                        ? -0.8
                        : 0
            )
            + (
                f.Account == true ? 6
                : f.Account == false ? -4
                : 0
            )
            + (
                f.Phone == true
                    ? f.PhoneTwice
                        ? 1.5
                        : 3.5
                    : f.Phone == false
                        ? -0.5
                        : 0
            )
            + (
                f.Name is { } name
                    ? name >= SameName
                        ? 3
                        : name < 0.35
                            ? -2.5
                            : 0
                    : 0
            )
            + (
                f.Postcode == true ? 1.2
                : f.Postcode == false ? -0.6
                : 0
            )
            + (
                f.Company is { } company
                    ? company >= SameName
                        ? 1.8
                        : company < 0.35
                            ? -1.5
                            : 0
                    : 0
            );
        var supported = f.Name >= SameName || f.Company >= SameName || f.Phone == true;
        var contradicted = f.Account == false || (f.Name < 0.35 && !(f.Company >= SameName));
        var strong =
            ((f.Email == true && !f.EmailTwice) || (f.Account == true && !f.AccountTwice))
            && (supported || (f.Name is null && f.Company is null));
        return new ScoredPair(
            l,
            r,
            Math.Min(1 / (1 + Math.Exp(-odds)), strong && !contradicted ? 1 : 0.98),
            strong && !contradicted,
            contradicted
        );
    }

    private CustomerFacts Facts(int l, int r)
    {
        static bool? Same(string? a, string? b) => a is null || b is null ? null : string.Equals(a, b, StringComparison.Ordinal);
        double? Alike(TitleReading a, TitleReading b) => a.IsEmpty || b.IsEmpty ? null : _comparison.Compare(a, b).Likeness;
        bool Twice(Particular which, string? value) =>
            value is not null && (_left.With(which, value).Count > 1 || _right.With(which, value).Count > 1);
        return new CustomerFacts(
            Same(_left.Email[l], _right.Email[r]),
            Twice(Particular.Email, _left.Email[l]),
            Same(_left.Phone[l], _right.Phone[r]),
            Twice(Particular.Phone, _left.Phone[l]),
            Same(_left.Account[l], _right.Account[r]),
            Twice(Particular.Account, _left.Account[l]),
            Same(_left.Postcode[l], _right.Postcode[r]),
            Alike(_left.Names[l], _right.Names[r]),
            Alike(_left.Companies[l], _right.Companies[r])
        );
    }

    private List<Evidence> Explain(int l, int r)
    {
        var (f, here, there) = (Facts(l, r), _left.Items[l], _right.Items[r]);
        var evidence = new List<Evidence>();
        void Say(EvidenceKind kind, EvidenceEffect effect, string words) => evidence.Add(new Evidence(kind, effect, words));
        if (f.Account == true)
            Say(EvidenceKind.Account, EvidenceEffect.For, $"account number {here.Account} on both sides");
        else if (f.Account == false)
            Say(EvidenceKind.Account, EvidenceEffect.Against, $"other account number: {here.Account} here, {there.Account} there");
        if (f.Email == true)
            Say(
                EvidenceKind.Email,
                f.EmailTwice ? EvidenceEffect.Neutral : EvidenceEffect.For,
                f.EmailTwice ? $"email {here.Email} on both sides, but two customers have it" : $"email {here.Email} on both sides"
            );
        else if (f.Email == false)
            Say(EvidenceKind.Email, EvidenceEffect.Against, $"other email: {here.Email} here, {there.Email} there");
        if (f.Phone == true)
            Say(
                EvidenceKind.Phone,
                f.PhoneTwice ? EvidenceEffect.Neutral : EvidenceEffect.For,
                $"phone {_left.Phone[l]} on both sides{(f.PhoneTwice ? ", but two customers have it" : "")}"
            );
        if (f.Name is { } name)
            Say(
                EvidenceKind.Name,
                name >= SameName ? EvidenceEffect.For
                    : name < 0.35 ? EvidenceEffect.Against
                    : EvidenceEffect.Neutral,
                name >= SameName ? $"name {here.Name} on both sides" : $"other name: {here.Name} here, {there.Name} there"
            );
        if (f.Company is { } company)
            Say(
                EvidenceKind.Company,
                company >= SameName ? EvidenceEffect.For : EvidenceEffect.Against,
                company >= SameName ? $"company {here.Company} on both sides" : $"other company: {here.Company} here, {there.Company} there"
            );
        if (f.Postcode is { } postcode)
            Say(
                EvidenceKind.Postcode,
                postcode ? EvidenceEffect.For : EvidenceEffect.Against,
                postcode ? $"postcode {here.Postcode} on both sides" : $"other postcode: {here.Postcode} here, {there.Postcode} there"
            );
        return evidence;
    }

    private static List<Evidence> Why(Side side, int at, string name, string otherName, Candidate[] candidates)
    {
        var why = new List<Evidence>();
        if (side.With(Particular.Email, side.Email[at]).Count > 1)
            why.Add(
                new Evidence(
                    EvidenceKind.Email,
                    EvidenceEffect.Neutral,
                    $"email {side.Items[at].Email} belongs to {side.With(Particular.Email, side.Email[at]).Count} customers in {name}"
                )
            );
        why.Add(
            candidates.Length == 0
                ? new Evidence(
                    EvidenceKind.Rival,
                    EvidenceEffect.Neutral,
                    $"nobody in {otherName} who is free shares an email, a phone number, an account number or a name with postcode"
                )
                : new Evidence(
                    EvidenceKind.Rival,
                    EvidenceEffect.Neutral,
                    candidates.Length == 1
                        ? "one candidate, and too little speaks for it"
                        : $"{candidates.Length} candidates, none clearly ahead"
                )
        );
        return why;
    }

    private enum Particular
    {
        Email,
        Phone,
        Account,
        Postcode,
        Name,
    }

    private readonly record struct CustomerFacts(
        bool? Email,
        bool EmailTwice,
        bool? Phone,
        bool PhoneTwice,
        bool? Account,
        bool AccountTwice,
        bool? Postcode,
        double? Name,
        double? Company
    );

    private sealed class Side
    {
        private static readonly string[] LegalForms = ["ltd", "limited", "llc", "inc", "gmbh", "co", "plc", "bv", "sarl", "company"];
        private readonly Dictionary<(Particular, string), List<int>> _index = [];
        private readonly TitleReader _reader;

        public Side(IReadOnlyList<CustomerToPair> items, TitleReader reader, string? country)
        {
            (Items, _reader) = (items, reader);
            Email = new string?[items.Count];
            Phone = new string?[items.Count];
            Account = new string?[items.Count];
            Postcode = new string?[items.Count];
            (Names, Companies) = (new TitleReading[items.Count], new TitleReading[items.Count]);
            for (var i = 0; i < items.Count; i++)
            {
                var item = items[i];
                Add(Particular.Email, Email[i] = CustomerForm.Email(item.Email), i);
                Add(Particular.Phone, Phone[i] = CustomerForm.Phone(item.Phone, country), i);
                Add(Particular.Account, Account[i] = SkuForm.Of(item.Account), i);
                Add(Particular.Postcode, Postcode[i] = CustomerForm.Postcode(item.Postcode), i);
                Names[i] = reader.Read(item.Name, null, false);
                Companies[i] = reader.Read(
                    item.Company is null
                        ? null
                        : string.Join(
                            ' ',
                            item.Company.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                                .Where(w => !LegalForms.Contains(w.Trim('.', ',').ToLowerInvariant()))
                        ),
                    null,
                    false
                );
                foreach (var key in NameKeys(i))
                    Add(Particular.Name, key, i);
            }
        }

        public IReadOnlyList<CustomerToPair> Items { get; }

        public int Count => Items.Count;

        public string?[] Email { get; }

        public string?[] Phone { get; }

        public string?[] Account { get; }

        public string?[] Postcode { get; }

        public TitleReading[] Names { get; }

        public TitleReading[] Companies { get; }

        // A name is looked up by its longest word, and a company too.
        public IEnumerable<string> NameKeys(int at) =>
            new[] { Names[at], Companies[at] }
                .Where(n => n.Words.Length > 0)
                .Select(n =>
                    n.Words.Select(w => _reader.Words[w]).OrderByDescending(w => w.Length).ThenBy(w => w, StringComparer.Ordinal).First()
                );

        public List<int> With(Particular which, string? value) =>
            value is not null && _index.TryGetValue((which, value), out var list) ? list : [];

        private void Add(Particular which, string? value, int at)
        {
            if (value is null)
                return;
            if (_index.TryGetValue((which, value), out var list))
                list.Add(at);
            else
                _index[(which, value)] = [at];
        }
    }
}
