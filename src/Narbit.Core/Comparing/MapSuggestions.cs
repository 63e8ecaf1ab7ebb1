using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Comparing;

/// <summary>Proposes maps from roles, names, types and above all from the values of paired records.</summary>
public static class MapSuggestions
{
    private const double Enough = 0.6;
    private const double Sure = 0.95;
    private const int MostCodes = 80;

    // Price lanes and stock lanes write these.
    private static readonly HashSet<FieldRole> ByRules =
    [
        FieldRole.Price,
        FieldRole.SalePrice,
        FieldRole.SaleFrom,
        FieldRole.SaleTo,
        FieldRole.CompareAt,
        FieldRole.OnHand,
    ];

    /// <summary>Whether a field is left to item lanes; prices and quantities are computed by their own.</summary>
    public static bool IsMappable(FieldDescription target) => target.Writable && !ByRules.Contains(target.Role);

    /// <summary>Proposes a mapping for each field of the target that has none.</summary>
    /// <param name="sides">Both systems.</param>
    /// <param name="pairs">Some paired records, each with what it stands for at the target.</param>
    /// <param name="taken">Fields that are mapped already.</param>
    public static IReadOnlyList<MapSuggestion> For(MapSides sides, IReadOnlyList<MapRecord> pairs, IReadOnlySet<string> taken)
    {
        var found = new List<MapSuggestion>();
        var option = sides.Source.Find(FieldRole.Option);
        foreach (var target in sides.Target.Fields.Where(f => IsMappable(f) && !taken.Contains(f.Name)))
        {
            MapSuggestion? best = null;
            var bestScore = 0.0;
            foreach (var source in sides.Source.Fields)
            {
                foreach (var (steps, crosswalk, words) in Ways(source, target, option, pairs))
                {
                    var mapping = new FieldMapping
                    {
                        Target = target.Name,
                        Source = new MapSource([source.Name]),
                        Steps = steps,
                    };
                    var walks = crosswalk is null
                        ? []
                        : new Dictionary<string, Crosswalk>(StringComparer.Ordinal) { [crosswalk.Name] = crosswalk };
                    if (Chain.Make(mapping, "", sides, walks, []) is not { } chain)
                        continue;
                    var (agree, compared, failing, emptied) = Agreement(chain, pairs);
                    // What has mostly nothing to say would empty what is there.
                    if (failing * 10 > pairs.Count || emptied * 2 > compared)
                        continue;
                    var role = source.Role == target.Role && source.Role != FieldRole.None;
                    var named = SameName(source, target);
                    var share = compared == 0 ? 0 : (double)agree / compared;
                    // Without any values to look at, the role or the name alone speaks.
                    var score =
                        share
                        + (role ? 0.5 : 0)
                        + (named ? 0.2 : 0)
                        - 0.03 * (steps.Length - (steps is [.., { Do: "paired" or "images" }] ? 2 : 0));
                    if (score <= bestScore || (share < Enough && !role && !(named && compared == 0)))
                        continue;
                    var reasons = new List<string>();
                    if (role)
                        reasons.Add($"both are the {Words(target.Role)}");
                    if (named)
                        reasons.Add("named alike");
                    if (compared > 0)
                        reasons.Add($"the values agree in {agree:N0} of {compared:N0} paired records{(words is null ? "" : $" {words}")}");
                    (best, bestScore) = (
                        new MapSuggestion(mapping, crosswalk, string.Join("; ", reasons), agree, compared, share >= Sure && compared >= 5),
                        score
                    );
                }
            }

            if (best is not null)
                found.Add(best);
        }

        return found;
    }

    private static IEnumerable<(MapStep[] Steps, Crosswalk? Crosswalk, string? Words)> Ways(
        FieldDescription source,
        FieldDescription target,
        FieldDescription? option,
        IReadOnlyList<MapRecord> pairs
    )
    {
        var (has, wants) = (Shapes.Of(source.Type), Shapes.Of(target.Type));
        MapStep[] fit = (has, wants) switch
        {
            (Shape.Html, Shape.Text) => [Step("stripHtml")],
            (Shape.Html, Shape.Html) => [Step("sanitise")],
            (Shape.Text, Shape.Html) => [Step("toHtml")],
            (Shape.Text, Shape.Number) => [Step("number")],
            (Shape.Text, Shape.List) => [Step("split", ("at", ","))],
            (Shape.List, Shape.Text) => [Step("join", ("with", ", "))],
            (Shape.Instant or Shape.Day, Shape.Text) => [Step("dateText")],
            _ => [],
        };
        MapStep[] cut =
            target.MaxLength is { } most && wants == Shape.Text
                ? [Step("limit", ("length", most.ToString(System.Globalization.CultureInfo.InvariantCulture)), ("at", "letter"))]
                : [];
        // Keys of one system say nothing in another; addresses of images are looked at before they are passed on.
        if (target.Role == FieldRole.Related && source.Role == FieldRole.Related)
            yield return ([.. fit, Step("paired")], null, "by what each is paired with");
        if (target.Role == FieldRole.Image && wants is Shape.Text or Shape.List && has is Shape.Text or Shape.List)
            yield return ([.. fit, Step("images")], null, null);
        yield return ([.. fit, .. cut], null, cut.Length > 0 ? "once cut to length" : null);
        if (wants == Shape.Number)
            yield break;
        yield return ([.. fit, Step("case", ("to", "upper")), .. cut], null, "in capitals");
        if (has != Shape.Text || wants != Shape.Text)
            yield break;
        if (option is not null && option != source)
            yield return (
                [Step("without", ("field", option.Name)), .. cut],
                null,
                $"without the {option.Label.ToLowerInvariant()} at the end"
            );
        if (Around(source, target, pairs) is { } around)
            yield return ([around], null, "with the same text around");
        if (Translation(source, target, pairs) is { } crosswalk)
            yield return ([Step("crosswalk", ("table", crosswalk.Name))], crosswalk, $"by a crosswalk of {crosswalk.Entries.Count}");
    }

