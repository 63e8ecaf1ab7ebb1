namespace Narbit.Sandbox.Orders;

/// <summary>How many of a line were given back.</summary>
public sealed record ReturnedLine(string Line, int Quantity);
