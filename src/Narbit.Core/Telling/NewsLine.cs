using Narbit.Core.Mismatches;

namespace Narbit.Core.Telling;

/// <summary>A cause of which somebody is told. It says what and how many, and never which record or who: a mail travels.</summary>
/// <param name="Cause">The cause.</param>
/// <param name="Count">How many there are.</param>
/// <param name="Systems">The systems that have them, by name.</param>
/// <param name="Link">The very place at which they are settled.</param>
public sealed record NewsLine(MismatchCause Cause, int Count, IReadOnlyList<string> Systems, Uri Link);
