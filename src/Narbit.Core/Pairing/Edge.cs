namespace Narbit.Core.Pairing;

/// <summary>A possible pair and what it is worth.</summary>
/// <param name="Left">The left record's place.</param>
/// <param name="Right">The right record's place.</param>
/// <param name="Value">From 0 to 1.</param>
public readonly record struct Edge(int Left, int Right, double Value);
