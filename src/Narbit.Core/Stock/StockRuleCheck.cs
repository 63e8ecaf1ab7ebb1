namespace Narbit.Core.Stock;

/// <summary>Reads a stock rule as a careful colleague would, before it is saved.</summary>
public static class StockRuleCheck
{
    /// <summary>Every finding about the rule, in the order of the document.</summary>
    /// <param name="rule">The rule.</param>
    /// <param name="knownLocations">The locations that the source has.</param>
    public static IReadOnlyList<RuleFault> Check(StockRule rule, IReadOnlyCollection<string> knownLocations)
    {
        var faults = new List<RuleFault>();
        void Refuse(string path, string message) => faults.Add(new(path, Severity.Refuse, message));
        void Warn(string path, string message) => faults.Add(new(path, Severity.Warn, message));

        for (var i = 0; i < rule.Locations.Count; i++)
        {
            if (!knownLocations.Contains(rule.Locations[i]))
                Refuse(
                    $"locations[{i}]",
                    $"There is no location “{rule.Locations[i]}”. The source has {string.Join(", ", knownLocations)}."
                );
        }

        Bands(rule.Bands, Refuse);

        if (rule.Share is { } share and (< 0 or > 100))
            Refuse("share", $"The share is {Numbers.Plain(share)} %; it must be from 0 to 100.");
        if (rule.HoldBack < 0)
            Refuse("holdBack", $"Holding back {Numbers.Plain(rule.HoldBack)} would offer more than there is; it must be 0 or more.");
        if (rule.Cap < 0)
            Refuse("cap", "The cap must be 0 or more.");
        if (rule.Untracked < 0)
            Refuse("untracked", "The quantity of items that are not tracked must be 0 or more.");
        if (rule.FirstPublish < 0)
            Refuse("firstPublish", "The quantity at first publication must be 0 or more.");
        if (rule.Cap is { } cap && rule.ZeroBelow is { } least && cap < least)
            Warn(
                "cap",
                $"The cap {Numbers.Plain(cap)} is below {Numbers.Plain(least)}, under which nothing is offered: "
                    + $"{Numbers.Plain(least)} pieces are shown as {Numbers.Plain(cap)}."
            );
        if (rule.AllowNegative)
            Warn("allowNegative", "A negative quantity will be sent as it is; most stores refuse it.");
        if (rule.Replenish is { Kind: ReplenishKind.TopUp, To: { } to, AtOrBelow: { } at } && to <= at)
            Refuse("replenish.to", $"Filling up to {Numbers.Plain(to)} must end above {Numbers.Plain(at)}, where it starts.");
        if (rule.Replenish is { Kind: ReplenishKind.TopUp } top && (top.To is null || top.AtOrBelow is null))
            Refuse("replenish", "Topping up needs both: from which quantity on, and to which.");
        return faults;
    }

    private static void Bands(IReadOnlyList<StockBand> bands, Action<string, string> refuse)
    {
        for (var i = 0; i < bands.Count; i++)
        {
            var (band, at) = (bands[i], $"bands[{i}]");
            if (band is { Add: null, Set: null })
                refuse(at, "The band neither adds nor sets anything.");
            if (band is { Add: not null, Set: not null })
                refuse(at, "The band both adds and sets; choose one.");
            if (band.To < band.From)
                refuse($"{at}.to", $"The band ends at {Numbers.Plain(band.To!.Value)}, below its start {Numbers.Plain(band.From!.Value)}.");
            if (band.From is { } f && f != decimal.Truncate(f) || band.To is { } t && t != decimal.Truncate(t))
                refuse(at, "Bands of quantities have whole ends.");
        }

        var ordered = bands.Select((band, index) => (band, index)).OrderBy(b => b.band.From ?? decimal.MinValue).ToList();
        foreach (var ((lower, _), (upper, index)) in ordered.Zip(ordered.Skip(1)))
        {
            if (lower.To is null || upper.From is null || lower.To >= upper.From)
                refuse(
                    $"bands[{index}].from",
                    $"Two bands overlap at {Numbers.Plain(upper.From ?? lower.From ?? 0)}: it is in both, and only the first counts."
                );
            else if (lower.To + 1 < upper.From)
                refuse(
                    $"bands[{index}].from",
                    $"There is a gap: quantities from {Numbers.Plain(lower.To.Value + 1)} to "
                        + $"{Numbers.Plain(upper.From.Value - 1)} are in no band and would stay unchanged."
                );
        }
    }
}
