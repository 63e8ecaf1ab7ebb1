namespace Narbit.Engine.Lanes.Orders;

/// <summary>The hub's document as it would be, or would have been, made.</summary>
public sealed record DocumentView
{
    /// <summary>Its number.</summary>
    public required string Number { get; init; }

    /// <summary>What kind of document it is at the hub.</summary>
    public required string As { get; init; }

    /// <summary>The customer's key; null: there is none yet.</summary>
    public string? CustomerKey { get; init; }

    /// <summary>Whose it is, in words.</summary>
    public string? CustomerName { get; init; }

    /// <summary>Whether the customer is created with it.</summary>
    public bool CreatesCustomer { get; init; }

    /// <summary>How it was paid, in words.</summary>
    public required string PaidBy { get; init; }

    /// <summary>Net, in the order's currency.</summary>
    public decimal Net { get; init; }

    /// <summary>Tax, in the order's currency.</summary>
    public decimal Tax { get; init; }

    /// <summary>Gross, in the order's currency.</summary>
    public decimal Gross { get; init; }
}
