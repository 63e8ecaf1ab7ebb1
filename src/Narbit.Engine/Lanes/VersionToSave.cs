using Narbit.Core.Guarding;

namespace Narbit.Engine.Lanes;

/// <summary>A version of a lane's document that somebody wants to save.</summary>
/// <param name="BaseNumber">The version that it was made from.</param>
/// <param name="Document">The document.</param>
/// <param name="Guards">The guards' limits; null: those in force.</param>
/// <param name="Note">A note for later.</param>
/// <param name="DeskActId">The act of the mismatch desk that it is a part of; null: none.</param>
public sealed record VersionToSave(int BaseNumber, LaneDocument Document, GuardLimits? Guards, string? Note, long? DeskActId = null);
