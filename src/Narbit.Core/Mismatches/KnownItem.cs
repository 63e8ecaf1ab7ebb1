namespace Narbit.Core.Mismatches;

/// <summary>An item as it may be meant by somebody who calls it otherwise.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Sku">Its SKU.</param>
/// <param name="Title">Its title.</param>
public readonly record struct KnownItem(string Key, string? Sku, string? Title);
