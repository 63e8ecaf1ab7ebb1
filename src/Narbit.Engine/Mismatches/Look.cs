using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches;

/// <summary>What a look at an origin found.</summary>
/// <param name="At">As of when: a run of ten minutes ago says nothing against what was settled since.</param>
/// <param name="Found">What needs a person.</param>
public sealed record Look(DateTimeOffset At, IReadOnlyList<FoundMismatch> Found);
