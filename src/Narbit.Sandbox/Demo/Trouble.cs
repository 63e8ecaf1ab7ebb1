namespace Narbit.Sandbox.Demo;

/// <summary>A trouble that was put into the data on purpose, with the keys of the records that have it.</summary>
public sealed record Trouble(string Name, string System, IReadOnlyList<string> Keys);