    private static IReadOnlyDictionary<string, string> Own(MapRecord pair, FieldDescription target) =>
        target.Shared && pair.Parent is { } first ? first : pair.Own;

    // The same text before or after, in most pairs.
    private static MapStep? Around(FieldDescription source, FieldDescription target, IReadOnlyList<MapRecord> pairs)
    {
        var around = new Dictionary<(string, string), int>();
        foreach (var pair in pairs)
        {
            var (here, there) = (Own(pair, target), pair.There!);
            if (
                !here.TryGetValue(source.Name, out var a)
                || !there.TryGetValue(target.Name, out var b)
                || a.Length < 2
                || b.Length <= a.Length
                || b.Length > a.Length + 60
            )
                continue;
            var at = b.IndexOf(a, StringComparison.Ordinal);
            if (at >= 0)
                around[(b[..at], b[(at + a.Length)..])] = around.GetValueOrDefault((b[..at], b[(at + a.Length)..])) + 1;
        }

        if (around.Count == 0)
            return null;
        var ((before, after), count) = around.MaxBy(p => p.Value);
        return count * 2 < pairs.Count ? null : Step("surround", ("before", before), ("after", after));
    }

    // Each code of the source stands beside one code of the target, almost always.
    private static Crosswalk? Translation(FieldDescription source, FieldDescription target, IReadOnlyList<MapRecord> pairs)
    {
        var beside = new Dictionary<string, Dictionary<string, int>>(StringComparer.Ordinal);
        var count = 0;
        foreach (var pair in pairs)
        {
            var (here, there) = (Own(pair, target), pair.There!);
            if (!here.TryGetValue(source.Name, out var a) || !there.TryGetValue(target.Name, out var b))
                continue;
            count++;
            if (!beside.TryGetValue(a, out var codes))
                beside[a] = codes = new Dictionary<string, int>(StringComparer.Ordinal);
            if (beside.Count > MostCodes)
                return null;
            codes[b] = codes.GetValueOrDefault(b) + 1;
        }

        // Codes repeat; names do not. And where all becomes one, the table says nothing of two fields that have nothing else in common.
        var oneForAll = beside.Values.SelectMany(b => b.Keys).Distinct(StringComparer.Ordinal).Count() < 2;
        if (
            count < 5
            || (oneForAll && (source.Role == FieldRole.None || source.Role != target.Role))
            || beside.Count * 3 > count
            || beside.All(b => b.Value.Count == 1 && b.Value.ContainsKey(b.Key))
        )
            return null;
        var straight = beside.Sum(b => b.Value.Values.Max());
        if (straight < count * 0.9)
            return null;
        var tree = beside.Keys.Count(k => k.Contains('›', StringComparison.Ordinal)) * 2 > beside.Count;
        return new Crosswalk
        {
            Name = target.Label,
            Entries =
            [
                .. beside
                    .OrderBy(b => b.Key, StringComparer.Ordinal)
                    .Select(b => new CrosswalkEntry(b.Key, b.Value.MaxBy(c => c.Value).Key)),
            ],
            Separator = tree ? "›" : null,
        };
    }

    private static (int Agree, int Compared, int Failing, int Emptied) Agreement(Chain chain, IReadOnlyList<MapRecord> pairs)
    {
        int agree = 0,
            compared = 0,
            failing = 0,
            emptied = 0;
        foreach (var pair in pairs)
        {
            var mapped = chain.Run(pair);
            if (mapped.Failure is not null)
                failing++;
            if (!pair.There!.TryGetValue(chain.Target.Name, out var value))
                continue;
            compared++;
            if (mapped is { Failure: null, Value: null })
                emptied++;
            if (mapped.Failure is null && FieldComparison.Same(chain.Target.Type, mapped.Value, value))
                agree++;
        }

        return (agree, compared, failing, emptied);
    }

    private static MapStep Step(string name, params (string Name, string Value)[] with) =>
        new(name, with.Length == 0 ? null : with.ToDictionary(w => w.Name, w => w.Value, StringComparer.Ordinal));

    private static bool SameName(FieldDescription source, FieldDescription target)
    {
        static string Form(string name) => new([.. name.Where(char.IsLetterOrDigit).Select(char.ToLowerInvariant)]);
        return Form(source.Name) == Form(target.Name) || Form(source.Label) == Form(target.Label);
    }

    private static string Words(FieldRole role) =>
        string.Concat(
            role.ToString().Select((c, i) => i > 0 && char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : $"{char.ToLowerInvariant(c)}")
        );
}
