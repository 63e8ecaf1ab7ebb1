namespace Narbit.Core.Pairing;

/// <summary>A line of a pair table, as a person wrote it.</summary>
/// <param name="Line">Its line in the file.</param>
/// <param name="HubKey">The hub's key, or its SKU there.</param>
/// <param name="Sku">The other side's SKU, or its key there.</param>
/// <param name="System">The other system's short name, mark or name; empty: the one at hand.</param>
/// <param name="Quantity">How many of the item the listing stands for; empty: one.</param>
public sealed record PairTableLine(int Line, string? HubKey, string? Sku, string? System, string? Quantity);
