namespace Narbit.Sandbox.WebShop;

/// <summary>A product of the web shop, with its variants nested; prices are gross, in whole cents.</summary>
public sealed class Product
{
    public required long Id { get; init; }

    public required string Title { get; set; }

    public string BodyHtml { get; set; } = "";

    public string Category { get; set; } = "";

    /// <summary>What the sender calls the product; further variants find it by this.</summary>
    public string Handle { get; init; } = "";

    public List<string> Images { get; set; } = [];

    /// <summary>Variants that the product's page shows as well.</summary>
    public List<string> Related { get; set; } = [];

    public bool Published { get; set; } = true;

    public DateTimeOffset UpdatedAt { get; set; }

    public List<Variant> Variants { get; } = [];
}

public sealed class Variant
{
    public required long Id { get; init; }

    public required string Sku { get; set; }

    public string Barcode { get; set; } = "";

    public string Option { get; set; } = "";

    public int PriceCents { get; set; }

    public int? SaleCents { get; set; }

    public int? CompareAtCents { get; set; }

    public int Quantity { get; set; }

    public decimal? WeightKg { get; set; }
}

/// <summary>An order placed on the shop's own page.</summary>
public sealed record ShopOrder(long Id, long VariantId, int Quantity, int PriceCents, DateTimeOffset At);

/// <summary>A write that took effect, for those who want to check that none was lost and none came twice.</summary>
public sealed record AppliedWrite(string Key, long VariantId, int? PriceCents, int? Quantity, DateTimeOffset At);
