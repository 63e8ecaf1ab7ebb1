namespace Narbit.Engine.Lanes.Orders;

/// <summary>A word of the store's and how many orders have it.</summary>
/// <param name="Word">The word.</param>
/// <param name="Count">How many.</param>
public sealed record MetWord(string Word, int Count);
