namespace Narbit.Sandbox.Orders;

/// <summary>What is taken off the whole, or added to it.</summary>
public sealed record OnTop(string Title, decimal Amount, decimal? TaxRate = null);
