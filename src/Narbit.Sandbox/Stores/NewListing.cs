namespace Narbit.Sandbox.Stores;

/// <summary>A listing that is to be made, beside those with the same group.</summary>
public sealed record NewListing(string? Group);
