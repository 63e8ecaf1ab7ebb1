namespace Narbit.Engine.Telling;

/// <summary>A webhook as it goes out.</summary>
/// <param name="EventId">What the other tool knows it by, so that one that comes twice is taken once.</param>
/// <param name="Body">JSON.</param>
/// <param name="Secret">What it is signed with.</param>
public sealed record OutgoingHook(string EventId, string Body, string Secret);
