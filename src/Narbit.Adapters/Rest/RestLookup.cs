namespace Narbit.Adapters.Rest;

/// <summary>How records are read by key.</summary>
public sealed record RestLookup : RestAsk;
