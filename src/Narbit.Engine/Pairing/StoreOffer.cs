namespace Narbit.Engine.Pairing;

/// <summary>What the listings of one store take of an item.</summary>
/// <param name="SystemId">The store.</param>
/// <param name="Promised">How many pieces of the item buyers could order there.</param>
public sealed record StoreOffer(string SystemId, decimal Promised);
