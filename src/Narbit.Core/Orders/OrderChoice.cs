namespace Narbit.Core.Orders;

/// <summary>A decision about an order, or about all orders that wait for the same.</summary>
/// <param name="Kind">What was decided.</param>
/// <param name="Subject">What it is about: a SKU, a method; null: the order as a whole.</param>
/// <param name="Value">What was chosen; null: nothing needs to be said.</param>
public sealed record OrderChoice(OrderChoiceKind Kind, string? Subject, string? Value);
