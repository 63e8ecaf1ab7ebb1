namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>A mismatch whose way out could not be taken.</summary>
public sealed record NotTaken(long MismatchId, string Why);
