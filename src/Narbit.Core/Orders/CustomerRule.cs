namespace Narbit.Core.Orders;

/// <summary>How a customer is found, and what is done where none is.</summary>
public sealed record CustomerRule
{
    /// <summary>By what, in turn.</summary>
    public IReadOnlyList<CustomerKey> Match { get; init; } =
    [CustomerKey.Account, CustomerKey.Email, CustomerKey.Phone, CustomerKey.NameAndPostcode];

    /// <summary>What is done where none is found.</summary>
    public MissingCustomer Missing { get; init; }

    /// <summary>The customer that is used then.</summary>
    public string? Use { get; init; }
}
