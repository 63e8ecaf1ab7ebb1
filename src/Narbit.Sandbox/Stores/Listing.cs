namespace Narbit.Sandbox.Stores;

/// <summary>What a store sells under one line: of the trade portal, the marketplace or the till.</summary>
public sealed class Listing
{
    public required string Id { get; init; }

    public string? Parent { get; set; }

    public string Sku { get; set; } = "";

    public string Barcode { get; set; } = "";

    public required string Title { get; set; }

    public string Option { get; set; } = "";

    public string Category { get; set; } = "";

    public string Brand { get; set; } = "";

    /// <summary>The long text: plain in the portal, HTML at the market.</summary>
    public string Description { get; set; } = "";

    public string TaxClass { get; set; } = "";

    public string Image { get; set; } = "";

    /// <summary>In the store's own way: net in the portal, gross elsewhere.</summary>
    public decimal Price { get; set; }

    /// <summary>What groups of customers pay, in the same way; a group that is not there pays <see cref="Price"/>.</summary>
    public Dictionary<string, decimal> GroupPrices { get; } = [];

    public int Quantity { get; set; }

    public bool Published { get; set; } = true;

    /// <summary>What a kit stands for: articles of the back office with quantities; empty for all else.</summary>
    public IReadOnlyList<(string Article, int Quantity)> Kit { get; init; } = [];

    /// <summary>The most pieces that the store lets a listing show.</summary>
    public int? ShowsAtMost { get; init; }

    public DateTimeOffset ChangedAt { get; set; }
}
