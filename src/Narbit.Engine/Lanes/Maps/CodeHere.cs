namespace Narbit.Engine.Lanes.Maps;

/// <summary>A code of the source: how many records use it, what it becomes, and what is suggested.</summary>
public sealed record CodeHere(string Code, int Records, string? To, string? Suggested, string? Why);
