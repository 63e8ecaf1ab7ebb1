using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>An order in a list.</summary>
public sealed record OrderRow
{
    /// <summary>The lane that looks at it.</summary>
    public required string Lane { get; init; }

    /// <summary>Its key in the store.</summary>
    public required string Key { get; init; }

    /// <summary>Its number.</summary>
    public string? Number { get; init; }

    /// <summary>The store.</summary>
    public required SystemTag Store { get; init; }

    /// <summary>When it was placed.</summary>
    public DateTimeOffset PlacedAt { get; init; }

    /// <summary>Whose it is, in words.</summary>
    public string? Buyer { get; init; }

    /// <summary>What the buyer pays, in <see cref="Currency"/>.</summary>
    public decimal Total { get; init; }

    /// <summary>ISO 4217.</summary>
    public string? Currency { get; init; }

    /// <summary>Where it stands.</summary>
    public OrderStage Stage { get; init; }

    /// <summary>Why it is held or waits, in words.</summary>
    public string? Words { get; init; }

    /// <summary>The hub's document; null: there is none.</summary>
    public string? HubKey { get; init; }

    /// <summary>How much was given back, in <see cref="Currency"/>.</summary>
    public decimal Refunded { get; init; }

    /// <summary>Whether the rule's own item stands in for one that is not known.</summary>
    public bool UsesDefaultItem { get; init; }
}
