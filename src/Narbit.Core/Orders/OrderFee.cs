namespace Narbit.Core.Orders;

/// <param name="Title">What it is called.</param>
/// <param name="Amount">What is added.</param>
/// <param name="TaxRate">In percent; null: the rule says.</param>
public sealed record OrderFee(string? Title, decimal Amount, decimal? TaxRate = null);
