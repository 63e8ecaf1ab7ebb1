namespace Narbit.Engine.Lanes.Maps;

/// <summary>A code of the target and how many records use it.</summary>
public sealed record CodeThere(string Code, int Records);
