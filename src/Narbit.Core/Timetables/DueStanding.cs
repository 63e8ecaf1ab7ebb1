namespace Narbit.Core.Timetables;

/// <summary>Where a job stands with its times.</summary>
/// <param name="SettledUntil">Of all times up to this instant it is said what they came to.</param>
/// <param name="SkipNext">So many of the times to come are left out, 0 or more.</param>
/// <param name="PausedUntil">Until when it is paused; <see cref="DateTimeOffset.MaxValue"/>: until further notice; null: it is not.</param>
public sealed record DueStanding(DateTimeOffset SettledUntil, int SkipNext = 0, DateTimeOffset? PausedUntil = null);
