using System.Globalization;
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
        var sold = await db
            .OrderStandings.AsNoTracking()
            .Where(o => o.HubKey == null && o.Goods != "" && db.Lanes.Any(l => l.Id == o.LaneId && l.TargetId == hubId && !l.Off))
            .Select(o => o.Goods)
            .ToListAsync(cancel);
        var pieces = new Dictionary<string, decimal>(StringComparer.Ordinal);
        foreach (var (item, count) in sold.SelectMany(Pieces))
            pieces[item] = pieces.GetValueOrDefault(item) + count;

        return pieces;
    }

    /// <summary>The hub's items among the goods of an order, as its standing keeps them, with their pieces.</summary>
    public static IEnumerable<(string Item, decimal Pieces)> Pieces(string goods) =>
        goods
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(g => (g[..g.LastIndexOf('×')], decimal.Parse(g.AsSpan(g.LastIndexOf('×') + 1), CultureInfo.InvariantCulture)));

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
