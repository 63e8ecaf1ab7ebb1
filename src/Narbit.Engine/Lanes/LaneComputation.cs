using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data.Lanes;

namespace Narbit.Engine.Lanes;

/// <summary>A field as it is at the target and as it should be.</summary>
/// <param name="Field">The target's field.</param>
/// <param name="Old">The target's value now.</param>
/// <param name="New">The value by the rule.</param>
/// <param name="Trace">How it came about.</param>
/// <param name="ToSource">Whether it goes back to the source; the field and both values are the source's then.</param>
/// <param name="Asks">Whether it was changed on both sides, so that a person decides which value counts.</param>
public sealed record ComputedField(
    FieldDescription Field,
    string? Old,
    string? New,
    IReadOnlyList<TraceStep> Trace,
    bool ToSource = false,
    bool Asks = false
)
{
    /// <summary>Whether the target has to change.</summary>
    public bool Changes { get; } = !FieldComparison.Same(Field.Type, Old, New);
}

/// <summary>What a lane makes of one pair of records: fields, or the cause why there are none.</summary>
/// <param name="Fields">The fields, the leading one first; empty where there is a cause.</param>
/// <param name="Cause">A stable word for what is in the way, or null.</param>
/// <param name="Message">What is in the way, in plain words.</param>
/// <param name="Hold">Why the values look wrong, or null.</param>
/// <param name="Source">For stock: the source's basis.</param>
public sealed record Computed(
    IReadOnlyList<ComputedField> Fields,
    string? Cause = null,
    string? Message = null,
    string? Hold = null,
    string? Source = null
)
{
    /// <summary>Nothing, because the record is none of the lane's.</summary>
    public static Computed OutOfScope { get; } = new([]) { IsOutOfScope = true };

    /// <summary>What is done to the record.</summary>
    public WriteAct Act { get; init; }

    /// <summary>Whether the record is none of the lane's, and counts nowhere.</summary>
    public bool IsOutOfScope { get; init; }

    /// <summary>What both sides turn out to agree on where that was not known yet, by target field.</summary>
    public IReadOnlyList<(string Field, string? Value)> Baseline { get; init; } = [];

    /// <summary>The change as the guards look at it.</summary>
    public GuardedChange Guarded { get; init; }

    /// <summary>Whether anything has to be written.</summary>
    public bool Changes => Act == WriteAct.End || Fields.Any(f => f.Changes);
}

/// <summary>A record of the hub or the target with its values and what could not be read of it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Values">Canonical values.</param>
/// <param name="Problems">What could not be read.</param>
public sealed record SideRecord(string Key, IReadOnlyDictionary<string, string> Values, IReadOnlyList<FieldProblem> Problems);

/// <summary>How an item stands at the target.</summary>
public enum Presence
{
    /// <summary>It has a listing.</summary>
    Paired,

    /// <summary>It has none, and somebody chose it to be created.</summary>
    Chosen,

    /// <summary>It has none, and a sister of it has one.</summary>
    SisterThere,

    /// <summary>It has none, and neither has any sister.</summary>
    New,

    /// <summary>It is gone from the source, and its listing is still there.</summary>
    Gone,

    /// <summary>The target has it as a variant of an item that both sides know; the source has it not.</summary>
    OnlyThere,
}

/// <summary>What an item lane looks at beyond the two records.</summary>
/// <param name="Record">What a chain may look at.</param>
/// <param name="Agreed">What was last agreed on, by target field.</param>
/// <param name="HereAt">When the source's record changed.</param>
/// <param name="ThereAt">When the target's record changed.</param>
/// <param name="Presence">How it stands at the target.</param>
/// <param name="Parent">For one that is to be created: the parent of a sister's listing.</param>
/// <param name="Group">For one that is to be created: what it shares with its sisters.</param>
/// <param name="WithSku">The key of a record of the target that has a SKU already.</param>
public sealed record ItemPlace(
    MapRecord Record,
    IReadOnlyDictionary<string, Agreed> Agreed,
    DateTimeOffset? HereAt,
    DateTimeOffset? ThereAt,
    Presence Presence,
    string? Parent = null,
    string? Group = null,
    Func<string, string?>? WithSku = null
)
{
    /// <summary>Whether the product around its listing has other variants that go on being sold.</summary>
    public bool SistersStay { get; init; }
}

