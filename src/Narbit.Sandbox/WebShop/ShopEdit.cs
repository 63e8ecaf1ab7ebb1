namespace Narbit.Sandbox.WebShop;

/// <summary>A change to a variant: by the API with a key, by a sale on the page without.</summary>
public sealed record ShopEdit
{
    public string? Key { get; init; }

    public long VariantId { get; init; }

    public int? PriceCents { get; init; }

    public bool SetsSale { get; init; }

    public int? SaleCents { get; init; }

    public bool SetsCompareAt { get; init; }

    public int? CompareAtCents { get; init; }

    public int? Quantity { get; init; }

    public DateTimeOffset At { get; init; }

    public int? Bought { get; init; }

    public bool Removed { get; init; }

    public string? Sku { get; init; }

    public string? Barcode { get; init; }

    public ShopContent? Content { get; init; }

    public NewVariant? New { get; init; }
}
