namespace Narbit.Engine.Pairing;

/// <summary>A decision that could not be put into force.</summary>
/// <param name="DecisionId">The decision; it waits on.</param>
/// <param name="Message">Why not.</param>
public sealed record CommitFault(long DecisionId, string Message);
