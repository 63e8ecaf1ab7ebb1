namespace Narbit.Sandbox.Stores;

/// <summary>A change of a listing: by a program with a key, by a sale without.</summary>
public sealed record ListingEdit
{
    public string? Key { get; init; }

    public required string Id { get; init; }

    public decimal? Price { get; init; }

    public int? Quantity { get; init; }

    public string? Sku { get; init; }

    public string? Barcode { get; init; }

    public string? TaxClass { get; init; }

    public DateTimeOffset At { get; init; }

    public int? Bought { get; init; }

    public ListingContent? Content { get; init; }

    public NewListing? New { get; init; }

    public bool Ended { get; init; }

    public IReadOnlyDictionary<string, decimal>? GroupPrices { get; init; }
}
