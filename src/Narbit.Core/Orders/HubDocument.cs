namespace Narbit.Core.Orders;

/// <summary>An order as the hub keeps it.</summary>
public sealed record HubDocument
{
    /// <summary>Its number.</summary>
    public required string Number { get; init; }

    /// <summary>The kind of document.</summary>
    public required string As { get; init; }

    /// <summary>Whose it is; null: nobody is known.</summary>
    public OrderCustomer? Customer { get; init; }

    /// <summary>Where it goes.</summary>
    public OrderAddress? ShipTo { get; init; }

    /// <summary>Whether that is the rule's own address.</summary>
    public bool Placeholder { get; init; }

    /// <summary>The hub's shipping codes; null where none is known.</summary>
    public IReadOnlyList<string?> ShippingCodes { get; init; } = [];

    /// <summary>How it was paid.</summary>
    public IReadOnlyList<DocumentPayment> Payments { get; init; } = [];

    /// <summary>Its lines: goods, discounts, shipping, fees, difference.</summary>
    public IReadOnlyList<DocumentLine> Lines { get; init; } = [];

    /// <summary>Its sums.</summary>
    public required DocumentTotals Totals { get; init; }
}
