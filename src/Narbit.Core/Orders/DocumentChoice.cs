namespace Narbit.Core.Orders;

/// <summary>A kind of document for orders that fit.</summary>
public sealed record DocumentChoice
{
    /// <summary>The store's payment method; null: any.</summary>
    public string? Method { get; init; }

    /// <summary>The order's state; null: any.</summary>
    public string? State { get; init; }

    /// <summary>The kind of document.</summary>
    public required string As { get; init; }
}
