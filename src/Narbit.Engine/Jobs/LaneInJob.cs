namespace Narbit.Engine.Jobs;

/// <summary>A lane as a job has it.</summary>
/// <param name="Lane">The lane's short name.</param>
/// <param name="Fields">The only fields of the target that its runs write; null: all that the lane writes.</param>
public sealed record LaneInJob(string Lane, IReadOnlyList<string>? Fields = null);
