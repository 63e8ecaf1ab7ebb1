namespace Narbit.Engine.Pairing;

/// <summary>A listing that hangs on an item.</summary>
public sealed record ItemListing
{
    /// <summary>The system.</summary>
    public required string SystemId { get; init; }

    /// <summary>The listing's key.</summary>
    public required string Key { get; init; }

    /// <summary>Its SKU there.</summary>
    public required string? Sku { get; init; }

    /// <summary>Its title there.</summary>
    public required string? Title { get; init; }

    /// <summary>Its price there.</summary>
    public required decimal? Price { get; init; }

    /// <summary>The unit of the price.</summary>
    public required string? PriceUnit { get; init; }

    /// <summary>Its quantity there.</summary>
    public required decimal? Quantity { get; init; }

    /// <summary>How many of the item one of the listing takes.</summary>
    public required decimal TakesEach { get; init; }

    /// <summary>Whether it is a kit.</summary>
    public required bool IsKit { get; init; }

    /// <summary>Whether it is shown; null: not known.</summary>
    public required bool Published { get; init; }

    /// <summary>Whether it is no longer there.</summary>
    public required bool Gone { get; init; }

    /// <summary>The couple that the link belongs to.</summary>
    public required long CoupleId { get; init; }

    /// <summary>The decision behind the link.</summary>
    public required long DecisionId { get; init; }

    /// <summary>Who decided.</summary>
    public required string By { get; init; }

    /// <summary>When.</summary>
    public required DateTimeOffset At { get; init; }

    /// <summary>From what.</summary>
    public required string Evidence { get; init; }
}
