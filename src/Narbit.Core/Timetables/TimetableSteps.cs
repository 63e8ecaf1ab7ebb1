namespace Narbit.Core.Timetables;

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