/// <summary>A pair of records that lies in a lane's scope.</summary>
/// <param name="Source">The hub's record.</param>
/// <param name="Target">The target's record.</param>
/// <param name="Sku">The hub's SKU.</param>
/// <param name="Title">The hub's title.</param>
/// <param name="Levels">For stock: the hub's levels of the item.</param>
/// <param name="Agreed">For stock: what both sides last agreed on, or null.</param>
/// <param name="Kit">For stock: what a kit stands for; empty where the listing is no kit.</param>
public sealed record LanePair(
    SideRecord Source,
    SideRecord Target,
    string? Sku,
    string? Title,
    IReadOnlyList<StockLevel> Levels,
    Agreed? Agreed,
    IReadOnlyList<KitPart> Kit
)
{
    /// <summary>For an item lane: what it looks at beyond the two records.</summary>
    public ItemPlace? Item { get; init; }

    /// <summary>The record as a person knows it.</summary>
    public string Name =>
        Sku is { Length: > 0 } ? Sku
        : Target.Key.Length > 0 ? Target.Key
        : Source.Key;
}

/// <summary>A lane's rule, ready to be applied to pairs of records. Pure: the same inputs give the same result.</summary>
public abstract class LaneComputation
{
    /// <summary>What the rule makes of a pair.</summary>
    public abstract Computed Compute(LanePair pair);

    /// <summary>Whether what both sides agree on must be kept even where nothing is written.</summary>
    public virtual bool KeepsSource => false;

    /// <summary>What is in the way of a field that cannot be read, or null.</summary>
    private protected static Computed? Unreadable(SideRecord record, string side, params FieldDescription?[] needed)
    {
        if (record.Problems.Count == 0)
            return null;
        var problem = record.Problems.FirstOrDefault(p => needed.Any(n => n?.Name == p.Field));
        return problem is null ? null : new Computed([], "unreadable", $"{side}: {problem.Message}");
    }
}

/// <summary>Prices by a price rule.</summary>
/// <param name="rule">The rule.</param>
/// <param name="source">The hub's item fields.</param>
/// <param name="target">The target's item fields.</param>
/// <param name="decimals">The target currency's digits after the point.</param>
/// <param name="at">The instant to compute for.</param>
public sealed class PriceComputation(PriceRule rule, FieldSet source, FieldSet target, int decimals, DateTimeOffset at) : LaneComputation
{
    private static readonly PlausibilityLimits Limits = new();

    private readonly FieldDescription _price = target.Find(FieldRole.Price)!;
    private readonly FieldDescription? _sale = rule.Sale == SaleMode.Carry ? Writable(target, FieldRole.SalePrice) : null;
    private readonly FieldDescription? _saleFrom = rule.Sale == SaleMode.Carry ? Writable(target, FieldRole.SaleFrom) : null;
    private readonly FieldDescription? _saleTo = rule.Sale == SaleMode.Carry ? Writable(target, FieldRole.SaleTo) : null;
    private readonly FieldDescription? _compareAt = rule.CompareAtList is not null ? Writable(target, FieldRole.CompareAt) : null;

    // Each group's price by its own list, where the target still keeps one.
    private readonly (FieldDescription Field, PriceRule Rule)[] _groups =
    [
        .. rule
            .Groups.Select(g => (Field: target.Find(FieldRole.Price, g.Group)!, Rule: rule.For(g)))
            .Where(g => g.Field is { Writable: true }),
    ];

    private static FieldDescription? Writable(FieldSet target, FieldRole role) =>
        target.Find(role) is { Writable: true } field ? field : null;

