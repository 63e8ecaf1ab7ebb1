using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Which orders are looked at: all of these must hold.</summary>
public sealed record OrderFilter
{
    /// <summary>Orders of this lane.</summary>
    public string? Lane { get; init; }

    /// <summary>
    /// Where they stand: a stage, or <c>refunded</c> for those of which something was given back, <c>defaultItem</c> for those in which the
    /// rule's own item stands in.
    /// </summary>
    public string? Stage { get; init; }

    /// <summary>A cause that they have.</summary>
    public string? Cause { get; init; }

    /// <summary>A number, a buyer, a mail address, a SKU, a document of the hub, or the beginning of one.</summary>
    public string? Search { get; init; }

    /// <summary>Placed then or later.</summary>
    public DateTimeOffset? From { get; init; }

    /// <summary>Placed before then.</summary>
    public DateTimeOffset? Until { get; init; }

    /// <summary>Worth at least so much of <see cref="Currency"/>.</summary>
    public decimal? Least { get; init; }

    /// <summary>Worth at most so much of <see cref="Currency"/>.</summary>
    public decimal? Most { get; init; }

    /// <summary>The currency of both amounts, ISO 4217; they mean nothing without one. Orders in another do not fit.</summary>
    public string? Currency { get; init; }

    /// <summary>The orders that fit, wherever they stand.</summary>
    internal IQueryable<OrderStanding> But(NarbitContext db)
    {
        IQueryable<OrderStanding> orders = db.OrderStandings.AsNoTracking();
        if (Lane is { } lane)
            orders = orders.Where(o => o.LaneId == lane);
        if (From is { } from)
            orders = orders.Where(o => o.PlacedAt >= from);
        if (Until is { } until)
            orders = orders.Where(o => o.PlacedAt < until);
        if (Currency is { Length: > 0 } currency)
            orders = orders.Where(o => o.Currency == currency);
        if (Least is { } least)
            orders = orders.Where(o => o.Total >= least);
        if (Most is { } most)
            orders = orders.Where(o => o.Total <= most);
        return string.IsNullOrWhiteSpace(Search) ? orders : Found(db, orders, Search.Trim());
    }

    /// <summary>The orders that fit.</summary>
    internal IQueryable<OrderStanding> Of(NarbitContext db) => Within(But(db));

    /// <summary>Of orders that fit wherever they stand, those that stand where it says.</summary>
    internal IQueryable<OrderStanding> Within(IQueryable<OrderStanding> orders)
    {
        orders = At(orders);
        return Cause is { } cause ? orders.Where(o => o.Causes.Any(c => c.Code == cause)) : orders;
    }

    private IQueryable<OrderStanding> At(IQueryable<OrderStanding> orders) =>
        Stage switch
        {
            null => orders,
            "refunded" => orders.Where(o => o.Refunded > 0),
            "defaultItem" => orders.Where(o => o.UsesDefaultItem),
            var stage => Enum.TryParse<OrderStage>(stage, ignoreCase: true, out var wanted)
                ? orders.Where(o => o.Stage == wanted)
                : orders.Where(o => false),
        };

    private static IQueryable<OrderStanding> Found(NarbitContext db, IQueryable<OrderStanding> orders, string search)
    {
        var (like, begins) = (Window.Like(search), $"{Window.Escaped(search)}%");
        var sold = db.OrderSkus.Where(s => EF.Functions.Like(s.Sku, begins, "\\")).Select(s => s.StandingId);
        return orders.Where(o =>
            EF.Functions.Like(o.Number!, begins, "\\")
            || EF.Functions.Like(o.Buyer!, like, "\\")
            || EF.Functions.Like(o.Email!, begins, "\\")
            || sold.Contains(o.Id)
            || o.HubKey == search
            || o.SourceKey == search
        );
    }
}
