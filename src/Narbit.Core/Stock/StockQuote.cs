namespace Narbit.Core.Stock;

/// <summary>What a stock rule makes of an item, in pieces.</summary>
/// <param name="Quantity">What the target should have.</param>
/// <param name="Source">The source's basis, or null where the item is not tracked.</param>
/// <param name="Trace">A line for every step taken.</param>
public sealed record StockQuote(decimal Quantity, decimal? Source, IReadOnlyList<TraceStep> Trace);
