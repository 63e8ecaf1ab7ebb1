namespace Narbit.Engine;

/// <summary>Something changed that a screen may be showing.</summary>
/// <param name="Topic">What kind of thing: <c>read</c>, <c>run</c>, <c>lane</c>, <c>system</c>.</param>
/// <param name="Id">Which one.</param>
/// <param name="Phase">For work under way: what it is doing.</param>
/// <param name="Done">How far it is.</param>
/// <param name="Total">How far it goes, where known.</param>
public sealed record LiveEvent(string Topic, string Id, string? Phase = null, int? Done = null, int? Total = null);
