namespace Narbit.Engine.Jobs;

/// <summary>Something that is done with a job.</summary>
/// <param name="Kind">What.</param>
/// <param name="Count">For <see cref="JobActKind.Skip"/>: how many times, 1 to 1000; 0 takes it back.</param>
/// <param name="Until">For <see cref="JobActKind.Pause"/>: the instant; null: until further notice.</param>
public sealed record JobAct(JobActKind Kind, int? Count = null, DateTimeOffset? Until = null);
