namespace Narbit.Engine.Lanes.Orders;

/// <summary>A cause and how many orders have it.</summary>
public sealed record CauseSum(string Cause, string Words, int Count);
