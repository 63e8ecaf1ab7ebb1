namespace Narbit.Core.Pricing;

/// <summary>Computes prices by a rule, step by step: pick, sale, bands, currency, tax, ending, floor, compare-at.</summary>
public static class PriceCalculation
{
    /// <summary>
    /// What the rule makes of the item. All arithmetic is decimal; a division comes last, so that exact results stay exact.
    /// </summary>
    /// <param name="rule">The rule; not checked here, see <see cref="PriceRuleCheck"/>.</param>
    /// <param name="item">The item.</param>
    /// <exception cref="ArgumentException">The item's sale has dates, but the item has no instant to compute for.</exception>
    /// <exception cref="OverflowException">An amount is beyond ±7.9 × 10²⁸.</exception>
    public static PriceQuote Price(this PriceRule rule, PriceItem item)
    {
        var trace = new List<TraceStep>(8);
        var list = Pick(rule, item, trace);
        if (list is null)
            return new PriceQuote(null, null, null, PriceOutcome.NoPrice, trace);

        var listed = item.Prices[list];
        var regular = listed.Amount!.Value;
        var sale = LiveSale(list, listed, item.At);
        var amount = ApplySale(rule, regular, sale, listed, trace);

        var band = rule.Bands.FirstOrDefault(b => b.Holds(amount));
        var price = Carry(rule, item, band, amount, "", trace);

        decimal? salePrice = null;
        var outcome = PriceOutcome.Ok;
        if (rule.Sale == SaleMode.Carry && sale is { } live)
        {
            salePrice = Carry(rule, item, band, live, "sale ", trace);
            if (salePrice >= price)
            {
                trace.Add(
                    new("sale", Numbers.Plain(salePrice.Value), null, $"dropped: it does not end up below the price {Numbers.Plain(price)}")
                );
                (salePrice, outcome) = (null, PriceOutcome.SaleNotLower);
            }
        }

        var compareAt = CompareAt(rule, item, price, trace);
        return new PriceQuote(
            Numbers.WithDecimals(price, item.Decimals),
            salePrice is { } s ? Numbers.WithDecimals(s, item.Decimals) : null,
            compareAt is { } c ? Numbers.WithDecimals(c, item.Decimals) : null,
            outcome,
            trace
        )
        {
            PickedFrom = list,
            Picked = regular,
        };
    }

    private static string? Pick(PriceRule rule, PriceItem item, List<TraceStep> trace)
    {
        bool Has(string? list) => list is not null && item.Prices.TryGetValue(list, out var p) && p.Amount is not null;
        if (Has(rule.PriceList))
        {
            trace.Add(new("pick", null, Numbers.Plain(item.Prices[rule.PriceList!].Amount!.Value), $"list {rule.PriceList}"));
            return rule.PriceList;
        }

        var fallback = rule.FallbackLists.FirstOrDefault(Has);
        trace.Add(
            fallback is null
                ? new(
                    "pick",
                    null,
                    null,
                    $"no price in {string.Join(", ", new[] { rule.PriceList ?? "(no list named)" }.Concat(rule.FallbackLists))}"
                )
                : new(
                    "pick",
                    null,
                    Numbers.Plain(item.Prices[fallback].Amount!.Value),
                    $"list {fallback}, as {rule.PriceList ?? "the first list"} has no price"
                )
        );
        return fallback;
    }

    private static decimal? LiveSale(string list, ListedPrice listed, DateTimeOffset? at)
    {
        if (listed.Sale is null)
            return null;
        if (listed.SaleFrom is null && listed.SaleTo is null)
            return listed.Sale;
        if (at is null)
            throw new ArgumentException($"The sale in list {list} has dates, but the item has no “at” to compare them with.");
        return (listed.SaleFrom is null || listed.SaleFrom <= at) && (listed.SaleTo is null || at < listed.SaleTo) ? listed.Sale : null;
    }

