namespace Narbit.Sandbox.WebShop;

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
