namespace Narbit.Engine.Workspaces.Files;

/// <summary>A day on which no job begins by the clock.</summary>
/// <param name="Date">The local date, ISO 8601.</param>
/// <param name="Name">What it is.</param>
public sealed record WorkspaceDayOff(string Date, string? Name);
