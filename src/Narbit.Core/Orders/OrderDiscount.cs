namespace Narbit.Core.Orders;

/// <param name="Title">What it is called.</param>
/// <param name="Amount">What is taken off.</param>
public sealed record OrderDiscount(string? Title, decimal Amount);
