using System.Globalization;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Pricing;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Prices;

/// <summary>Prices by a price rule.</summary>
public sealed class PriceComputation : LaneComputation
{
    private static readonly PlausibilityLimits Limits = new();

    private readonly PriceRule _rule;
    private readonly FieldSet _source;
    private readonly int _decimals;
    private readonly DateTimeOffset _at;
    private readonly FieldDescription _price;
    private readonly FieldDescription? _sale;
    private readonly FieldDescription? _saleFrom;
    private readonly FieldDescription? _saleTo;
    private readonly FieldDescription? _compareAt;
    private readonly FieldDescription?[] _needed;
    private readonly (FieldDescription Field, bool There)? _taxRate;
    private readonly (FieldDescription Field, bool There)? _cost;

    // Each group's price by its own list, where the target still keeps one.
    private readonly (FieldDescription Field, PriceRule Rule)[] _groups;

    /// <summary>A rule between two systems.</summary>
    /// <param name="rule">The rule; the target has a field for its price.</param>
    /// <param name="sides">The systems.</param>
    /// <param name="at">The instant to compute for.</param>
    public PriceComputation(PriceRule rule, LaneSides sides, DateTimeOffset at)
    {
        _rule = rule;
        _source = sides.Source;
        _decimals = sides.Decimals;
        _at = at;
        var (target, carries) = (sides.Target, rule.Sale == SaleMode.Carry);
        _price = Target(rule, sides)!;
        _sale = carries ? Writable(target, FieldRole.SalePrice) : null;
        _saleFrom = carries ? Writable(target, FieldRole.SaleFrom) : null;
        _saleTo = carries ? Writable(target, FieldRole.SaleTo) : null;
        _compareAt = rule.CompareAtList is not null ? Writable(target, FieldRole.CompareAt) : null;
        _groups =
        [
            .. rule
                .Groups.Select(g => (Field: target.Find(FieldRole.Price, g.Group)!, Rule: rule.For(g)))
                .Where(g => g.Field is { Writable: true }),
        ];
        _taxRate = TaxRates(sides);
        _cost = Either(sides, FieldRole.Cost);
        _needed =
        [
            _source.PriceOf(rule.PriceList),
            NeedsTaxRate(rule) && _taxRate is { There: false } rate ? rate.Field : null,
            rule.MinMargin is not null && _cost is { There: false } cost ? cost.Field : null,
        ];
    }

    /// <summary>The target's field that a rule's price goes to, or null.</summary>
    public static FieldDescription? Target(PriceRule rule, LaneSides sides) =>
        rule.TargetList is { } list ? sides.Target.PriceOf(list) : sides.Target.RegularPrice;

    /// <summary>Whether a rule cannot be computed without an item's tax rate.</summary>
    public static bool NeedsTaxRate(PriceRule rule) => rule.Tax.Source != rule.Tax.Target;

    /// <summary>Where an item's tax rate stands: at the source, or else at the target; null: nowhere.</summary>
    public static (FieldDescription Field, bool There)? TaxRates(LaneSides sides) => Either(sides, FieldRole.TaxRate);

    /// <inheritdoc/>
    protected override Computed Of(LanePair pair)
    {
        if (Unreadable(pair.Source, "source", _needed) is { } here)
            return here;
        if (Unreadable(pair.Target, "target", _price) is { } there)
            return there;
        var item = _source.PriceItem(pair.Source.Values, _at, _decimals) with
        {
            TaxRate = Number(_taxRate, pair) ?? 0,
            Cost = Number(_cost, pair),
        };
        var quote = _rule.Price(item);
        if (quote.Price is null)
            return Computed.Not("noPrice", quote.Trace[^1].Why);

        var fields = new List<ComputedField>(5 + _groups.Length);
        fields.AddRange(Own(pair, item, quote));
        var worst = new Worst(Hold(quote, Now(_price, pair)), Guarded(pair, item, quote, Now(_price, pair)));
        foreach (var (field, rule) in _groups)
            worst = Group(pair, item, field, rule.Price(item), fields, worst);
        return new Computed(fields) { Hold = worst.Hold, Guarded = worst.Guarded };
    }

