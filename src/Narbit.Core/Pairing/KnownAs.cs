namespace Narbit.Core.Pairing;

/// <summary>A name under which an item is known in another system, because it was paired there.</summary>
/// <param name="System">That system.</param>
/// <param name="Sku">The listing's SKU there.</param>
/// <param name="Barcode">The listing's barcode there.</param>
public sealed record KnownAs(string System, string? Sku, string? Barcode);
