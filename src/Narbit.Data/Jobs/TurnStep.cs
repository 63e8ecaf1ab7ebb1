using Narbit.Data.Runs;

namespace Narbit.Data.Jobs;

/// <summary>A lane in a turn of a job.</summary>
public sealed class TurnStep
{
    public long TurnId { get; set; }

    public required string LaneId { get; set; }

    public int Place { get; set; }

    public TurnStepState State { get; set; }

    /// <summary>Its run, the newest where there were several.</summary>
    public long? RunId { get; set; }

    /// <summary>How often it was tried.</summary>
    public int Tries { get; set; }

    /// <summary>When it is tried again.</summary>
    public DateTimeOffset? AgainAt { get; set; }

    /// <summary>Why it failed or was left out.</summary>
    public KeptReason? Why { get; set; }
}
