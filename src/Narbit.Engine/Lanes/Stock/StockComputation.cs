using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Core.Stock;

namespace Narbit.Engine.Lanes.Stock;

/// <summary>Quantities by a stock rule.</summary>
/// <param name="document">The rule, and what counts as promised.</param>
/// <param name="sides">The systems; the target has a field for a quantity.</param>
public sealed class StockComputation(StockDocument document, LaneSides sides) : LaneComputation<ItemPair>
{
    private static readonly PlausibilityLimits Limits = new();

    private readonly FieldDescription _quantity = sides.Target.Find(FieldRole.OnHand)!;
    private readonly FieldDescription? _tracked = sides.Source.Find(FieldRole.Tracked);

    /// <inheritdoc/>
    public override bool KeepsSource => document.Rule.Replenish.Kind == ReplenishKind.FollowIncrease;

    /// <inheritdoc/>
    protected override Computed Of(ItemPair pair)
    {
        if (Unreadable(pair.Source, "source", _tracked) is { } here)
            return here;
        if (Unreadable(pair.Target, "target", _quantity) is { } there)
            return there;
        var shown = pair.Target.Values.GetValueOrDefault(_quantity.Name);
        var quote = document.Rule.Quantity(
            new StockItem
            {
                Tracked = pair.Kit.Count > 0 || _tracked is null || pair.Source.Values.GetValueOrDefault(_tracked.Name) != "false",
                Levels = OpenSales.Counted(pair.Levels, document),
                Kit = [.. pair.Kit.Select(p => p with { Levels = OpenSales.Counted(p.Levels ?? [], document) })],
                Published = pair.Target.Key.Length > 0,
                Target = Amounts.Of(shown) ?? 0,
                LastSource = pair.Agreed.TryGetValue(_quantity.Name, out var agreed) ? Amounts.Of(agreed.Source) : null,
            }
        );
        return new Computed([new ComputedField(_quantity, shown, Numbers.Plain(quote.Quantity), quote.Trace)])
        {
            Hold = Plausibility.QuantityHold(Limits, quote.Quantity),
            Source = quote.Source is { } source ? Numbers.Plain(source) : null,
            Guarded = new GuardedChange(pair.Name, OldQuantity: Amounts.Of(shown), NewQuantity: quote.Quantity),
        };
    }
}
