namespace Narbit.Engine.Lanes.Orders;

/// <summary>What a store hears of an order that the hub has.</summary>
public sealed record WayBack
{
    /// <summary>The store's state of an order that has arrived; null: its state stays.</summary>
    public string? Acknowledged { get; init; }

    /// <summary>The store's states by the hub's.</summary>
    public IReadOnlyDictionary<string, string> States { get; init; } = new Dictionary<string, string>();

    /// <summary>The store's carriers by the hub's; one that is not named goes as it is.</summary>
    public IReadOnlyDictionary<string, string> Carriers { get; init; } = new Dictionary<string, string>();

    /// <summary>Whether the store hears of shipments.</summary>
    public bool Shipments { get; init; } = true;

    /// <summary>Whether the store takes over what the hub changes in an order: quantities and the address.</summary>
    public bool Changes { get; init; }
}
