using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What an order lane looks at beyond the two records.</summary>
/// <param name="Store">The order as the store has it.</param>
/// <param name="Known">What the hub knows.</param>
public sealed record OrderPlace(OrderRecord Store, KnownToHub Known)
{
    /// <summary>The document that the order became; null: none.</summary>
    public OrderRecord? Hub { get; init; }

    /// <summary>The key of that document, also where the mirror has not seen it yet; null: there is none.</summary>
    public string? HubKey { get; init; }

    /// <summary>What people decided about it.</summary>
    public IReadOnlyList<OrderChoice> Choices { get; init; } = [];

    /// <summary>What both were like when they last agreed; null: that is not known yet.</summary>
    public OrderMarks? Agreed { get; init; }

    /// <summary>Whether a payment of it was registered apart.</summary>
    public bool PaidApart { get; init; }

    /// <summary>What the hub calls an item; null: lines keep the titles that they were sold by.</summary>
    public Func<string, string?>? TitleOf { get; init; }

    /// <summary>The SKU of an item of the hub; null: its lines name items by their keys.</summary>
    public Func<string, string?>? SkuOf { get; init; }

    /// <summary>How lines are written at the hub.</summary>
    internal LineWriting Writing(OrderPolicy policy) =>
        new(TitleOf, SkuOf, policy.Delivery, policy.Rule.Tax.Target == OrderTaxTarget.Gross);

    /// <summary>The addresses that a customer of the hub has; null: the hub keeps no list of them, or none is to be added.</summary>
    public Func<string, IReadOnlyList<IReadOnlyDictionary<string, string>>?>? AddressesOf { get; init; }

    /// <summary>Another order of the store with the same number; null: there is none.</summary>
    public string? SameNumber { get; init; }
}
