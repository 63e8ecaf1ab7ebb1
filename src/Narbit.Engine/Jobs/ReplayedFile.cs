using Narbit.Core.Timetables;

namespace Narbit.Engine.Jobs;

/// <summary>Orders and deliveries of a file, on which a timetable is tried.</summary>
/// <param name="From">When it begins.</param>
/// <param name="Stock">Pieces at first, by SKU.</param>
/// <param name="Orders">The orders.</param>
/// <param name="Deliveries">The deliveries.</param>
public sealed record ReplayedFile(
    DateTimeOffset From,
    IReadOnlyDictionary<string, long> Stock,
    IReadOnlyList<ReplayedOrder> Orders,
    IReadOnlyList<ReplayedDelivery> Deliveries
);
