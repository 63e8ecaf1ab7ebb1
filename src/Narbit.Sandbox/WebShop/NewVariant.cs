namespace Narbit.Sandbox.WebShop;

/// <summary>A variant that is to be made: under a product that is named, under the one with the same handle, or under a new one.</summary>
public sealed record NewVariant(long? ProductId, string? Handle);
