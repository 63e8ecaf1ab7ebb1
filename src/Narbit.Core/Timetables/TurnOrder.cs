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

/// <summary>
/// In which order the lanes of a job go: one waits for every earlier one that writes what it touches, or touches what it writes; the
/// others run side by side. Stock from one hub to three stores goes to all at once, and after the orders that change the hub's stock.
/// </summary>
public static class TurnOrder
{
    /// <summary>Whether a later lane waits for an earlier one.</summary>
    public static bool Waits(TurnLane earlier, TurnLane later) =>
        later.Touches(earlier.Target)
        || (earlier.WritesSource && later.Touches(earlier.Source))
        || earlier.Touches(later.Target)
        || (later.WritesSource && earlier.Touches(later.Source));

    /// <summary>The lanes that a lane waits for, of those before it.</summary>
    public static IEnumerable<TurnLane> Before(IReadOnlyList<TurnLane> lanes, int place) =>
        lanes.Take(place).Where(earlier => Waits(earlier, lanes[place]));
}
