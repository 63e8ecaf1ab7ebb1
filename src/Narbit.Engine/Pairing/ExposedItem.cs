namespace Narbit.Engine.Pairing;

/// <summary>An item of which all listings together promise more than is available.</summary>
/// <param name="Key">The hub's key.</param>
/// <param name="Sku">The SKU.</param>
/// <param name="Title">The title.</param>
/// <param name="Available">On hand less allocated over all locations, at least 0.</param>
/// <param name="Promised">What all listings together could sell of it.</param>
/// <param name="Exposure">By how much that is more.</param>
/// <param name="Offers">By store.</param>
public sealed record ExposedItem(
    string Key,
    string? Sku,
    string? Title,
    decimal Available,
    decimal Promised,
    decimal Exposure,
    IReadOnlyList<StoreOffer> Offers
);
