using Narbit.Core.Records;

namespace Narbit.Core.Pairing;

/// <summary>A finding of the readiness check.</summary>
/// <param name="Cause">The cause.</param>
/// <param name="Role">The field it is about.</param>
/// <param name="Key">The record.</param>
/// <param name="Words">What is the matter, in plain words.</param>
/// <param name="Proposal">A value that would mend it, or null where only a person can know.</param>
/// <param name="Because">Where the proposal comes from.</param>
public sealed record ReadinessFinding(ReadinessCause Cause, FieldRole Role, string Key, string Words, string? Proposal, string? Because);
