namespace Narbit.Core.Timetables;

/// <summary>What a job is doing.</summary>
public enum JobWork
{
    /// <summary>Nothing.</summary>
    Idle,

    /// <summary>Its last turn is at work.</summary>
    AtWork,

    /// <summary>Its last turn is at work, and another waits for its end.</summary>
    Waits,
}