    /// <inheritdoc/>
    public override Computed Compute(LanePair pair)
    {
        var (hub, there) = (pair.Source, pair.Target);
        var rate = rule.Tax.Source == rule.Tax.Target ? null : source.Find(FieldRole.TaxRate);
        var cost = rule.MinMargin is null ? null : source.Find(FieldRole.Cost);
        if (Unreadable(hub, "hub", source.Find(FieldRole.Price, rule.PriceList), rate, cost) is { } here)
            return here;
        if (Unreadable(there, "target", _price) is { } problem)
            return problem;

        PriceQuote quote;
        PriceItem item;
        var groups = new PriceQuote[_groups.Length];
        try
        {
            item = source.PriceItem(hub.Values, at, decimals);
            quote = rule.Price(item);
            for (var i = 0; i < groups.Length; i++)
                groups[i] = _groups[i].Rule.Price(item);
        }
        catch (OverflowException)
        {
            return new Computed([], "unreadable", "the amounts are too large to compute with");
        }

        if (quote.Price is not { } price)
            return new Computed([], "noPrice", quote.Trace[0].Why);
        var now = target.Number(there.Values, FieldRole.Price);
        var fields = new List<ComputedField>(5 + groups.Length) { Field(_price, price, quote.Trace) };
        if (_sale is not null)
            fields.Add(Field(_sale, quote.SalePrice, quote.Trace));
        if (_saleFrom is not null)
            fields.Add(Window(_saleFrom, p => p.SaleFrom));
        if (_saleTo is not null)
            fields.Add(Window(_saleTo, p => p.SaleTo));
        if (_compareAt is not null)
            fields.Add(Field(_compareAt, quote.CompareAt, quote.Trace));
        var hold = Hold(quote, now);
        var guarded = Guarded(quote, now);
        for (var i = 0; i < groups.Length; i++)
        {
            // A group without a price in its list keeps what it has.
            if (groups[i].Price is null)
                continue;
            var had = target.Number(there.Values, FieldRole.Price, _groups[i].Field.List);
            fields.Add(Field(_groups[i].Field, groups[i].Price, groups[i].Trace));
            hold ??= Hold(groups[i], had) is { } why ? $"{_groups[i].Field.Label}: {why}" : null;
            // The guards look at the worst of them.
            var group = Guarded(groups[i], had);
            if (Moved(group) > Moved(guarded))
                guarded = guarded with { OldPrice = group.OldPrice, NewPrice = group.NewPrice };
            if (group.NetPrice < guarded.NetPrice)
                guarded = guarded with { NetPrice = group.NetPrice };
        }

        return new Computed(fields, Hold: hold) { Guarded = guarded };

        string? Hold(PriceQuote q, decimal? old) =>
            Plausibility.PriceHold(
                Limits,
                decimal.Parse(q.Trace[0].After!, System.Globalization.CultureInfo.InvariantCulture),
                old,
                q.Price!.Value
            );

        GuardedChange Guarded(PriceQuote q, decimal? old)
        {
            var least = q.SalePrice is { } reduced && reduced < q.Price ? reduced : q.Price!.Value;
            var net =
                (rule.Tax.Target == TaxBasis.Gross ? least / (1 + (source.Number(hub.Values, FieldRole.TaxRate) ?? 0) / 100) : least)
                / (rule.CurrencyRate == 0 ? 1 : rule.CurrencyRate);
            return new GuardedChange(pair.Name, old, q.Price, net, source.Number(hub.Values, FieldRole.Cost));
        }

        static decimal Moved(GuardedChange change) => Math.Abs(Numbers.Move(change.OldPrice, change.NewPrice ?? 0) ?? 0);

        ComputedField Field(FieldDescription field, decimal? value, IReadOnlyList<TraceStep> trace) =>
            new(field, there.Values.GetValueOrDefault(field.Name), value is { } v ? Numbers.Plain(v) : null, trace);

        // The window goes with the sale price and leaves with it.
        ComputedField Window(FieldDescription field, Func<ListedPrice, DateTimeOffset?> end)
        {
            var list = new[] { rule.PriceList }.Concat(rule.FallbackLists).FirstOrDefault(l => l is not null && item.Prices.ContainsKey(l));
            var instant = quote.SalePrice is not null && list is not null ? end(item.Prices[list]) : null;
            var text = instant?.ToUniversalTime().ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", System.Globalization.CultureInfo.InvariantCulture);
            return new ComputedField(
                field,
                there.Values.GetValueOrDefault(field.Name),
                text,
                [new TraceStep("sale", null, text, $"the {field.Label} of the sale in {list}")]
            );
        }
    }
}

