using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>A line of the hub's document with the name of its item.</summary>
public sealed record DocumentLineView
{
    /// <summary>What it is.</summary>
    public DocumentLineKind Kind { get; init; }

    /// <summary>The hub's item; null: none.</summary>
    public string? Item { get; init; }

    /// <summary>What the hub calls the item.</summary>
    public string? ItemName { get; init; }

    /// <summary>The item's SKU.</summary>
    public string? Sku { get; init; }

    /// <summary>How many.</summary>
    public long Quantity { get; init; }

    /// <summary>Net, in the order's currency.</summary>
    public decimal Net { get; init; }

    /// <summary>Tax, in the order's currency.</summary>
    public decimal Tax { get; init; }

    /// <summary>Gross, in the order's currency.</summary>
    public decimal Gross { get; init; }

    /// <summary>In percent.</summary>
    public decimal TaxRate { get; init; }
}
