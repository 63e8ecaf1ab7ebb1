namespace Narbit.Core.Timetables;

/// <summary>
/// When something is to happen, by the clock of a zone: at clock times, or in equal steps. Dates and weekdays speak of the local day on
/// which a clock time or a window begins.
/// </summary>
public sealed record Timetable
{
    /// <summary>The IANA name of its zone.</summary>
    public required string Zone { get; init; }

    /// <summary>Clock times, e.g. <c>06:30</c>; null: it goes by <see cref="Every"/>.</summary>
    public IReadOnlyList<string>? At { get; init; }

    /// <summary>Equal steps; null: it goes by <see cref="At"/>.</summary>
    public TimetableSteps? Every { get; init; }

    /// <summary>The weekdays that count; null: all.</summary>
    public IReadOnlyList<Weekday>? Days { get; init; }

    /// <summary>Local dates (ISO 8601) that do not count.</summary>
    public IReadOnlyList<string>? Except { get; init; }

    /// <summary>The first local date that counts.</summary>
    public string? Starts { get; init; }

    /// <summary>The last local date that counts.</summary>
    public string? Ends { get; init; }

    /// <summary>What it comes to, or what is wrong with it, named by its part.</summary>
    public Outcome<TimetableTimes> Times() => TimetableTimes.Of(this);
}
