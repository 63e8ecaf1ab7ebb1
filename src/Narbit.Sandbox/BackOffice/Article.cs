namespace Narbit.Sandbox.BackOffice;

/// <summary>An article of the back office: flat, with a group code; prices are net.</summary>
public sealed class Article
{
    public required string Number { get; init; }

    public required string Sku { get; set; }

    public required string GroupCode { get; init; }

    public required string Name { get; set; }

    public string Option { get; set; } = "";

    public required string Barcode { get; set; }

    /// <summary>Where its picture is.</summary>
    public string? Picture { get; set; }

    /// <summary>Its pictures, the first one first.</summary>
    public IReadOnlyList<string> Pictures { get; set; } = [];

    /// <summary>What it is, in plain paragraphs.</summary>
    public string LongText { get; set; } = "";

    /// <summary>How it is used.</summary>
    public string UsageText { get; set; } = "";

    /// <summary>The text for the web, HTML.</summary>
    public string WebText { get; set; } = "";

    /// <summary>Numbers of articles that go with it.</summary>
    public IReadOnlyList<string> Related { get; set; } = [];

    /// <summary>Whether it is sold at all.</summary>
    public bool Active { get; set; } = true;

    public int? WeightGrams { get; set; }

    public string Category { get; set; } = "";

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
