namespace Narbit.Engine.Lanes.Orders;

/// <summary>What a rule makes of the orders: taken, waiting, held, skipped.</summary>
public sealed record OrderSums(OrderSum Taken, OrderSum Waiting, OrderSum Held, OrderSum Skipped);
