namespace Narbit.Core.Timetables;

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
