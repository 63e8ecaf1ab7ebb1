namespace Narbit.Core.Timetables;

/// <summary>What the times up to an instant came to, and where the job stands afterwards.</summary>
/// <param name="Times">The times in their order.</param>
/// <param name="Standing">Where the job stands.</param>
public sealed record SettledTimes(IReadOnlyList<DueTimes> Times, DueStanding Standing);
