namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Items that were kept off a lane.</summary>
/// <param name="Lane">The lane.</param>
/// <param name="Keys">The items.</param>
public sealed record ItemsKeptOff(string Lane, IReadOnlyList<string> Keys);
