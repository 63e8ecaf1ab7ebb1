using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>A payment of a document.</summary>
/// <param name="Type">The hub's payment type; null: none is known.</param>
/// <param name="Amount">How much.</param>
public sealed record DocumentPayment(string? Type, [property: JsonConverter(typeof(PlainDecimal))] decimal Amount);
