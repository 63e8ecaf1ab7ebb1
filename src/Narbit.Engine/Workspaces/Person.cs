namespace Narbit.Engine.Workspaces;

/// <summary>Somebody who works here.</summary>
/// <param name="Name">Their name, written into versions, decisions and runs.</param>
/// <param name="Mail">Their mail address; null: none is known.</param>
public sealed record Person(string Name, string? Mail);
