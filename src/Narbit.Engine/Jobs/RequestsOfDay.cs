namespace Narbit.Engine.Jobs;

/// <summary>What is asked of a system in a day.</summary>
/// <param name="Name">The system.</param>
/// <param name="ADay">Requests.</param>
/// <param name="LimitADay">What it allows; null: it says nothing of it.</param>
public sealed record RequestsOfDay(string Name, double ADay, double? LimitADay);
