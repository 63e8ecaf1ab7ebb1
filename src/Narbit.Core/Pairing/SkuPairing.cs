using System.Text.Json.Serialization;

namespace Narbit.Core.Pairing;

/// <summary>What pairing says of a record.</summary>
[JsonConverter(typeof(CamelCaseEnum<PairVerdict>))]
public enum PairVerdict
{
    /// <summary>The SKUs are the same to the letter.</summary>
    Exact,

    /// <summary>The SKUs are the same after trimming, case, separators and leading zeros.</summary>
    Form,

    /// <summary>Unpaired: it has no SKU.</summary>
    SkuMissing,

    /// <summary>Unpaired: its SKU is used more than once, here or there, so any choice would be a guess.</summary>
    UsedTwice,

    /// <summary>Unpaired: the other side has no such SKU.</summary>
    NoPartner,
}

/// <summary>A record to be paired.</summary>
/// <param name="Key">Its key, unique on its side.</param>
/// <param name="Sku">Its SKU, or null.</param>
public readonly record struct SkuRecord(string Key, string? Sku);

/// <summary>What pairing made of one record, or of two that belong together.</summary>
/// <param name="LeftKey">The left record, or null.</param>
/// <param name="RightKey">The right record, or null.</param>
/// <param name="Verdict">The verdict.</param>
/// <param name="Evidence">The reason in plain words.</param>
public sealed record SkuPair(string? LeftKey, string? RightKey, PairVerdict Verdict, string Evidence);

/// <summary>Pairs records by SKU: exact first, then by form. What is used twice is never guessed.</summary>
public static class SkuPairing
{
    /// <summary>Pairs two sides. Every record is in exactly one of the results; the order of the input makes no difference to who is paired with whom.</summary>
    /// <param name="left">The left side.</param>
    /// <param name="right">The right side.</param>
    /// <param name="leftName">The left system's name, for the evidence.</param>
    /// <param name="rightName">The right system's name.</param>
    public static IReadOnlyList<SkuPair> Pair(IReadOnlyCollection<SkuRecord> left, IReadOnlyCollection<SkuRecord> right, string leftName, string rightName)
    {
        var results = new List<SkuPair>(Math.Max(left.Count, right.Count));
        var (lefts, rights) = (new Side(left), new Side(right));

        foreach (var (sku, mine) in lefts.BySku)
        {
            if (mine.Count != 1 || !rights.BySku.TryGetValue(sku, out var theirs) || theirs.Count != 1) continue;
            results.Add(new SkuPair(mine[0].Key, theirs[0].Key, PairVerdict.Exact, $"SKU {sku} on both sides"));
            lefts.Paired.Add(mine[0].Key);
            rights.Paired.Add(theirs[0].Key);
        }

        var (leftForms, rightForms) = (lefts.Remaining(), rights.Remaining());
        foreach (var (form, mine) in leftForms)
        {
            if (mine.Count != 1 || !rightForms.TryGetValue(form, out var theirs) || theirs.Count != 1) continue;
            results.Add(new SkuPair(mine[0].Key, theirs[0].Key, PairVerdict.Form, $"SKU {mine[0].Sku} here is {theirs[0].Sku} there: the same but for case, spaces, separators or leading zeros"));
            lefts.Paired.Add(mine[0].Key);
            rights.Paired.Add(theirs[0].Key);
        }

        foreach (var record in left.Where(r => !lefts.Paired.Contains(r.Key))) results.Add(Unpaired(record, true, leftForms, rightForms, leftName, rightName));
        foreach (var record in right.Where(r => !rights.Paired.Contains(r.Key))) results.Add(Unpaired(record, false, rightForms, leftForms, rightName, leftName));
        return results;
    }

    private static SkuPair Unpaired(SkuRecord record, bool isLeft, Dictionary<string, List<SkuRecord>> here, Dictionary<string, List<SkuRecord>> there, string hereName, string thereName)
    {
        var (verdict, evidence) = Reason();
        return isLeft ? new SkuPair(record.Key, null, verdict, evidence) : new SkuPair(null, record.Key, verdict, evidence);

        (PairVerdict, string) Reason()
        {
            if (SkuForm.Of(record.Sku) is not { } form) return (PairVerdict.SkuMissing, $"no SKU in {hereName}");
            if (here[form].Count > 1) return (PairVerdict.UsedTwice, Twice(record.Sku!, here[form], hereName));
            return there.TryGetValue(form, out var others)
                ? (PairVerdict.UsedTwice, Twice(record.Sku!, others, thereName))
                : (PairVerdict.NoPartner, $"no SKU {record.Sku} in {thereName}");
        }
    }

    private static string Twice(string sku, List<SkuRecord> users, string where) =>
        $"SKU {sku} is used {users.Count} times in {where}: {string.Join(", ", users.Select(u => u.Key).Order(StringComparer.Ordinal).Take(5))}{(users.Count > 5 ? " …" : "")}";

    private sealed class Side
    {
        private readonly IReadOnlyCollection<SkuRecord> _records;

        public Side(IReadOnlyCollection<SkuRecord> records)
        {
            _records = records;
            foreach (var record in records)
                if (!string.IsNullOrWhiteSpace(record.Sku)) Add(BySku, record.Sku, record);
        }

        public Dictionary<string, List<SkuRecord>> BySku { get; } = new(StringComparer.Ordinal);

        public HashSet<string> Paired { get; } = new(StringComparer.Ordinal);

        // Records that were not paired exactly, by the form of their SKU.
        public Dictionary<string, List<SkuRecord>> Remaining()
        {
            var forms = new Dictionary<string, List<SkuRecord>>(StringComparer.Ordinal);
            foreach (var record in _records)
                if (!Paired.Contains(record.Key) && SkuForm.Of(record.Sku) is { } form) Add(forms, form, record);
            return forms;
        }

        private static void Add(Dictionary<string, List<SkuRecord>> groups, string group, SkuRecord record)
        {
            if (groups.TryGetValue(group, out var members)) members.Add(record);
            else groups[group] = [record];
        }
    }
}
