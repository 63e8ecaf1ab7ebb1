namespace Narbit.Core.Stock;

/// <summary>
/// Computes quantities by a rule, step by step: basis, bands, share, hold back, zero below, cap, never negative, first publication,
/// replenish.
/// </summary>
public static class StockCalculation
{
    /// <summary>What the rule makes of the item. One store's quantity never exceeds its offer.</summary>
    /// <param name="rule">The rule; not checked here, see <see cref="StockRuleCheck"/>.</param>
    /// <param name="item">The item with the target's present quantity.</param>
    /// <exception cref="ArgumentException">A kit's component has a quantity of zero or less.</exception>
    public static StockQuote Quantity(this StockRule rule, StockItem item)
    {
        var trace = new List<TraceStep>(10);
        if (!item.Tracked)
        {
            trace.Add(new("untracked", null, Numbers.Plain(rule.Untracked), "the source does not count this item"));
            return new StockQuote(Whole(rule.Untracked), null, trace);
        }

        var source = Basis(rule, item, trace);
        var offer = Offer(rule, source, trace);
        if (!item.Published)
        {
            var first = rule.FirstPublish is { } most ? Math.Min(offer, most) : offer;
            trace.Add(
                Line(
                    "firstPublish",
                    offer,
                    first,
                    rule.FirstPublish is null
                        ? "first publication: the whole offer"
                        : $"first publication: at most {Numbers.Plain(rule.FirstPublish.Value)}"
                )
            );
            return new StockQuote(Whole(first), Whole(source), trace);
        }

        var quantity = Replenished(rule.Replenish, offer, item.Target, source - (item.LastSource ?? source), out var why);
        trace.Add(Line("replenish", offer, quantity, why));
        return new StockQuote(Whole(quantity), Whole(source), trace);
    }

    /// <summary>The basis of a set of levels: what the rule counts at the locations it names.</summary>
    public static decimal Count(this StockRule rule, IReadOnlyList<StockLevel> levels)
    {
        var sum = 0m;
        for (var i = 0; i < levels.Count; i++)
        {
            var level = levels[i];
            if (rule.Locations.Count > 0 && !Names(rule.Locations, level.Location))
                continue;
            sum += level.OnHand;
            if (rule.Basis == StockBasis.Available)
                sum -= level.Allocated;
            if (rule.IncludeIncoming)
                sum += level.Incoming;
        }

        return sum;
    }

    private static bool Names(IReadOnlyList<string> locations, string location)
    {
        for (var i = 0; i < locations.Count; i++)
            if (string.Equals(locations[i], location, StringComparison.Ordinal))
                return true;
        return false;
    }

    private static decimal Basis(StockRule rule, StockItem item, List<TraceStep> trace)
    {
        var counted = (rule.Basis, rule.IncludeIncoming) switch
        {
            (StockBasis.OnHand, false) => "on hand",
            (StockBasis.OnHand, true) => "on hand plus incoming",
            (_, false) => "on hand less allocated",
            _ => "on hand less allocated plus incoming",
        };
        var what = rule.Locations.Count switch
        {
            0 => string.Concat(counted, ", all locations"),
            1 => string.Concat(counted, ", ", rule.Locations[0]),
            _ => $"{counted}, {string.Join(" + ", rule.Locations)}",
        };
        if (item.Kit.Count == 0)
        {
            var sum = rule.Count(item.Levels);
            trace.Add(new("basis", null, Numbers.Plain(sum), what));
            return sum;
        }

        decimal? least = null;
        foreach (var part in item.Kit)
        {
            if (part.Quantity <= 0)
                throw new ArgumentException($"A kit's component has the quantity {Numbers.Plain(part.Quantity)}; it must be above 0.");
            var sets = decimal.Floor(Math.Max(0, rule.Count(part.Levels ?? [])) / part.Quantity);
            if (least is null || sets < least)
                least = sets;
        }

        trace.Add(
            new("basis", null, Numbers.Plain(least!.Value), $"kit of {item.Kit.Count}: as many as its scarcest component allows ({what})")
        );
        return least.Value;
    }

