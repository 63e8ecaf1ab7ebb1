using Narbit.Data.Runs;

namespace Narbit.Engine.Runs;

/// <summary>A run that is asked for.</summary>
/// <param name="LaneId">The lane.</param>
/// <param name="Preview">Whether to stop once the change set is stored.</param>
/// <param name="Trigger">What started it.</param>
/// <param name="By">Who started it.</param>
public sealed record RunRequest(string LaneId, bool Preview, RunTrigger Trigger, string By)
{
    /// <summary>The turn of a job that it belongs to.</summary>
    public long? TurnId { get; init; }

    /// <summary>The only fields of the target that it writes, JSON; null: all that the lane writes.</summary>
    public string? Fields { get; init; }

    /// <summary>The keys of the source's records that it looks at, JSON; null: all of them.</summary>
    public string? Only { get; init; }
}