/// <summary>Quantities by a stock rule.</summary>
/// <param name="rule">The rule.</param>
/// <param name="source">The hub's item fields.</param>
/// <param name="target">The target's item fields.</param>
public sealed class StockComputation(StockRule rule, FieldSet source, FieldSet target) : LaneComputation
{
    private static readonly PlausibilityLimits Limits = new();

    private readonly FieldDescription _quantity = target.Find(FieldRole.OnHand)!;

    /// <inheritdoc/>
    public override bool KeepsSource => rule.Replenish.Kind == ReplenishKind.FollowIncrease;

    /// <inheritdoc/>
    public override Computed Compute(LanePair pair)
    {
        var (hub, there) = (pair.Source, pair.Target);
        if (Unreadable(hub, "hub", source.Find(FieldRole.Tracked)) is { } here)
            return here;
        if (Unreadable(there, "target", _quantity) is { } problem)
            return problem;
        var quote = rule.Quantity(
            new StockItem
            {
                Tracked = pair.Kit.Count > 0 || source.Text(hub.Values, FieldRole.Tracked) != "false",
                Levels = pair.Levels,
                Kit = pair.Kit,
                Published = pair.Target.Key.Length > 0,
                Target = target.Number(there.Values, FieldRole.OnHand) ?? 0,
                LastSource = pair.Agreed?.Source is { } last
                    ? decimal.Parse(last, System.Globalization.CultureInfo.InvariantCulture)
                    : null,
            }
        );
        var field = new ComputedField(
            _quantity,
            there.Values.GetValueOrDefault(_quantity.Name),
            Numbers.Plain(quote.Quantity),
            quote.Trace
        );
        return new Computed(
            [field],
            Hold: Plausibility.QuantityHold(Limits, quote.Quantity),
            Source: quote.Source is { } s ? Numbers.Plain(s) : null
        )
        {
            Guarded = new GuardedChange(pair.Name, OldQuantity: target.Number(there.Values, FieldRole.OnHand), NewQuantity: quote.Quantity),
        };
    }
}

/// <summary>Values that persons put right.</summary>
/// <param name="list">The corrections.</param>
/// <param name="target">The system's item fields.</param>
public sealed class CorrectionComputation(CorrectionList list, FieldSet target) : LaneComputation
{
    private readonly ILookup<string, Correction> _byKey = list.Corrections.ToLookup(c => c.Key, StringComparer.Ordinal);

    /// <inheritdoc/>
    public override Computed Compute(LanePair pair)
    {
        var fields = new List<ComputedField>();
        foreach (var correction in _byKey[pair.Target.Key])
        {
            if (target.Fields.FirstOrDefault(f => f.Name == correction.Field) is not { Writable: true } field)
                return new Computed([], "notWritable", $"the field “{correction.Field}” cannot be written there");
            var old = pair.Target.Values.GetValueOrDefault(field.Name);
            fields.Add(
                new ComputedField(field, old, correction.Value, [new TraceStep("correction", old, correction.Value, "put right by hand")])
            );
        }

        // The changed ones lead.
        return new Computed([.. fields.OrderByDescending(f => f.Changes)]) { Guarded = new GuardedChange(pair.Name) };
    }
}
