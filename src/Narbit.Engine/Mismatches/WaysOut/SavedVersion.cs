namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>A version of a lane's map that an act has saved.</summary>
/// <param name="Lane">The lane.</param>
/// <param name="Number">The version.</param>
public sealed record SavedVersion(string Lane, int Number);
