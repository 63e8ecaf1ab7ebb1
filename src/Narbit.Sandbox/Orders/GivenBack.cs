namespace Narbit.Sandbox.Orders;

/// <summary>What was given back.</summary>
public sealed record GivenBack(
    string Id,
    DateTimeOffset At,
    IReadOnlyList<ReturnedLine> Lines,
    decimal Shipping,
    decimal Total,
    bool Restock
);
