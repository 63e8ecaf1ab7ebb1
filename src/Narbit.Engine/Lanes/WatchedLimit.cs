using Narbit.Core.Guarding;

namespace Narbit.Engine.Lanes;

/// <summary>A limit at which a lane's run stops and asks, as a person sets it.</summary>
/// <param name="Limit">The limit's name in <see cref="GuardLimits"/>, in camelCase.</param>
/// <param name="Label">What it watches, in words that go before the limit.</param>
/// <param name="Unit">
/// The limit's unit, or null for one that is merely on or off; <see cref="Money"/> stands for the target's currency.
/// </param>
public sealed record WatchedLimit(string Limit, string Label, string? Unit)
{
    /// <summary>The unit of a limit of money: the currency of the lane's target.</summary>
    public const string Money = "currency";

    /// <summary>The share of records that change.</summary>
    public static WatchedLimit ChangedShare { get; } = new("changedShare", "More of the compared records change than", "%");

    /// <summary>Prices below cost.</summary>
    public static WatchedLimit BelowCost { get; } = new("belowCost", "A price falls below its cost", null);

    /// <summary>Prices below the least margin.</summary>
    public static WatchedLimit MinMargin { get; } = new("minMargin", "The margin, of the net price, falls below", "%");

    /// <summary>Prices of zero.</summary>
    public static WatchedLimit ZeroPrice { get; } = new("zeroPrice", "A price becomes zero", null);

    /// <summary>Records that cannot be computed.</summary>
    public static WatchedLimit FailingTimes { get; } = new("failingTimes", "More records fail than usual, times", "×");
}
