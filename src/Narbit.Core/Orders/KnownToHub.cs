namespace Narbit.Core.Orders;

/// <summary>What the hub knows already.</summary>
public sealed record KnownToHub
{
    /// <summary>Item codes of the hub by the store's SKUs.</summary>
    public IReadOnlyDictionary<string, string> Items { get; init; } = new Dictionary<string, string>();

    /// <summary>What the store sells as one and the hub keeps apart, by the store's SKUs.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<KitComponent>> Kits { get; init; } =
        new Dictionary<string, IReadOnlyList<KitComponent>>();

    /// <summary>The hub's customers.</summary>
    public IReadOnlyList<KnownCustomer> Customers { get; init; } = [];

    // Made when it is first asked for; a copy with other customers makes its own.
    private CustomerIndex? _index;

    /// <summary>The customers by what they are known by.</summary>
    internal CustomerIndex Index => ReferenceEquals(_index?.Customers, Customers) ? _index! : _index = new CustomerIndex(Customers);

    /// <summary>Ids of orders that were taken before.</summary>
    public IReadOnlyList<string> Taken { get; init; } = [];

    /// <summary>Ids of refunds that have a credit note.</summary>
    public IReadOnlyList<string> Credited { get; init; } = [];
}
