namespace Narbit.Core.Pricing;

/// <summary>Reads a price rule as a careful colleague would, before it is saved.</summary>
public static class PriceRuleCheck
{
    /// <summary>The smallest factor a band may have; below it, somebody typed the change instead of the factor.</summary>
    public const decimal LeastFactor = 0.5m;

    /// <summary>The largest factor a band may have.</summary>
    public const decimal GreatestFactor = 3m;

    /// <summary>Every finding about the rule, in the order of the document.</summary>
    /// <param name="rule">The rule.</param>
    /// <param name="knownLists">The price lists that the source has.</param>
    /// <param name="knownGroups">The groups of customers that the target keeps prices for; null: none.</param>
    public static IReadOnlyList<RuleFault> Check(
        PriceRule rule,
        IReadOnlyCollection<string> knownLists,
        IReadOnlyCollection<string>? knownGroups = null
    )
    {
        var faults = new List<RuleFault>();
        void Refuse(string path, string message) => faults.Add(new(path, Severity.Refuse, message));
        void Warn(string path, string message) => faults.Add(new(path, Severity.Warn, message));
        void Known(string path, string list)
        {
            if (!knownLists.Contains(list))
                Refuse(path, $"There is no price list “{list}”. The source has {string.Join(", ", knownLists)}.");
        }

        if (string.IsNullOrWhiteSpace(rule.PriceList))
            Refuse("priceList", "Choose the price list that prices come from.");
        else
            Known("priceList", rule.PriceList);
        for (var i = 0; i < rule.FallbackLists.Count; i++)
            Known($"fallbackLists[{i}]", rule.FallbackLists[i]);
        if (rule.CompareAtList is { } compare)
            Known("compareAtList", compare);

        for (var i = 0; i < rule.Groups.Count; i++)
        {
            var group = rule.Groups[i];
            Known($"groups[{i}].priceList", group.PriceList);
            if (knownGroups?.Contains(group.Group) != true)
                Refuse(
                    $"groups[{i}].group",
                    knownGroups is { Count: > 0 }
                        ? $"The target keeps no prices for “{group.Group}”. It does for {string.Join(", ", knownGroups)}."
                        : $"The target keeps no prices for groups of customers, so “{group.Group}” has nowhere to go."
                );
            if (rule.Groups.Take(i).Any(g => g.Group == group.Group))
                Refuse($"groups[{i}].group", $"“{group.Group}” is given a price list twice.");
        }

        if (rule.TargetList is { } target && knownGroups?.Contains(target) != true)
            Refuse("targetList", $"The target has no price list “{target}”.");

        Bands(rule.Bands, Refuse, Warn);

        if (rule.CurrencyRate <= 0)
            Refuse("currencyRate", $"The currency rate is {Numbers.Plain(rule.CurrencyRate)}; it must be above 0.");
        if (rule.MinMargin is { } margin and (< 0 or >= 100))
            Refuse("minMargin", $"The least margin is {Numbers.Plain(margin)} %; it must be from 0 to below 100.");

        switch (rule.Ending.Kind)
        {
            case EndingKind.Step when rule.Ending.Step is null or <= 0:
                Refuse("ending.step", "Give the step that prices are a multiple of, above 0, e.g. 0.05.");
                break;
            case EndingKind.Charm when rule.Ending.Endings.Count == 0:
                Refuse("ending.endings", "The list of endings is empty. Give at least one, e.g. 0.99.");
                break;
            case EndingKind.Charm:
                foreach (var ending in rule.Ending.Endings.Where(e => e is < 0 or >= 1))
                    Refuse("ending.endings", $"The ending {Numbers.Plain(ending)} must be from 0 to below 1, e.g. 0.99.");
                break;
        }

        return faults;
    }

    /// <summary>A factor in words: <c>+18 %</c>, <c>−92 %</c>, <c>unchanged</c>.</summary>
    public static string InWords(decimal factor)
    {
        var percent = (factor - 1) * 100;
        return percent == 0 ? "unchanged" : $"{(percent < 0 ? "−" : "+")}{Numbers.Plain(Math.Abs(percent))} %";
    }

    private static void Bands(IReadOnlyList<PriceBand> bands, Action<string, string> refuse, Action<string, string> warn)
    {
        for (var i = 0; i < bands.Count; i++)
        {
            var (band, at) = (bands[i], $"bands[{i}]");
            if (band.To <= band.From)
                refuse(
                    $"{at}.to",
                    $"The band ends at {Numbers.Plain(band.To.Value)}, which is not above its start {Numbers.Plain(band.From)}."
                );
            if (band.Multiply is < LeastFactor or > GreatestFactor)
                refuse($"{at}.multiply", FactorFault(band.Multiply));
            else if (band.Multiply is >= 1.5m or <= 0.75m)
                warn($"{at}.multiply", FactorWarning(band.Multiply));
        }

        var ordered = bands.Select((band, index) => (band, index)).OrderBy(b => b.band.From).ToList();
        foreach (var ((lower, _), (upper, index)) in ordered.Zip(ordered.Skip(1)))
        {
            var start = Numbers.Plain(upper.From);
            if (lower.To is null || lower.To > upper.From)
                refuse(
                    $"bands[{index}].from",
                    $"{Capital(lower.Span)} and {upper.Span} overlap: amounts from {start} are in both, and only the first counts."
                );
            else if (lower.To < upper.From)
                refuse(
                    $"bands[{index}].from",
                    $"There is a gap: amounts from {Numbers.Plain(lower.To.Value)} to {start} are in no band and would stay unchanged."
                );
        }

        if (ordered.Count == 0)
            return;
        if (ordered[0].band.From > 0)
            warn(
                $"bands[{ordered[0].index}].from",
                $"Amounts below {Numbers.Plain(ordered[0].band.From)} are in no band and stay unchanged."
            );
        if (ordered[^1].band.To is { } end)
            warn($"bands[{ordered[^1].index}].to", $"Amounts from {Numbers.Plain(end)} up are in no band and stay unchanged.");
    }

    private static string FactorFault(decimal factor)
    {
        var text =
            $"A factor of {Numbers.Plain(factor)} means {InWords(factor)}: 10.00 becomes {Numbers.Cents(factor * 10)}. Factors "
            + $"from {Numbers.Plain(LeastFactor)} to {Numbers.Plain(GreatestFactor)} are accepted.";
        // 8, 18 or 108 as a factor: a percentage was meant. 0.08 or 0.18: the change was typed instead of the factor.
        return factor switch
        {
            > 50 and <= 300 => $"{text} For {Numbers.Plain(factor)} % of the amount, type {Numbers.Plain(factor / 100)}.",
            > GreatestFactor and <= 50 => $"{text} For +{Numbers.Plain(factor)} %, type {Numbers.Plain(1 + factor / 100)}.",
            > 0 and < LeastFactor => $"{text} For {InWords(1 + factor)}, type {Numbers.Plain(1 + factor)}.",
            _ => text,
        };
    }

    private static string FactorWarning(decimal factor)
    {
        var text = $"A factor of {Numbers.Plain(factor)} means {InWords(factor)}: 10.00 becomes {Numbers.Cents(factor * 10)}.";
        return factor > 1 && factor < 2
            ? $"{text} If {InWords(1 + (factor - 1) / 10)} was meant, type {Numbers.Plain(1 + (factor - 1) / 10)}."
            : text;
    }

    private static string Capital(string text) => char.ToUpperInvariant(text[0]) + text[1..];
}
