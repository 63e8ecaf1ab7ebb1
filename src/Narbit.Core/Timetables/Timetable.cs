using System.Text.Json.Serialization;
using NodaTime;

namespace Narbit.Core.Timetables;

/// <summary>A day of the week, by the three letters that documents use.</summary>
[JsonConverter(typeof(CamelCaseEnum<Weekday>))]
public enum Weekday
{
    /// <summary>Monday.</summary>
    Mon,

    /// <summary>Tuesday.</summary>
    Tue,

    /// <summary>Wednesday.</summary>
    Wed,

    /// <summary>Thursday.</summary>
    Thu,

    /// <summary>Friday.</summary>
    Fri,

    /// <summary>Saturday.</summary>
    Sat,

    /// <summary>Sunday.</summary>
    Sun,
}

/// <summary>Equal steps, all day or between two clock times.</summary>
public sealed record TimetableSteps
{
    /// <summary>Elapsed minutes from one to the next, 1 to 1440.</summary>
    public required int Minutes { get; init; }

    /// <summary>The clock time of the first, e.g. <c>06:30</c>; with <see cref="To"/>, or neither: all day.</summary>
    public string? From { get; init; }

    /// <summary>The clock time before which the last one lies; not after <see cref="From"/>, it is one of the next day.</summary>
    public string? To { get; init; }
}

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
