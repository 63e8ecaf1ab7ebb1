namespace Narbit.Sandbox.Stores;

/// <summary>A customer of a store.</summary>
public sealed record Account(
    string Id,
    string Number,
    string Contact,
    string Firm,
    string Mail,
    string Phone,
    string Postcode,
    string Town,
    string Group = ""
);
