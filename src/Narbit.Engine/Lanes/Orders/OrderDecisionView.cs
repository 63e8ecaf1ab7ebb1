using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What was decided about an order.</summary>
public sealed record OrderDecisionView(long Id, OrderChoice Choice, bool ForAll, string By, DateTimeOffset At);
