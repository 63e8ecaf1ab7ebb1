namespace Narbit.Core.Guarding;

/// <summary>Says which values look wrong. A held value is shown and is sent only when a person chooses it.</summary>
public static class Plausibility
{
    /// <summary>Why a price should be held, or null.</summary>
    /// <param name="limits">The limits.</param>
    /// <param name="source">The amount the price was computed from.</param>
    /// <param name="now">The price the target has, or null.</param>
    /// <param name="next">The price it would get.</param>
    public static Reason? PriceHold(PlausibilityLimits limits, decimal source, decimal? now, decimal next)
    {
        if (source < 0)
            return new Reason("price.sourceNegative", $"the source's price is negative: {Numbers.Plain(source)}");
        if (source == 0)
            return new Reason("price.sourceZero", "the source's price is zero");
        if (next <= 0)
            return new Reason("price.notAboveZero", $"the price would be {Numbers.Plain(next)}");
        if (next > limits.GreatestPrice)
            return new Reason("price.tooHigh", $"the price would be {Numbers.Plain(next)}, above {Numbers.Plain(limits.GreatestPrice)}");
        if (now is not > 0)
            return null;
        if (next > now * limits.GreatestRise)
            return new Reason("price.rises", $"the price would rise to {Numbers.Plain(Times(now.Value, next, 1))} times what is there");
        if (next < now * limits.GreatestFall)
            return new Reason(
                "price.falls",
                $"the price would fall to {Numbers.Plain(Times(now.Value, next * 100, 0))} % of what is there"
            );
        return null;
    }

    /// <summary>Why a quantity should be held, or null.</summary>
    /// <param name="limits">The limits.</param>
    /// <param name="next">The quantity the target would get.</param>
    public static Reason? QuantityHold(PlausibilityLimits limits, decimal next) =>
        next > limits.GreatestQuantity
            ? new Reason("quantity.tooHigh", $"the quantity would be {Numbers.Plain(next)}, above {Numbers.Plain(limits.GreatestQuantity)}")
        : next != decimal.Truncate(next) ? new Reason("quantity.notWhole", $"the quantity {Numbers.Plain(next)} is not whole")
        : null;

    private static decimal Times(decimal now, decimal next, int decimals) => decimal.Round(next / now, decimals);
}
