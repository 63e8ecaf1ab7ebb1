namespace Narbit.Core.Orders;

/// <summary>A country, or a part of it, that orders may go to.</summary>
public sealed record ShippingZone
{
    /// <summary>ISO 3166-1 alpha-2.</summary>
    public required string Country { get; init; }

    /// <summary>What its postcodes begin with; none: all of them.</summary>
    public IReadOnlyList<string> Prefixes { get; init; } = [];

    /// <summary>What postcodes that are left out begin with.</summary>
    public IReadOnlyList<string> Except { get; init; } = [];
}