    private static decimal ApplySale(PriceRule rule, decimal regular, decimal? sale, ListedPrice listed, List<TraceStep> trace)
    {
        var before = Numbers.Plain(regular);
        var (after, why) = (rule.Sale, sale) switch
        {
            (SaleMode.Ignore, _) => (regular, "sale amounts are ignored"),
            (_, null) => (regular, listed.Sale is null ? "no sale amount" : $"sale {Numbers.Plain(listed.Sale.Value)} is not live"),
            (SaleMode.Merge, { } s) when s < regular => (s, "the live sale amount becomes the price"),
            (SaleMode.Merge, { } s) when rule.AllowHigherSale => (s, "the live sale amount becomes the price, though it is not lower"),
            (SaleMode.Merge, { } s) => (regular, $"sale {Numbers.Plain(s)} is not lower"),
            (_, { } s) => (regular, $"sale {Numbers.Plain(s)} goes on as a sale price of its own"),
        };
        trace.Add(new("sale", before, Numbers.Plain(after), why));
        return after;
    }

    private static decimal Carry(PriceRule rule, PriceItem item, PriceBand? band, decimal amount, string prefix, List<TraceStep> trace)
    {
        var banded = band is null ? amount : amount * band.Multiply + band.Add;
        trace.Add(new(prefix + "bands", Numbers.Plain(amount), Numbers.Plain(banded), Describe(band)));
        var ended = Convert(rule, item, banded, prefix, trace);
        return Floor(rule, item, ended, prefix, trace);
    }

    private static string Describe(PriceBand? band) =>
        band switch
        {
            null => "no band holds it",
            { Multiply: 1, Add: 0 } => $"{band.Span}: unchanged",
            { Add: 0 } => $"{band.Span}: × {Numbers.Plain(band.Multiply)}",
            _ => $"{band.Span}: × {Numbers.Plain(band.Multiply)} {(band.Add < 0 ? "−" : "+")} {Numbers.Plain(Math.Abs(band.Add))}",
        };

    // Steps 4 to 6, which prices, sale prices and compare-at prices share.
    private static decimal Convert(PriceRule rule, PriceItem item, decimal amount, string prefix, List<TraceStep> trace)
    {
        var exchanged = amount * rule.CurrencyRate;
        trace.Add(
            new(
                prefix + "currency",
                Numbers.Plain(amount),
                Numbers.Plain(exchanged),
                rule.CurrencyRate == 1 ? "same currency" : $"× {Numbers.Plain(rule.CurrencyRate)}"
            )
        );

        var taxFactor = 1 + item.TaxRate / 100;
        var rate = Numbers.Plain(item.TaxRate);
        var (taxed, why) = (rule.Tax.Source, rule.Tax.Target) switch
        {
            (TaxBasis.Net, TaxBasis.Gross) => (exchanged * taxFactor, $"net → gross at {rate} %"),
            (TaxBasis.Gross, TaxBasis.Net) => (exchanged / taxFactor, $"gross → net at {rate} %"),
            (var side, _) => (exchanged, side == TaxBasis.Net ? "net on both sides" : "gross on both sides"),
        };
        trace.Add(new(prefix + "tax", Numbers.Plain(exchanged), Numbers.Plain(taxed), why));

        var ended = End(rule, taxed, rule.Ending.Direction, item.Decimals, out var how);
        trace.Add(new(prefix + "ending", Numbers.Plain(taxed), Numbers.Plain(ended), how));
        return ended;
    }

