using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.Orders;

/// <summary>What happens when a person buys on a store's page: what is asked beside the quantity, and the order that comes of it.</summary>
/// <param name="Fields">What is asked, as HTML.</param>
/// <param name="Sell">Makes the order of what was bought; answers what the page says.</param>
public sealed record Counter(string Fields, Func<Listing, int, Func<string, string>, string> Sell);
