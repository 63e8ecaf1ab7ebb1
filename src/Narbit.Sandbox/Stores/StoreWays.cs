namespace Narbit.Sandbox.Stores;

/// <summary>What a store asks of a listing before it takes it.</summary>
/// <param name="FirstId">How the store numbers its listings: the next id after those that there are.</param>
/// <param name="Check">Why a new or changed listing is refused, or null.</param>
public sealed record StoreWays(Func<IReadOnlyList<Listing>, string> FirstId, Func<Listing, string?> Check);
