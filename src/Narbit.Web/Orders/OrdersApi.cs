using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Data;
using Narbit.Data.Orders;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Orders;

/// <summary>An order in a list.</summary>
public sealed record OrderRow
{
    public required string Lane { get; init; }

    public required string Key { get; init; }

    public string? Number { get; init; }

    public required SystemTag Store { get; init; }

    public DateTimeOffset PlacedAt { get; init; }

    public string? Buyer { get; init; }

    public decimal Total { get; init; }

    public string? Currency { get; init; }

    public OrderStage Stage { get; init; }

    /// <summary>Why it is held or waits, in words.</summary>
    public string? Words { get; init; }

    public string? HubKey { get; init; }

    public decimal Refunded { get; init; }

    public bool UsesDefaultItem { get; init; }
}

/// <summary>How many orders stand somewhere, and the money in them.</summary>
/// <param name="Stage">Where, see <see cref="OrderFilter.Stage"/>.</param>
/// <param name="Count">How many.</param>
/// <param name="Worth">Their totals, gross, by currency.</param>
public sealed record StageSum(string Stage, int Count, IReadOnlyList<Amount> Worth);

/// <summary>A cause and how many orders have it.</summary>
public sealed record CauseSum(string Cause, string Words, int Count);

/// <summary>A list of orders with what each filter would show.</summary>
public sealed record OrderList(
    int Total,
    int Offset,
    IReadOnlyList<OrderRow> Rows,
    IReadOnlyList<StageSum> Stages,
    IReadOnlyList<CauseSum> Causes
);

