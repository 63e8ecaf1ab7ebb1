namespace Narbit.Sandbox.Orders;

/// <summary>How it is sent and what that costs.</summary>
public sealed record Sending(string Method, decimal Amount, decimal? TaxRate = null);
