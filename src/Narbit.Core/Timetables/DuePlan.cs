namespace Narbit.Core.Timetables;

/// <summary>
/// Says what the times of a timetable come to as the clock goes on, whoever looks at it and however often: each time comes to one thing,
/// once, also where the clock was set back, where the machine slept, and where nobody looked for months.
/// </summary>
public static class DuePlan
{
    /// <summary>A time that is looked at later than this after it passed was missed.</summary>
    public static readonly TimeSpan Late = TimeSpan.FromSeconds(90);

    /// <summary>A clock that was ahead by more than this was wrong; the plan begins anew by the clock that is right.</summary>
    public static readonly TimeSpan MostSetBack = TimeSpan.FromHours(24);

    /// <summary>Settles the times up to now.</summary>
    /// <param name="times">The timetable's times.</param>
    /// <param name="standing">Where the job stands.</param>
    /// <param name="habits">How it takes its times.</param>
    /// <param name="work">What it is doing.</param>
    /// <param name="now">The instant.</param>
    public static SettledTimes Settle(TimetableTimes times, DueStanding standing, DueHabits habits, JobWork work, DateTimeOffset now)
    {
        if (standing.SettledUntil - now > MostSetBack)
            return new SettledTimes([], standing with { SettledUntil = now });
        var passed = times.After(standing.SettledUntil).TakeWhile(t => t <= now).ToList();
        var skip = standing.SkipNext;
        var fates = new List<(DateTimeOffset At, DueFate Fate)>(passed.Count);
        foreach (var at in passed)
        {
            var fate =
                at < standing.PausedUntil ? DueFate.Paused
                : skip > 0 ? DueFate.Skipped
                : DueFate.Missed;
            if (fate == DueFate.Skipped)
                skip--;
            fates.Add((at, fate));
        }

        Decide(fates, habits, work, now);
        return new SettledTimes(InRows(fates), After(standing, passed, skip, now));
    }

    /// <summary>The times to come at which turns will begin.</summary>
    /// <param name="times">The timetable's times.</param>
    /// <param name="standing">Where the job stands.</param>
    /// <param name="now">The instant.</param>
    public static IEnumerable<DateTimeOffset> Coming(TimetableTimes times, DueStanding standing, DateTimeOffset now)
    {
        var after = standing.SettledUntil > now && standing.SettledUntil - now <= MostSetBack ? standing.SettledUntil : now;
        if (standing.PausedUntil == DateTimeOffset.MaxValue)
            return [];
        // A time at the very instant at which a pause ends is kept.
        if (standing.PausedUntil is { } paused && paused > after)
            after = paused.AddTicks(-1);
        return times.After(after).Skip(standing.SkipNext);
    }

    // Of the times that nothing kept from running, the last one's turn does the work of all of them.
    private static void Decide(List<(DateTimeOffset At, DueFate Fate)> fates, DueHabits habits, JobWork work, DateTimeOffset now)
    {
        bool IsKept((DateTimeOffset At, DueFate Fate) time) =>
            time.Fate == DueFate.Missed && (habits.Missed == WhenMissed.Once || now - time.At <= Late);

        var last = fates.FindLastIndex(IsKept);
        if (last < 0)
            return;
        var passedOver = work != JobWork.Idle && habits.AtWork == WhenAtWork.Skip;
        for (var i = 0; i < last; i++)
            if (IsKept(fates[i]))
                fates[i] = (fates[i].At, passedOver ? DueFate.AtWork : DueFate.Shared);
        fates[last] = (
            fates[last].At,
            passedOver ? DueFate.AtWork
            : work == JobWork.Waits ? DueFate.Shared
            : DueFate.Run
        );
    }

    private static DueStanding After(DueStanding standing, List<DateTimeOffset> passed, int skip, DateTimeOffset now) =>
        new(
            passed.Count > 0 ? passed[^1]
                : standing.SettledUntil > now ? standing.SettledUntil
                : now,
            skip,
            standing.PausedUntil <= now ? null : standing.PausedUntil
        );

    private static List<DueTimes> InRows(List<(DateTimeOffset At, DueFate Fate)> fates)
    {
        var rows = new List<DueTimes>();
        foreach (var (at, fate) in fates)
            if (rows is [.., var row] && row.Fate == fate)
                rows[^1] = row with { Last = at, Count = row.Count + 1 };
            else
                rows.Add(new DueTimes(at, at, 1, fate));
        return rows;
    }
}
