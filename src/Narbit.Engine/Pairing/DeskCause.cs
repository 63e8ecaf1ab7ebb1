namespace Narbit.Engine.Pairing;

/// <summary>What speaks against pairing open records by itself.</summary>
/// <param name="Cause">The code, with its side in front, e.g. <c>other.skuMissing</c>.</param>
/// <param name="Side">hub or other.</param>
/// <param name="Words">The same for people.</param>
/// <param name="Count">How many open records have it.</param>
public sealed record DeskCause(string Cause, string Side, string Words, int Count);
