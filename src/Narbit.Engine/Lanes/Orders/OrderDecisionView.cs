using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What was decided about an order.</summary>
public sealed record OrderDecisionView(long Id, OrderChoice Choice, bool ForAll, string By, DateTimeOffset At);
