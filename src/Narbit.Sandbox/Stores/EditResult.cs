namespace Narbit.Sandbox.Stores;

/// <summary>What came of one edit.</summary>
public sealed record EditResult(string Id, string? Refusal, string? Key = null);
