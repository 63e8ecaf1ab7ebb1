namespace Narbit.Sandbox.WebShop;

/// <summary>What came of one update in a batch.</summary>
public sealed record UpdateResult(long Id, string Status, string? Message, string? Key = null);
