namespace Narbit.Core.Timetables;

/// <summary>What a timetable is tried on: stock, orders and deliveries, and how often each store is read and told.</summary>
public sealed record StockReplay
{
    /// <summary>When it begins; nothing lies before it.</summary>
    public required DateTimeOffset From { get; init; }

    /// <summary>Pieces on the shelf at first, by SKU; what is not named starts at 0.</summary>
    public required IReadOnlyDictionary<string, long> Stock { get; init; }

    /// <summary>Minutes between readings of a store's orders; 0: at once.</summary>
    public required IReadOnlyDictionary<string, int> Intake { get; init; }

    /// <summary>Minutes between tellings of a store's quantities; 0: at once.</summary>
    public required IReadOnlyDictionary<string, int> Publish { get; init; }

    /// <summary>The orders.</summary>
    public required IReadOnlyList<ReplayedOrder> Orders { get; init; }

    /// <summary>The deliveries.</summary>
    public required IReadOnlyList<ReplayedDelivery> Deliveries { get; init; }

    /// <summary>How much of what there is every store shows.</summary>
    public ShownPart Shown { get; init; } = ShownPart.All;

    /// <summary>What would have become of the orders; or what is wrong, named by its part.</summary>
    /// <param name="troubles">Where orders go with which something would have gone wrong; null: nobody wants to know.</param>
    public Outcome<ReplayResult> Run(Action<ReplayTrouble>? troubles = null) =>
        Fault() is { } fault ? new Reason("replay.invalid", fault) : new ReplayedDay(this, troubles).Run();

    private string? Fault()
    {
        foreach (var (sku, pieces) in Stock)
            if (pieces < 0)
                return $"stock: {sku} has {pieces}, which is less than nothing.";
        foreach (var (name, minutes) in new[] { ("intake", Intake), ("publish", Publish) })
        foreach (var (store, every) in minutes)
            if (every < 0)
                return $"{name}: {every} minutes of {store} are less than nothing.";
        foreach (var store in Intake.Keys.Where(s => !Publish.ContainsKey(s)))
            return $"publish: {store} is missing.";
        foreach (var store in Publish.Keys.Where(s => !Intake.ContainsKey(s)))
            return $"intake: {store} is missing.";
        return Orders.Select(FaultOf).FirstOrDefault(f => f is not null) ?? Deliveries.Select(FaultOf).FirstOrDefault(f => f is not null);
    }

    private string? FaultOf(ReplayedOrder order) =>
        order.Store is null || order.Sku is null ? $"orders: one of {order.At:O} names no store or no SKU."
        : !Intake.ContainsKey(order.Store) ? $"intake: {order.Store} is missing."
        : order.At < From ? $"orders: one of {order.At:O} lies before the beginning."
        : order.Quantity < 1 ? $"orders: one of {order.At:O} has a quantity of {order.Quantity}; it must be at least 1."
        : null;

    private string? FaultOf(ReplayedDelivery delivery) =>
        delivery.Sku is null ? $"deliveries: one of {delivery.At:O} names no SKU."
        : delivery.At < From ? $"deliveries: one of {delivery.At:O} lies before the beginning."
        : delivery.Quantity < 1 ? $"deliveries: one of {delivery.At:O} has a quantity of {delivery.Quantity}; it must be at least 1."
        : null;
}
