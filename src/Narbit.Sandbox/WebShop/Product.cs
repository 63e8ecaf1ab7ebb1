namespace Narbit.Sandbox.WebShop;

/// <summary>A product of the web shop, with its variants nested; prices are gross, in whole cents.</summary>
public sealed class Product
{
    public required long Id { get; init; }

    public required string Title { get; set; }

    public string BodyHtml { get; set; } = "";

    public string Category { get; init; } = "";

    public bool Published { get; set; } = true;

    public DateTimeOffset UpdatedAt { get; set; }

    public List<Variant> Variants { get; } = [];
}

public sealed class Variant
{
    public required long Id { get; init; }

    public required string Sku { get; set; }

    public string Barcode { get; set; } = "";

    public string Option { get; init; } = "";

    public int PriceCents { get; set; }

    public int? SaleCents { get; set; }

    public int? CompareAtCents { get; set; }

    public int Quantity { get; set; }

    public decimal? WeightKg { get; init; }
}

/// <summary>An order placed on the shop's own page.</summary>
public sealed record ShopOrder(long Id, long VariantId, int Quantity, int PriceCents, DateTimeOffset At);

/// <summary>A write that took effect, for those who want to check that none was lost and none came twice.</summary>
public sealed record AppliedWrite(string Key, long VariantId, int? PriceCents, int? Quantity, DateTimeOffset At);