    // The price itself, and what goes with it.
    private IEnumerable<ComputedField> Own(LanePair pair, PriceItem item, PriceQuote quote)
    {
        yield return Field(_price, quote.Price, quote.Trace, pair);
        if (_sale is not null)
            yield return Field(_sale, quote.SalePrice, quote.Trace, pair);
        if (_saleFrom is not null)
            yield return Window(_saleFrom, item, quote, pair, p => p.SaleFrom);
        if (_saleTo is not null)
            yield return Window(_saleTo, item, quote, pair, p => p.SaleTo);
        if (_compareAt is not null)
            yield return Field(_compareAt, quote.CompareAt, quote.Trace, pair);
    }

    // A group without a price in its list keeps what it has. The guards look at the worst of all prices.
    private Worst Group(LanePair pair, PriceItem item, FieldDescription field, PriceQuote quote, List<ComputedField> fields, Worst worst)
    {
        if (quote.Price is null)
            return worst;
        fields.Add(Field(field, quote.Price, quote.Trace, pair));
        var now = Now(field, pair);
        var hold = worst.Hold ?? (Hold(quote, now) is { } why ? why with { Words = $"{field.Label}: {why.Words}" } : null);
        var (guarded, group) = (worst.Guarded, Guarded(pair, item, quote, now));
        if (Moved(group) > Moved(guarded))
            guarded = guarded with { OldPrice = group.OldPrice, NewPrice = group.NewPrice };
        if (group.NetPrice < guarded.NetPrice)
            guarded = guarded with { NetPrice = group.NetPrice };
        return new Worst(hold, guarded);
    }

    private static Reason? Hold(PriceQuote quote, decimal? now) =>
        Plausibility.PriceHold(Limits, quote.Picked!.Value, now, quote.Price!.Value);

    private GuardedChange Guarded(LanePair pair, PriceItem item, PriceQuote quote, decimal? now)
    {
        var least = quote.SalePrice is { } reduced && reduced < quote.Price ? reduced : quote.Price!.Value;
        var net = _rule.Tax.Target == TaxBasis.Gross ? least / (1 + item.TaxRate / 100) : least;
        return new GuardedChange(pair.Name, now, quote.Price, net / (_rule.CurrencyRate == 0 ? 1 : _rule.CurrencyRate), item.Cost);
    }

    private static decimal Moved(GuardedChange change) => Math.Abs(Numbers.Move(change.OldPrice, change.NewPrice ?? 0) ?? 0);

    private static ComputedField Field(FieldDescription field, decimal? value, IReadOnlyList<TraceStep> trace, LanePair pair) =>
        new(field, pair.Target.Values.GetValueOrDefault(field.Name), value is { } v ? Numbers.Plain(v) : null, trace);

    // The window goes with the sale price and leaves with it.
    private static ComputedField Window(
        FieldDescription field,
        PriceItem item,
        PriceQuote quote,
        LanePair pair,
        Func<ListedPrice, DateTimeOffset?> end
    )
    {
        var instant = quote is { SalePrice: not null, PickedFrom: { } list } ? end(item.Prices[list]) : null;
        var text = instant?.ToUniversalTime().ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
        return new ComputedField(
            field,
            pair.Target.Values.GetValueOrDefault(field.Name),
            text,
            [new TraceStep("sale", null, text, $"the {field.Label} of the sale in {quote.PickedFrom}")]
        );
    }

    private static decimal? Now(FieldDescription field, LanePair pair) => Amounts.Of(pair.Target.Values.GetValueOrDefault(field.Name));

    private static decimal? Number((FieldDescription Field, bool There)? field, LanePair pair) =>
        field is { } f ? Amounts.Of((f.There ? pair.Target : pair.Source).Values.GetValueOrDefault(f.Field.Name)) : null;

    private static FieldDescription? Writable(FieldSet target, FieldRole role) =>
        target.Find(role) is { Writable: true } field ? field : null;

    private static (FieldDescription Field, bool There)? Either(LaneSides sides, FieldRole role) =>
        sides.Source.Find(role) is { } here ? (here, false)
        : sides.Target.Find(role) is { } there ? (there, true)
        : null;

    // Why the record is held and what the guards see of it, over all of its prices so far.
    private readonly record struct Worst(Reason? Hold, GuardedChange Guarded);
}
