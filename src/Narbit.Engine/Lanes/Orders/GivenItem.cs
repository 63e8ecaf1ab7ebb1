namespace Narbit.Engine.Lanes.Orders;

/// <summary>The item that a SKU is to be.</summary>
/// <param name="Sku">The SKU as it was bought; empty: lines without one.</param>
/// <param name="Item">The hub's item.</param>
/// <param name="For">For which orders.</param>
/// <param name="PostsAnew">Whether the documents with the default item are taken out and posted again.</param>
public sealed record GivenItem(string Sku, string Item, ItemMemory For, bool PostsAnew);
