using Narbit.Sandbox.Orders;

namespace Narbit.Sandbox.BackOffice;

/// <summary>A customer of the back office.</summary>
public sealed record OfficeCustomer(
    string Number,
    string Name,
    string Company,
    string Email,
    string Phone,
    string Postcode,
    string Town,
    string Account = ""
)
{
    /// <summary>Where goods may be sent to for it.</summary>
    public IReadOnlyList<PostAddress> Addresses { get; init; } = [];

    /// <summary>The group that its prices are of.</summary>
    public string PriceGroup { get; init; } = "";
}
