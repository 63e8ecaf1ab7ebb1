using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Orders;
using Narbit.Web.Api;

namespace Narbit.Web.Orders;

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

    /// <summary>Worth at least so much.</summary>
    public decimal? Least { get; init; }

    /// <summary>Worth at most so much.</summary>
    public decimal? Most { get; init; }

    /// <summary>The orders that fit, wherever they stand.</summary>
    public IQueryable<OrderStanding> But(IQueryable<OrderStanding> orders)
    {
        if (Lane is { } lane)
            orders = orders.Where(o => o.LaneId == lane);
        if (From is { } from)
            orders = orders.Where(o => o.PlacedAt >= from);
        if (Until is { } until)
            orders = orders.Where(o => o.PlacedAt < until);
        if (Least is { } least)
            orders = orders.Where(o => o.Total >= least);
        if (Most is { } most)
            orders = orders.Where(o => o.Total <= most);
        return string.IsNullOrWhiteSpace(Search) ? orders : Found(orders, Search.Trim());
    }

    /// <summary>The orders that fit.</summary>
    public IQueryable<OrderStanding> Of(IQueryable<OrderStanding> orders) => Within(But(orders));

    /// <summary>Of orders that fit wherever they stand, those that stand where it says.</summary>
    public IQueryable<OrderStanding> Within(IQueryable<OrderStanding> orders)
    {
        orders = At(orders);
        if (Cause is not { } cause)
            return orders;
        var word = $" {cause} ";
        return orders.Where(o => o.Causes.Contains(word));
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

    private static IQueryable<OrderStanding> Found(IQueryable<OrderStanding> orders, string search)
    {
        var (like, begins) = (Window.Like(search), $"{Window.Escaped(search)}%");
        return orders.Where(o =>
            EF.Functions.Like(o.Number!, begins, "\\")
            || EF.Functions.Like(o.Buyer!, like, "\\")
            || EF.Functions.Like(o.Email!, begins, "\\")
            || EF.Functions.Like(o.Skus, like, "\\")
            || o.HubKey == search
            || o.SourceKey == search
        );
    }
}
