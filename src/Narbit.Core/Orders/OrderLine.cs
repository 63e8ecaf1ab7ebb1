namespace Narbit.Core.Orders;

/// <summary>A line of an order.</summary>
public sealed record OrderLine
{
    /// <summary>Its id within the order.</summary>
    public required string Id { get; init; }

    /// <summary>The SKU as the store has it.</summary>
    public string? Sku { get; init; }

    /// <summary>What it is called.</summary>
    public string? Title { get; init; }

    /// <summary>How many, at least 1.</summary>
    public int Quantity { get; init; } = 1;

    /// <summary>The price of one.</summary>
    public decimal Price { get; init; }

    /// <summary>What is taken off the line.</summary>
    public decimal Discount { get; init; }

    /// <summary>In percent; null: the store does not say.</summary>
    public decimal? TaxRate { get; init; }
}
