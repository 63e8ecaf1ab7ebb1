namespace Narbit.Engine.Lanes.Orders;

/// <summary>The words of a store by what they say: states, payments, ways to pay and to send.</summary>
public sealed record MetWords(
    IReadOnlyList<MetWord> States,
    IReadOnlyList<MetWord> Payments,
    IReadOnlyList<MetWord> Methods,
    IReadOnlyList<MetWord> Shipping,
    IReadOnlyList<MetWord> Countries
);
