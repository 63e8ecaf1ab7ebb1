namespace Narbit.Core.Orders;

/// <param name="Item">The hub's item code.</param>
/// <param name="Quantity">How many of it are in one kit.</param>
/// <param name="Price">What one costs by itself; what the kit's amount is shared out by.</param>
public sealed record KitComponent(string Item, int Quantity, decimal Price = 0);
