using Narbit.Core.Describing;

namespace Narbit.Adapters.Describing;

/// <summary>Which field of a sample is its records' key.</summary>
internal static class KeyReading
{
    private const int LongestKey = 100;

    private static readonly string[] Words =
    [
        "id",
        "plu",
        "key",
        "uuid",
        "guid",
        "gid",
        "no",
        "nr",
        "number",
        "nummer",
        "code",
        "sku",
        "ref",
    ];

    private static readonly string[] Documents =
    [
        "receipt",
        "order",
        "document",
        "invoice",
        "ticket",
        "bon",
        "beleg",
        "bestellung",
        "auftrag",
        "commande",
        "pedido",
        "bestelling",
    ];

    /// <summary>The field that is there and different in each record, the one called most like a key; null: none is.</summary>
    public static string? Of(IReadOnlyList<SampleColumn> columns) =>
        Ranked(columns, c => c.Values.Select(v => v!.Value.Text).Distinct(StringComparer.Ordinal).Count() == c.Values.Count)?.Path;

    /// <summary>The field whose values several records in a row share, as the lines of one order do; null: none is.</summary>
    public static SampleColumn? OfRuns(IReadOnlyList<SampleColumn> columns) => Ranked(columns, c => IsCalledKey(c) && ComesInRuns(c));

    private static SampleColumn? Ranked(IReadOnlyList<SampleColumn> columns, Func<SampleColumn, bool> mayBe) =>
        columns
            .Where(c => c.Values.All(CanBeKey))
            .Where(mayBe)
            .Select((c, i) => (Column: c, Rank: Rank(c), Place: i))
            .OrderBy(c => c.Rank)
            .ThenBy(c => c.Column.Heading is null ? c.Column.Path.Count(x => x == '.') : 0)
            .ThenBy(c => c.Place)
            .Select(c => c.Column)
            .FirstOrDefault();

    private static bool CanBeKey(SampleValue? value) =>
        value is { Form: SampleForm.Text or SampleForm.Number, Text.Length: > 0 and <= LongestKey };

    private static bool IsCalledKey(SampleColumn column) => Rank(column) < Words.Length || column.Own.Any(w => Documents.Contains(w));

    private static bool ComesInRuns(SampleColumn column)
    {
        var values = column.Values.Select(v => v!.Value.Text).ToList();
        var runs = 1 + values.Zip(values.Skip(1)).Count(pair => pair.First != pair.Second);
        return runs > 1 && runs < values.Count && runs == values.Distinct(StringComparer.Ordinal).Count();
    }

    private static int Rank(SampleColumn column)
    {
        var rank = column.Own.Select(w => Array.IndexOf(Words, w)).Where(i => i >= 0).DefaultIfEmpty(Words.Length).Min();
        var compound = Words.Any(k => k.Length > 1 && column.Own.Any(w => w != k && w.EndsWith(k, StringComparison.Ordinal)));
        return rank == Words.Length && compound ? rank - 1 : rank;
    }
}
