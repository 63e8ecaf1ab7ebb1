using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>Whose order it is: a customer of the hub, or one that is to be created.</summary>
/// <param name="Key">The hub's key; null: one is created.</param>
/// <param name="Create">What is created; null: there is one.</param>
[JsonConverter(typeof(OrderCustomerJson))]
public sealed record OrderCustomer(string? Key, NewCustomer? Create);
