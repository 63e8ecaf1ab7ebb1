using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>A line of an order and what it became.</summary>
public sealed record OrderLineView(OrderLine Line, decimal Amount, IReadOnlyList<DocumentLineView> Became);
