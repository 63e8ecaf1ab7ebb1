using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>A line of an order and what it became.</summary>
public sealed record OrderLineView(OrderLine Line, decimal Amount, IReadOnlyList<DocumentLineView> Became);
