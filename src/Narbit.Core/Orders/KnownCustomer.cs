namespace Narbit.Core.Orders;

/// <summary>A customer of the hub.</summary>
public sealed record KnownCustomer
{
    /// <summary>The hub's key.</summary>
    public required string Key { get; init; }

    /// <summary>The account.</summary>
    public string? Account { get; init; }

    /// <summary>The mail address.</summary>
    public string? Email { get; init; }

    /// <summary>The telephone number.</summary>
    public string? Phone { get; init; }

    /// <summary>The name.</summary>
    public string? Name { get; init; }

    /// <summary>The postcode.</summary>
    public string? Postcode { get; init; }
}
