using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Stock;

/// <summary>What the hub has of its items.</summary>
internal static class HubStock
{
    /// <summary>Whether the hub's description says what is on hand.</summary>
    public static bool IsKnown(Connection hub) => Levels(hub)?.Find(FieldRole.OnHand) is not null;

    /// <summary>What is on hand and not allocated of some items, over all locations; never below zero.</summary>
    public static async Task<IReadOnlyDictionary<string, decimal>> LeftAsync(
        NarbitContext db,
        Connection hub,
        IReadOnlyCollection<string> items,
        CancellationToken cancel
    )
    {
        var (id, levels) = (hub.System.Id, Levels(hub)!);
        var (onHand, allocated) = (Path(levels, FieldRole.OnHand), Path(levels, FieldRole.Allocated));
        return await db
            .Records.Where(r => r.SystemId == id && r.Kind == RecordKind.StockLevel && r.GoneAt == null && items.Contains(r.Parent!))
            .GroupBy(r => r.Parent!)
            .Select(g => new
            {
                g.Key,
                Pieces = g.Sum(r => (NarbitContext.Number(r.Values, onHand) ?? 0) - (NarbitContext.Number(r.Values, allocated) ?? 0)),
            })
            .ToDictionaryAsync(l => l.Key, l => Math.Max(0, (decimal)l.Pieces), StringComparer.Ordinal, cancel);
    }

    /// <summary>Where a field stands in the values of a record.</summary>
    public static string Path(FieldSet fields, FieldRole role) => $"$.\"{fields.Find(role)?.Name}\"";

    private static FieldSet? Levels(Connection hub) => hub.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.StockLevel)?.Fields;
}
