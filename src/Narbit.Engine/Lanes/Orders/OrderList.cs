namespace Narbit.Engine.Lanes.Orders;

/// <summary>A list of orders with what each filter would show.</summary>
public sealed record OrderList(
    int Total,
    int Offset,
    IReadOnlyList<OrderRow> Rows,
    IReadOnlyList<StageSum> Stages,
    IReadOnlyList<CauseSum> Causes
);
