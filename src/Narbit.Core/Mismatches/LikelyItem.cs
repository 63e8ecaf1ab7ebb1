namespace Narbit.Core.Mismatches;

/// <summary>An item that is most likely meant.</summary>
/// <param name="Item">The item.</param>
/// <param name="Confidence">From 0 to 1.</param>
/// <param name="Why">By what, for people.</param>
public sealed record LikelyItem(KnownItem Item, double Confidence, string Why);
