namespace Narbit.Core.Pairing;

/// <summary>An item, a variant or a listing to be paired. Whatever a side does not know is null.</summary>
public sealed record ItemToPair
{
    /// <summary>Its key, unique on its side.</summary>
    public required string Key { get; init; }

    /// <summary>The SKU.</summary>
    public string? Sku { get; init; }

    /// <summary>The barcode as written.</summary>
    public string? Barcode { get; init; }

    /// <summary>The manufacturer's part number.</summary>
    public string? PartNumber { get; init; }

    /// <summary>The title.</summary>
    public string? Title { get; init; }

    /// <summary>The option values; the title may repeat them.</summary>
    public string? Option { get; init; }

    /// <summary>The brand.</summary>
    public string? Brand { get; init; }

    /// <summary>A price, whichever the side has; weak support only.</summary>
    public decimal? Price { get; init; }

    /// <summary>What the price is counted in, e.g. <c>€ net</c>; null: the side does not say.</summary>
    public string? PriceUnit { get; init; }

    /// <summary>The parent's key or the group code.</summary>
    public string? Group { get; init; }

    /// <summary>Whether the title was cut off at its system's limit.</summary>
    public bool TitleCut { get; init; }

    /// <summary>How other systems that were paired before know it.</summary>
    public IReadOnlyList<KnownAs> KnownAs { get; init; } = [];

    /// <summary>Whether it is paired or set aside already: it counts where something is used twice, and is not paired again.</summary>
    public bool Taken { get; init; }
}
