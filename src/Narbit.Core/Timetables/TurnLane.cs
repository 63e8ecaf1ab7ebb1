namespace Narbit.Core.Timetables;

/// <summary>What a lane of a job reads and writes.</summary>
/// <param name="Id">The lane.</param>
/// <param name="Source">The system that it reads from.</param>
/// <param name="Target">The system that it writes to.</param>
/// <param name="WritesSource">Whether it writes its source too.</param>
public sealed record TurnLane(string Id, string Source, string Target, bool WritesSource)
{
    /// <summary>Whether it writes to a system.</summary>
    public bool Writes(string system) =>
        string.Equals(system, Target, StringComparison.Ordinal)
        || (WritesSource && string.Equals(system, Source, StringComparison.Ordinal));

    /// <summary>Whether it reads from or writes to a system.</summary>
    public bool Touches(string system) =>
        string.Equals(system, Target, StringComparison.Ordinal) || string.Equals(system, Source, StringComparison.Ordinal);
}
