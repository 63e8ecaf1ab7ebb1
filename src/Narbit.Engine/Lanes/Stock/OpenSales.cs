using Microsoft.EntityFrameworkCore;
using Narbit.Core.Stock;
using Narbit.Data;

namespace Narbit.Engine.Lanes.Stock;

/// <summary>
/// What was sold and has not reached the hub yet: orders that are new, wait or are held, and receipts of the till that are not closed. It
/// is promised, though the hub does not know of it.
/// </summary>
internal static class OpenSales
{
    /// <summary>Stands for the place of such a promise among the levels of an item.</summary>
    public const string Place = "@open";

    /// <summary>The pieces by the hub's item.</summary>
    public static async Task<IReadOnlyDictionary<string, decimal>> OfAsync(string hubId, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var sold =
            from o in db.OrderStandings.AsNoTracking()
            join g in db.OrderGoods on o.Id equals g.StandingId
            where o.HubKey == null && db.Lanes.Any(l => l.Id == o.LaneId && l.TargetId == hubId && !l.Off)
            group g.Pieces by g.Item into pieces
            select new { pieces.Key, Pieces = pieces.Sum() };
        return await sold.ToDictionaryAsync(s => s.Key, s => (decimal)s.Pieces, StringComparer.Ordinal, cancel);
    }

    /// <summary>The same as levels of a place of their own.</summary>
    public static async Task<IReadOnlyDictionary<string, StockLevel>> LevelsAsync(
        string hubId,
        Database database,
        CancellationToken cancel
    ) =>
        (await OfAsync(hubId, database, cancel)).ToDictionary(
            s => s.Key,
            s => new StockLevel(Place, Allocated: s.Value),
            StringComparer.Ordinal
        );

    /// <summary>An item's levels as a rule counts them: what is sold already stands at the rule's own place, or is left out.</summary>
    public static IReadOnlyList<StockLevel> Counted(IReadOnlyList<StockLevel> levels, StockDocument document)
    {
        if (levels.All(l => l.Location != Place))
            return levels;
        var rule = document.Rule;
        var place = rule.Locations.Count > 0 ? rule.Locations[0] : "sold, not yet at the hub";
        return
        [
            .. levels
                .Where(l => document.CountsOpenSales || l.Location != Place)
                .Select(l =>
                    l.Location != Place ? l
                    : rule.Basis == StockBasis.OnHand ? new StockLevel(place, OnHand: -l.Allocated)
                    : l with { Location = place }
                ),
        ];
    }
}
