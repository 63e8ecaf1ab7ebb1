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
