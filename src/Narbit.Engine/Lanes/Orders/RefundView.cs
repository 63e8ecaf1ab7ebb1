using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>A refund and its credit note.</summary>
public sealed record RefundView(string Refund, DateTimeOffset? At, decimal Total, OrderOutcome? Outcome, string? Words, string? CreditNote);
