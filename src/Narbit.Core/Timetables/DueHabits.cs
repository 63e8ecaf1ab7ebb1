namespace Narbit.Core.Timetables;

/// <summary>How a job takes its times.</summary>
/// <param name="AtWork">When its last turn is still at work.</param>
/// <param name="Missed">When times passed unkept.</param>
public readonly record struct DueHabits(WhenAtWork AtWork, WhenMissed Missed);
