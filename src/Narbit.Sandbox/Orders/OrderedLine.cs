namespace Narbit.Sandbox.Orders;

/// <summary>What was ordered.</summary>
public sealed record OrderedLine(
    string Id,
    string Sku,
    string Title,
    int Quantity,
    decimal Price,
    decimal Discount = 0,
    decimal? TaxRate = null
);
