namespace Narbit.Engine.Lanes.Orders;

/// <summary>A customer of the hub that the buyer could be.</summary>
public sealed record BuyerCandidate(string Key, string? Name, string? Email, string? Postcode, IReadOnlyList<string> Alike);
