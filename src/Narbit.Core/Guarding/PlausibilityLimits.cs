namespace Narbit.Core.Guarding;

/// <summary>What a single value may not do without a person having looked at it.</summary>
/// <param name="GreatestRise">The most a price may rise at once, as a factor of what is there.</param>
/// <param name="GreatestFall">The least a price may be after a fall, as a factor of what is there.</param>
/// <param name="GreatestPrice">The highest price that is believed, in the target's currency.</param>
/// <param name="GreatestQuantity">The highest quantity that is believed, in pieces.</param>
public sealed record PlausibilityLimits(
    decimal GreatestRise = 3m,
    decimal GreatestFall = 0.4m,
    decimal GreatestPrice = 1_000_000m,
    decimal GreatestQuantity = 1_000_000m
);
