namespace Narbit.Engine.Lanes.Orders;

/// <summary>The write that posted an order.</summary>
/// <param name="Run">The run.</param>
/// <param name="Write">The write.</param>
public sealed record Posting(long Run, long Write);
