namespace Narbit.Sandbox.Orders;

/// <summary>What a program says of an order; what is null stays.</summary>
public sealed record OrderNews(string Id, string? Key, string? State, string? HubNumber, IReadOnlyList<Parcel>? Parcels)
{
    public string? Answer { get; init; }

    /// <summary>The lines that stay, with their quantities.</summary>
    public IReadOnlyList<ReturnedLine>? Lines { get; init; }

    public PostAddress? ShipTo { get; init; }
}
