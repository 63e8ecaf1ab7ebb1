namespace Narbit.Engine.Runs;

/// <summary>
/// How a lane stands: what its newest comparison found and what has become of it since. Every count of what is open in a lane is one of
/// these, and each is what the list of that run shows under the same word.
/// </summary>
public sealed record LaneStanding
{
    /// <summary>The run that compared both sides last; null: none has.</summary>
    public long? RunId { get; init; }

    /// <summary>When it did.</summary>
    public DateTimeOffset? ComparedAt { get; init; }

    /// <summary>Whether pairs that it went by were taken apart, or its change set was given up, so that it says nothing.</summary>
    public bool IsStale { get; init; }

    /// <summary>Records that were compared.</summary>
    public int Compared { get; init; }

    /// <summary>Records that are the same on both sides, or of which a person decided that what is there counts.</summary>
    public int InStep { get; init; }

    /// <summary>Records that would change, in a change set that waits for a person.</summary>
    public int Planned { get; init; }

    /// <summary>Records that are held because they look wrong or were changed on both sides.</summary>
    public int Held { get; init; }

    /// <summary>Records that differ and were not chosen when the rest was sent.</summary>
    public int NotChosen { get; init; }

    /// <summary>Records that the other side refused, lost or changed before ours arrived.</summary>
    public int Failed { get; init; }

    /// <summary>Records that could not be computed.</summary>
    public int NotComputed { get; init; }

    /// <summary>Records that were written and taken back.</summary>
    public int TakenBack { get; init; }

    /// <summary>Records on their way, or left over by a run that failed.</summary>
    public int Unsent { get; init; }

    /// <summary>Records that are not in step.</summary>
    public int Open => Planned + Held + NotChosen + Failed + NotComputed + TakenBack + Unsent;
}