    private static decimal Floor(PriceRule rule, PriceItem item, decimal price, string prefix, List<TraceStep> trace)
    {
        var before = Numbers.Plain(price);
        if (rule.MinMargin is not { } margin || item.Cost is not { } cost)
        {
            trace.Add(
                new(
                    prefix + "floor",
                    before,
                    before,
                    rule.MinMargin is null ? "no least margin" : "the cost is not known, so there is no floor"
                )
            );
            return price;
        }

        var minimum = cost * rule.CurrencyRate * 100 * (rule.Tax.Target == TaxBasis.Gross ? 1 + item.TaxRate / 100 : 1) / (100 - margin);
        if (price >= minimum)
        {
            trace.Add(
                new(
                    prefix + "floor",
                    before,
                    before,
                    $"not needed: at least {Numbers.Plain(decimal.Round(minimum, 4))} for {Numbers.Plain(margin)} % margin"
                )
            );
            return price;
        }

        var raised =
            rule.Ending.Kind == EndingKind.None
                ? decimal.Round(minimum, item.Decimals, MidpointRounding.ToPositiveInfinity)
                : End(rule, minimum, Direction.Up, item.Decimals, out _);
        trace.Add(
            new(
                prefix + "floor",
                before,
                Numbers.Plain(raised),
                $"raised: {Numbers.Plain(margin)} % margin on cost {Numbers.Plain(cost)} needs {Numbers.Plain(decimal.Round(minimum, 4))}"
            )
        );
        return raised;
    }

    private static decimal? CompareAt(PriceRule rule, PriceItem item, decimal price, List<TraceStep> trace)
    {
        if (rule.CompareAtList is not { } list)
        {
            trace.Add(new("compareAt", null, null, "no compare-at list"));
            return null;
        }

        if (!item.Prices.TryGetValue(list, out var listed) || listed.Amount is not { } amount)
        {
            trace.Add(new("compareAt", null, null, $"no price in {list}"));
            return null;
        }

        var steps = new List<TraceStep>(3);
        var value = Convert(rule, item, amount, "", steps);
        var kept = value > price;
        trace.Add(
            new(
                "compareAt",
                Numbers.Plain(amount),
                kept ? Numbers.Plain(value) : null,
                kept
                    ? $"list {list}: {string.Join("; ", steps.Select(s => s.Why))}"
                    : $"{Numbers.Plain(value)} from {list} is not above the price"
            )
        );
        return kept ? value : null;
    }

    private static decimal End(PriceRule rule, decimal value, Direction direction, int decimals, out string how)
    {
        switch (rule.Ending)
        {
            case { Kind: EndingKind.Step, Step: { } step and > 0 }:
                how = $"to a multiple of {Numbers.Plain(step)}, {Word(direction)}";
                return ToStep(value, step, direction);
            case { Kind: EndingKind.Charm, Endings: { Count: > 0 } endings }:
                how = $"ending {string.Join(" or ", endings.Select(Numbers.Plain))}, {Word(direction)}";
                return ToCharm(value, endings, direction);
            default:
                how = $"rounded to {decimals} decimals{(rule.Rounding == Rounding.HalfEven ? ", half to even" : "")}";
                return decimal.Round(
                    value,
                    decimals,
                    rule.Rounding == Rounding.HalfEven ? MidpointRounding.ToEven : MidpointRounding.AwayFromZero
                );
        }
    }

    private static string Word(Direction direction) =>
        direction switch
        {
            Direction.Up => "up",
            Direction.Down => "down",
            _ => "nearest",
        };

    private static decimal ToStep(decimal value, decimal step, Direction direction)
    {
        // The remainder is exact, where a quotient might not be.
        var below = value - value % step;
        if (below > value)
            below -= step;
        if (below == value)
            return value;
        return direction switch
        {
            Direction.Down => below,
            Direction.Up => below + step,
            _ => value - below >= step - (value - below) ? below + step : below,
        };
    }

    private static decimal ToCharm(decimal value, IReadOnlyList<decimal> endings, Direction direction)
    {
        decimal? below = null,
            above = null;
        foreach (var ending in endings)
        {
            var whole = decimal.Floor(value - ending);
            if (whole >= 0 && (below is null || whole + ending > below))
                below = whole + ending;
            var next =
                whole < 0 ? ending
                : whole + ending == value ? value
                : whole + 1 + ending;
            if (above is null || next < above)
                above = next;
        }

        return direction switch
        {
            Direction.Up => above!.Value,
            Direction.Down => below ?? above!.Value,
            _ => below is null || above!.Value - value <= value - below.Value ? above!.Value : below.Value,
        };
    }
}