    private static decimal Offer(StockRule rule, decimal source, List<TraceStep> trace)
    {
        var q = source;
        void Step(string step, decimal after, string why)
        {
            trace.Add(Line(step, q, after, why));
            q = after;
        }

        var band = rule.Bands.Count == 0 ? null : Find(rule.Bands, q);
        Step(
            "bands",
            band switch
            {
                null => q,
                { Set: { } set } => set,
                _ => q + (band.Add ?? 0),
            },
            band switch
            {
                null => rule.Bands.Count == 0 ? "no bands" : "no band holds it",
                { Set: { } set } => $"{Span(band)}: set to {Numbers.Plain(set)}",
                _ => $"{Span(band)}: {((band.Add ?? 0) < 0 ? "−" : "+")} {Numbers.Plain(Math.Abs(band.Add ?? 0))}",
            }
        );
        Step(
            "share",
            rule.Share is { } share && q > 0 ? decimal.Floor(q * share / 100) : q,
            rule.Share is null ? "all of it" : $"{Numbers.Plain(rule.Share.Value)} % of it"
        );
        Step("holdBack", q - rule.HoldBack, rule.HoldBack == 0 ? "nothing held back" : $"{Numbers.Plain(rule.HoldBack)} held back");
        var cut = rule.ZeroBelow is { } least && q < least && !(q < 0 && rule.AllowNegative);
        Step(
            "zeroBelow",
            cut ? 0 : q,
            rule.ZeroBelow is null ? "no lower limit"
                : cut ? $"below {Numbers.Plain(rule.ZeroBelow.Value)}: nothing is offered"
                : $"not below {Numbers.Plain(rule.ZeroBelow.Value)}"
        );
        Step("cap", rule.Cap is { } cap ? Math.Min(q, cap) : q, rule.Cap is null ? "no cap" : $"at most {Numbers.Plain(rule.Cap.Value)}");
        Step("neverNegative", rule.AllowNegative ? q : Math.Max(0, q), rule.AllowNegative ? "negative is allowed" : "never below 0");
        return q;
    }

    private static decimal Replenished(Replenish replenish, decimal offer, decimal target, decimal gain, out string why)
    {
        switch (replenish.Kind)
        {
            case ReplenishKind.FollowIncrease:
                var grown = target;
                if (gain > 0)
                {
                    grown = target + gain;
                    if (replenish.Limit is { } limit)
                        grown = Math.Min(grown, limit);
                    grown = Math.Max(grown, target);
                }

                why =
                    gain > 0
                        ? $"the source gained {Numbers.Plain(gain)}: {Numbers.Plain(target)} → {Numbers.Plain(grown)}, never "
                            + $"above the offer"
                        : $"the source gained nothing: stays at {Numbers.Plain(target)}, never above the offer";
                return Math.Min(grown, offer);
            case ReplenishKind.TopUp:
                var low = target <= (replenish.AtOrBelow ?? 0);
                why = low
                    ? $"{Numbers.Plain(target)} left there is {Numbers.Plain(replenish.AtOrBelow ?? 0)} or fewer: filled to "
                        + $"{(replenish.To is { } most ? Numbers.Plain(most) : "the offer")}"
                    : $"{Numbers.Plain(target)} left there is enough, never above the offer";
                return low ? Math.Min(replenish.To ?? offer, offer) : Math.Min(target, offer);
            default:
                why = "mirrors the offer";
                return offer;
        }
    }

    private static StockBand? Find(IReadOnlyList<StockBand> bands, decimal q)
    {
        for (var i = 0; i < bands.Count; i++)
            if (bands[i].Holds(q))
                return bands[i];
        return null;
    }

    private static TraceStep Line(string step, decimal before, decimal after, string why) =>
        new(step, Numbers.Plain(before), Numbers.Plain(after), why);

    private static string Span(StockBand band) =>
        (band.From, band.To) switch
        {
            ({ } from, { } to) => $"band {Numbers.Plain(from)} to {Numbers.Plain(to)}",
            ({ } from, null) => $"band from {Numbers.Plain(from)}",
            (null, { } to) => $"band up to {Numbers.Plain(to)}",
            _ => "band of all quantities",
        };

    // 5.0 is written as 5.
    private static decimal Whole(decimal value) => value == decimal.Truncate(value) ? decimal.Truncate(value) : value;
}
