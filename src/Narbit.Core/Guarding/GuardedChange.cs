namespace Narbit.Core.Guarding;

/// <summary>One change as the guards look at it.</summary>
/// <param name="Record">The record, as a person knows it.</param>
/// <param name="OldPrice">The price that is there.</param>
/// <param name="NewPrice">The price that it would get; null: no price changes.</param>
/// <param name="NetPrice">The same without tax, in the cost's currency.</param>
/// <param name="Cost">The net cost.</param>
/// <param name="OldQuantity">The quantity that is there.</param>
/// <param name="NewQuantity">The quantity that it would get; null: no quantity changes.</param>
/// <param name="Emptied">A text that would be emptied, by its label.</param>
/// <param name="Removes">Whether it would be hidden or ended.</param>
/// <param name="Posted">For an order that would be posted: what it is worth; null: it is none.</param>
public readonly record struct GuardedChange(
    string Record,
    decimal? OldPrice = null,
    decimal? NewPrice = null,
    decimal? NetPrice = null,
    decimal? Cost = null,
    decimal? OldQuantity = null,
    decimal? NewQuantity = null,
    string? Emptied = null,
    bool Removes = false,
    decimal? Posted = null
);
