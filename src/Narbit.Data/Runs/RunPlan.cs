using Narbit.Data.Lanes;

namespace Narbit.Data.Runs;

/// <summary>Everything that a run worked out before it sends anything.</summary>
/// <param name="Writes">The planned writes with their fields.</param>
/// <param name="Remarks">What could not be computed.</param>
/// <param name="Agreed">What both sides already agree on.</param>
public sealed record RunPlan(IReadOnlyList<PlannedWrite> Writes, IReadOnlyList<RunRemark> Remarks, IReadOnlyList<Agreed> Agreed);
