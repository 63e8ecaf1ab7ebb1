namespace Narbit.Data.Jobs;

/// <summary>A lane in a job.</summary>
public sealed class JobLane
{
    public string JobId { get; set; } = "";

    /// <summary>A lane is in one job at most.</summary>
    public required string LaneId { get; set; }

    /// <summary>Its place, from 0 on.</summary>
    public int Place { get; set; }

    /// <summary>The only fields of the target that the job's runs write, JSON; null: all that the lane writes.</summary>
    public string? Fields { get; set; }
}
