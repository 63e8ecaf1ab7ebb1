using Narbit.Data.Lanes;
using Narbit.Data.Runs;

namespace Narbit.Engine.Reading;

/// <summary>A write of ours with the run and the lane that it belongs to.</summary>
public sealed record OwnWrite
{
    /// <summary>The write.</summary>
    public required PlannedWrite Write { get; init; }

    /// <summary>The run that it belongs to.</summary>
    public required Run Run { get; init; }

    /// <summary>The run's lane.</summary>
    public required Lane Lane { get; init; }
}
