namespace Narbit.Engine.Pairing;

/// <summary>Decisions that somebody threw away together.</summary>
/// <param name="At">When.</param>
/// <param name="By">Who.</param>
/// <param name="Count">How many.</param>
/// <param name="Last">The last of them, in words.</param>
public sealed record ThrownAway(DateTimeOffset At, string By, int Count, string Last);
