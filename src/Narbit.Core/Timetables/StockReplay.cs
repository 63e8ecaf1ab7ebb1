namespace Narbit.Core.Timetables;

/// <summary>An order as it really happened.</summary>
/// <param name="At">UTC.</param>
/// <param name="Store">Where.</param>
/// <param name="Sku">What.</param>
/// <param name="Quantity">Pieces, at least 1.</param>
public readonly record struct ReplayedOrder(DateTimeOffset At, string Store, string Sku, int Quantity);

/// <summary>Pieces that came to the shelf.</summary>
/// <param name="At">UTC.</param>
/// <param name="Sku">What.</param>
/// <param name="Quantity">Pieces, at least 1.</param>
public readonly record struct ReplayedDelivery(DateTimeOffset At, string Sku, int Quantity);

/// <summary>How much of what there is a store shows, as a stock rule has it: a share of it, less what is held back.</summary>
/// <param name="HoldBack">Pieces that are held back, 0 or more.</param>
/// <param name="Share">Percent of it, 1 to 100, rounded down.</param>
public readonly record struct ShownPart(int HoldBack, int Share)
{
    /// <summary>All of it.</summary>
    public static ShownPart All { get; } = new(0, 100);

    /// <summary>What is shown of a quantity, never below zero.</summary>
    public long Of(long pieces) => Math.Max(0, (pieces > 0 ? pieces * Share / 100 : pieces) - HoldBack);
}

/// <summary>An order with which something would have gone wrong.</summary>
/// <param name="Order">The order.</param>
/// <param name="Short">The pieces that were sold and not there; 0: it was refused though all of it was there.</param>
public readonly record struct ReplayTrouble(ReplayedOrder Order, long Short);

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

/// <summary>What would have become of orders.</summary>
/// <param name="Accepted">Orders that the store took.</param>
/// <param name="Oversold">Of these, those that were not all on the shelf.</param>
/// <param name="Short">The pieces that they lacked.</param>
/// <param name="Missed">Refused orders that were on the shelf.</param>
/// <param name="Refused">Orders of more than the store showed.</param>
public readonly record struct ReplayResult(int Accepted, int Oversold, long Short, int Missed, int Refused);
