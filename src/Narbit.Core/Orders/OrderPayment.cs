namespace Narbit.Core.Orders;

/// <param name="State">The state that the store gives the payment.</param>
/// <param name="Method">The store's word for how it was paid.</param>
public sealed record OrderPayment(string? State, string? Method);
