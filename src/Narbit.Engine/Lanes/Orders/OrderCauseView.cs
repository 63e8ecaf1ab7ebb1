using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Why an order is held or waits, and what the cause is about.</summary>
public sealed record OrderCauseView(string Cause, OrderOutcome Outcome, string Words, string? Line, string? Subject, decimal? By);
