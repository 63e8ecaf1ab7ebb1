namespace Narbit.Engine.People;

/// <summary>What was anonymised.</summary>
public sealed record Anonymised(int Records, int Writes);
