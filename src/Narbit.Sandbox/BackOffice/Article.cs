namespace Narbit.Sandbox.BackOffice;

/// <summary>Pieces at one location.</summary>
public sealed record Shelf(int OnHand, int Allocated, int Incoming);

public static class Locations
{
    public const string Kilnyard = "Kilnyard";
    public const string QuayStreet = "Quay Street";
    public const string Overflow = "Overflow";

    public static readonly string[] All = [Kilnyard, QuayStreet, Overflow];
}

/// <summary>An article of the back office: flat, with a group code; prices are net.</summary>
public sealed class Article
{
    public required string Number { get; init; }

    public required string Sku { get; set; }

    public required string GroupCode { get; init; }

    public required string Name { get; set; }

    public string Option { get; init; } = "";

    public required string Barcode { get; set; }

    /// <summary>Where its picture is.</summary>
    public string? Picture { get; set; }

    public int? WeightGrams { get; set; }

    public string Category { get; init; } = "";

    public required string TaxCode { get; set; }

    public decimal? Cost { get; set; }

    public decimal? Studio { get; set; }

    public decimal? School { get; set; }

    public decimal? Counter { get; set; }

    public decimal? SaleStudio { get; set; }

    public DateTimeOffset? SaleFrom { get; set; }

    public DateTimeOffset? SaleTo { get; set; }

    public bool Tracked { get; set; } = true;

    public Dictionary<string, Shelf> Stock { get; } = new(StringComparer.Ordinal);

    public DateTimeOffset ChangedAt { get; set; }

    public DateTimeOffset StockChangedAt { get; set; } = Demo.Catalogue.Day;
}
