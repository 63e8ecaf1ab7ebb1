namespace Narbit.Core.Pairing;

/// <summary>What the two sides are called in evidence.</summary>
/// <param name="Left">The left system.</param>
/// <param name="Right">The right system.</param>
public sealed record SideNames(string Left, string Right);
