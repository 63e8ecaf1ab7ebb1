namespace Narbit.Core.Orders;

/// <param name="Line">The line's id.</param>
/// <param name="Quantity">How many of it.</param>
public sealed record RefundedLine(string Line, int Quantity);
