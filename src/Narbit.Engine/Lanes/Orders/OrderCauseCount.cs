namespace Narbit.Engine.Lanes.Orders;

/// <summary>A cause and how many orders have it.</summary>
/// <param name="Cause">The code.</param>
/// <param name="Words">What it stands for.</param>
/// <param name="Count">How many.</param>
public sealed record OrderCauseCount(string Cause, string Words, int Count);
