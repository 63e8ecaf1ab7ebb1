namespace Narbit.Core.Pairing;

/// <summary>An item in a kit.</summary>
/// <param name="HubKey">The item.</param>
/// <param name="Quantity">How many of it, above 0.</param>
public sealed record KitItem(string HubKey, decimal Quantity);
