namespace Narbit.Sandbox.Orders;

/// <summary>What was sent.</summary>
public sealed record Parcel(string Id, DateTimeOffset? At, string Carrier, string Tracking);
