using Narbit.Core.Timetables;
using Narbit.Data.Jobs;

namespace Narbit.Engine.Jobs;

/// <summary>A job as a person says it, and as files keep it.</summary>
public sealed record JobDocument
{
    /// <summary>What it is called, 1 to 60 characters.</summary>
    public required string Name { get; init; }

    /// <summary>When it begins by itself; null: not by the clock.</summary>
    public Timetable? Timetable { get; init; }

    /// <summary>Its lanes, in the order in which they go; at least one.</summary>
    public required IReadOnlyList<LaneInJob> Lanes { get; init; }

    /// <summary>What becomes of a time at which its last turn is still at work.</summary>
    public WhenAtWork WhenAtWork { get; init; }

    /// <summary>What becomes of times that passed while Narbit was not running.</summary>
    public WhenMissed WhenMissed { get; init; }

    /// <summary>What becomes of a turn in which a lane fails.</summary>
    public WhenFailed WhenFailed { get; init; }

    /// <summary>Minutes before a lane that failed is tried again, 1 to 1440.</summary>
    public int AgainAfterMinutes { get; init; } = 5;

    /// <summary>How often a lane that failed is tried again, 1 to 20.</summary>
    public int AgainTimes { get; init; } = 2;

    /// <summary>Whether it also begins at once when something happens that it is about.</summary>
    public bool AtOnce { get; init; }

    /// <summary>How often the change lists of its sources are read for what nothing else tells of, 2 to 3600 seconds; null: not.</summary>
    public int? LookEverySeconds { get; init; }

    /// <summary>Whether it does nothing by itself.</summary>
    public bool Off { get; init; }

    /// <summary>Whether lists show it first.</summary>
    public bool OnTop { get; init; }
}
