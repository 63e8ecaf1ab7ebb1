namespace Narbit.Core.Orders;

/// <param name="Method">The store's word for how it is sent.</param>
/// <param name="Amount">What that costs.</param>
/// <param name="TaxRate">In percent; null: the rule says.</param>
public sealed record OrderShipping(string? Method, decimal Amount, decimal? TaxRate = null);
