namespace Narbit.Core.Timetables;

/// <summary>A timetable of equal steps, counted from midnight UTC of the Unix epoch so that a restart changes nothing.</summary>
/// <param name="Every">The step, 1 minute to 24 hours.</param>
public readonly record struct Interval(TimeSpan Every)
{
    /// <summary>The shortest step.</summary>
    public static readonly TimeSpan Least = TimeSpan.FromMinutes(1);

    /// <summary>The longest step.</summary>
    public static readonly TimeSpan Most = TimeSpan.FromHours(24);

    /// <summary>Whether the step is within its limits.</summary>
    public bool Valid => Every >= Least && Every <= Most;

    /// <summary>The first time after an instant.</summary>
    public DateTimeOffset Next(DateTimeOffset after)
    {
        var steps = (after.UtcTicks - DateTimeOffset.UnixEpoch.UtcTicks) / Every.Ticks + 1;
        return DateTimeOffset.UnixEpoch.AddTicks(steps * Every.Ticks);
    }

    /// <summary>All times after one instant and not after another.</summary>
    public IEnumerable<DateTimeOffset> Between(DateTimeOffset after, DateTimeOffset until)
    {
        for (var next = Next(after); next <= until; next += Every)
            yield return next;
    }
}
