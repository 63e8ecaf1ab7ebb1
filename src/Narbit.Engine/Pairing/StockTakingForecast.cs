namespace Narbit.Engine.Pairing;

/// <summary>What the ways of a first stock-taking would do, in numbers.</summary>
/// <param name="Certain">Pairs that are certain: accepted by taking over and by publishing.</param>
/// <param name="Likely">Pairs that a person should look at.</param>
/// <param name="Ambiguous">Records with several candidates.</param>
/// <param name="HubAlone">Hub records that the store does not have: set aside by taking over, to be created by publishing.</param>
/// <param name="OtherAlone">The store's records that the hub does not have: left for a person in every way.</param>
public sealed record StockTakingForecast(int Certain, int Likely, int Ambiguous, int HubAlone, int OtherAlone);
