namespace Narbit.Core.Orders;

/// <summary>A customer that is to be created.</summary>
public sealed record NewCustomer
{
    /// <summary>The name.</summary>
    public string? Name { get; init; }

    /// <summary>The company.</summary>
    public string? Company { get; init; }

    /// <summary>The mail address.</summary>
    public string? Email { get; init; }

    /// <summary>The telephone number.</summary>
    public string? Phone { get; init; }

    /// <summary>The account.</summary>
    public string? Account { get; init; }

    /// <summary>The postcode.</summary>
    public string? Postcode { get; init; }
}
