namespace Narbit.Engine.Jobs;

/// <summary>An item that hurts.</summary>
public sealed record WorstItem(string Item, string? Reference, string? Caption, int Oversold, long Short, int Missed);