/// <summary>All orders, wherever they stand.</summary>
public static class OrdersApi
{
    private const int MostExported = 100_000;
    private const int MostMet = 5_000;

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/orders", ListAsync).WithName("listOrders").WithTags("Orders");
        api.MapGet("/orders.{form:regex(^(csv|xlsx)$)}", ExportAsync).WithName("exportOrders").WithTags("Orders");
    }

    private static async Task<Ok<OrderList>> ListAsync(
        [AsParameters] OrderFilter filter,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var all = await MetAsync(db, filter, cancel);
        var found = filter.Within(all);
        var rows = await found
            .OrderByDescending(o => o.PlacedAt)
            .ThenByDescending(o => o.Id)
            .Skip(window.From)
            .Take(window.Size)
            .ToListAsync(cancel);
        var stores = await StoresAsync(db, cancel);
        var stages = await StagesAsync(all, cancel);
        return TypedResults.Ok(
            new OrderList(
                await CountAsync(filter, found, stages, cancel),
                window.From,
                [.. rows.Where(o => stores.ContainsKey(o.LaneId)).Select(o => Row(o, stores[o.LaneId]))],
                stages,
                await CausesAsync(all, cancel)
            )
        );
    }

    private static async Task<FileContentHttpResult> ExportAsync(
        string form,
        [AsParameters] OrderFilter filter,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var stores = await StoresAsync(db, cancel);
        var rows = await filter
            .Of(db.OrderStandings.AsNoTracking())
            .OrderByDescending(o => o.PlacedAt)
            .Take(MostExported)
            .ToListAsync(cancel);
        string[] columns = ["number", "store", "placed", "buyer", "email", "total", "currency", "stage", "why", "hub_document", "refunded"];
        return Sheets.File(
            form,
            "orders",
            columns,
            rows.Select(o =>
                (IReadOnlyList<string?>)
                    [
                        o.Number,
                        stores.GetValueOrDefault(o.LaneId)?.Name,
                        o.PlacedAt.ToString("O", CultureInfo.InvariantCulture),
                        o.Buyer,
                        o.Email,
                        Core.Numbers.Plain(o.Total),
                        o.Currency,
                        o.Stage.ToString().ToLowerInvariant(),
                        o.Words,
                        o.HubKey,
                        Core.Numbers.Plain(o.Refunded),
                    ]
            )
        );
    }

    private static OrderRow Row(OrderStanding order, SystemTag store) =>
        new()
        {
            Lane = order.LaneId,
            Key = order.SourceKey,
            Number = order.Number,
            Store = store,
            PlacedAt = order.PlacedAt,
            Buyer = order.Buyer,
            Total = order.Total,
            Currency = order.Currency,
            Stage = order.Stage,
            Words = order.Words,
            HubKey = order.HubKey,
            Refunded = order.Refunded,
            UsesDefaultItem = order.UsesDefaultItem,
        };

    private static async Task<Dictionary<string, SystemTag>> StoresAsync(NarbitContext db, CancellationToken cancel)
    {
        var stores = await (
            from l in db.Lanes.IgnoreQueryFilters()
            join s in db.Systems on l.SourceId equals s.Id
            where l.Kind == "order"
            select new { l.Id, System = s }
        )
            .AsNoTracking()
            .ToListAsync(cancel);
        return stores.ToDictionary(s => s.Id, s => LaneViews.Tag(s.System), StringComparer.Ordinal);
    }

    private static async Task<IReadOnlyList<StageSum>> StagesAsync(IQueryable<OrderStanding> orders, CancellationToken cancel)
    {
        // One pass for all of them: there may be hundreds of thousands.
        var stages = await orders
            .GroupBy(o => new { o.Stage, o.Currency })
            .Select(g => new
            {
                g.Key.Stage,
                Currency = g.Key.Currency ?? "",
                Count = g.Count(),
                Amount = g.Sum(o => o.Total),
                Refunded = g.Count(o => o.Refunded > 0),
                GivenBack = g.Sum(o => o.Refunded),
                StandIns = g.Count(o => o.UsesDefaultItem),
                InStandIns = g.Sum(o => o.UsesDefaultItem ? o.Total : 0),
            })
            .ToListAsync(cancel);
        var byStage = stages.ToLookup(s => s.Stage);
        return
        [
            .. Enum.GetValues<OrderStage>()
                .Select(stage => new StageSum(
                    Name(stage),
                    byStage[stage].Sum(s => s.Count),
                    Amount.SumsOf(byStage[stage].Select(s => new Amount(s.Currency, s.Amount)))
                )),
            new StageSum("refunded", stages.Sum(s => s.Refunded), Given(stages.Select(s => new Amount(s.Currency, s.GivenBack)))),
            new StageSum("defaultItem", stages.Sum(s => s.StandIns), Given(stages.Select(s => new Amount(s.Currency, s.InStandIns)))),
        ];

        static IReadOnlyList<Amount> Given(IEnumerable<Amount> amounts) => Amount.SumsOf(amounts.Where(a => a.Sum != 0));
    }

    // What a search meets is looked for once, and not again for every number beside the list.
    private static async Task<IQueryable<OrderStanding>> MetAsync(NarbitContext db, OrderFilter filter, CancellationToken cancel)
    {
        var orders = db.OrderStandings.AsNoTracking();
        var met = filter.But(orders);
        if (string.IsNullOrWhiteSpace(filter.Search))
            return met;
        var ids = await met.Select(o => o.Id).Take(MostMet + 1).ToListAsync(cancel);
        return ids.Count > MostMet ? met : orders.Where(o => ids.Contains(o.Id));
    }

    private static async Task<int> CountAsync(
        OrderFilter filter,
        IQueryable<OrderStanding> found,
        IReadOnlyList<StageSum> stages,
        CancellationToken cancel
    )
    {
        if (filter.Cause is not null)
            return await found.CountAsync(cancel);
        return filter.Stage is { } stage
            ? stages.FirstOrDefault(s => string.Equals(s.Stage, stage, StringComparison.OrdinalIgnoreCase))?.Count ?? 0
            : stages.Take(Enum.GetValues<OrderStage>().Length).Sum(s => s.Count);
    }

    private static string Name(OrderStage stage) => System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(stage.ToString());

    // Only what is held or waits has causes that are worth a way to them, and that is little of all.
    private static async Task<IReadOnlyList<CauseSum>> CausesAsync(IQueryable<OrderStanding> orders, CancellationToken cancel)
    {
        var causes = await orders
            .Where(o => (o.Stage == OrderStage.Held || o.Stage == OrderStage.Waiting) && o.Causes != "")
            .GroupBy(o => o.Causes)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        return
        [
            .. causes
                .SelectMany(c => c.Key.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(code => (code, c.Count)))
                .GroupBy(c => c.code, StringComparer.Ordinal)
                .Select(g => new CauseSum(g.Key, OrderWords.Heading(g.Key), g.Sum(c => c.Count)))
                .OrderByDescending(c => c.Count),
        ];
    }
}
