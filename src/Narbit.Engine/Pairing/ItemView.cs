using Narbit.Core.Stock;

namespace Narbit.Engine.Pairing;

/// <summary>An item of the hub with all that hangs on it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Sku">Its SKU.</param>
/// <param name="Title">Its title.</param>
/// <param name="Levels">Its stock by location.</param>
/// <param name="Available">On hand less allocated over all locations, at least 0.</param>
/// <param name="Promised">What all listings together could sell of it.</param>
/// <param name="Exposure">By how much they promise more than is available; 0 where they do not.</param>
/// <param name="Listings">The listings.</param>
public sealed record ItemView(
    string Key,
    string? Sku,
    string? Title,
    IReadOnlyList<StockLevel> Levels,
    decimal Available,
    decimal Promised,
    decimal Exposure,
    IReadOnlyList<ItemListing> Listings
);
