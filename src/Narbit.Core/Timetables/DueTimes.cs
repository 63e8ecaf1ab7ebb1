namespace Narbit.Core.Timetables;

/// <summary>Times in a row that came to the same.</summary>
/// <param name="First">The first of them.</param>
/// <param name="Last">The last of them.</param>
/// <param name="Count">How many, 1 or more.</param>
/// <param name="Fate">What they came to.</param>
public sealed record DueTimes(DateTimeOffset First, DateTimeOffset Last, int Count, DueFate Fate);
