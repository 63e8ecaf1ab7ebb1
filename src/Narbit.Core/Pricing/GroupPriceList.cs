namespace Narbit.Core.Pricing;

/// <summary>What a group of customers pays.</summary>
/// <param name="Group">The group, as the target names it.</param>
/// <param name="PriceList">The source's price list.</param>
public sealed record GroupPriceList(string Group, string PriceList);
