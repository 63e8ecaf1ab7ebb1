namespace Narbit.Core.Pairing;

/// <summary>A customer to be paired. Whatever a side does not know is null.</summary>
public sealed record CustomerToPair
{
    /// <summary>Its key, unique on its side.</summary>
    public required string Key { get; init; }

    /// <summary>The email address as written.</summary>
    public string? Email { get; init; }

    /// <summary>The phone number as written.</summary>
    public string? Phone { get; init; }

    /// <summary>The account number.</summary>
    public string? Account { get; init; }

    /// <summary>The person's name.</summary>
    public string? Name { get; init; }

    /// <summary>The company.</summary>
    public string? Company { get; init; }

    /// <summary>The postcode.</summary>
    public string? Postcode { get; init; }

    /// <summary>Whether it is paired or set aside already: it counts where something is used twice, and is not paired again.</summary>
    public bool Taken { get; init; }
}
