namespace Narbit.Sandbox.Orders;

/// <summary>Where something is sent, or who is billed.</summary>
public sealed record PostAddress(
    string Name,
    string Company,
    string Street,
    string City,
    string Postcode,
    string Country,
    string Phone = ""
);
