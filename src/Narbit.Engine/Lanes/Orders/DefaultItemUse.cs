using Narbit.Core;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Where the default item stands in for a SKU.</summary>
public sealed record DefaultItemUse
{
    /// <summary>The lane.</summary>
    public required string LaneId { get; init; }

    /// <summary>The SKU; empty: lines without one.</summary>
    public required string Sku { get; init; }

    /// <summary>What it was sold as last.</summary>
    public string? Title { get; init; }

    /// <summary>In how many orders.</summary>
    public int Orders { get; init; }

    /// <summary>How many of them the hub has.</summary>
    public int Posted { get; init; }

    /// <summary>How many pieces.</summary>
    public long Quantity { get; init; }

    /// <summary>For how much, as the store reckons, by currency.</summary>
    public IReadOnlyList<Amount> Worth { get; init; } = [];

    /// <summary>When the oldest of the orders was placed.</summary>
    public DateTimeOffset Since { get; init; }

    /// <summary>How many are posted anew by the next runs.</summary>
    public int Anew { get; init; }
}
