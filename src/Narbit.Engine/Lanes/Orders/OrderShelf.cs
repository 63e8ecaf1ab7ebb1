using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Data;
using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>All orders, wherever they stand, as they are looked through.</summary>
/// <param name="database">Where they are.</param>
public sealed class OrderShelf(Database database)
{
    private const int MostExported = 100_000;
    private const int MostMet = 5_000;

    /// <summary>The columns of a table of orders.</summary>
    public static IReadOnlyList<string> Columns { get; } =
    ["number", "store", "placed", "buyer", "email", "total", "currency", "stage", "why", "hub_document", "refunded"];

    /// <summary>A piece of the list, with what each filter would show.</summary>
    public async Task<OrderList> ListAsync(OrderFilter filter, Window window, CancellationToken cancel)
    {
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
        return new OrderList(
            await CountAsync(filter, found, stages, cancel),
            window.From,
            [.. rows.Where(o => stores.ContainsKey(o.LaneId)).Select(o => Row(o, stores[o.LaneId]))],
            stages,
            await CausesAsync(all, cancel)
        );
    }

    /// <summary>The rows of a table of those that fit, by <see cref="Columns"/>.</summary>
    public async Task<IReadOnlyList<IReadOnlyList<string?>>> TableAsync(OrderFilter filter, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var stores = await StoresAsync(db, cancel);
        var rows = await filter.Of(db).OrderByDescending(o => o.PlacedAt).Take(MostExported).AsSplitQuery().ToListAsync(cancel);
        return
        [
            .. rows.Select(o =>
                (IReadOnlyList<string?>)
                    [
                        o.Number,
                        stores.GetValueOrDefault(o.LaneId)?.Name,
                        o.PlacedAt.ToString("O", CultureInfo.InvariantCulture),
                        o.Buyer,
                        o.Email,
                        Numbers.Plain(o.Total),
                        o.Currency,
                        o.Stage.ToString().ToLowerInvariant(),
                        o.Words,
                        o.HubKey,
                        Numbers.Plain(o.Refunded),
                    ]
            ),
        ];
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
            where l.Kind == OrderWork.Code
            select new { l.Id, System = s }
        )
            .AsNoTracking()
            .ToListAsync(cancel);
        return stores.ToDictionary(s => s.Id, s => SystemTag.Of(s.System), StringComparer.Ordinal);
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
        var met = filter.But(db);
        if (string.IsNullOrWhiteSpace(filter.Search))
            return met;
        var ids = await met.Select(o => o.Id).Take(MostMet + 1).ToListAsync(cancel);
        return ids.Count > MostMet ? met : db.OrderStandings.AsNoTracking().Where(o => ids.Contains(o.Id));
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
            .Where(o => o.Stage == OrderStage.Held || o.Stage == OrderStage.Waiting)
            .SelectMany(o => o.Causes.Select(c => new { c.StandingId, c.Code }))
            .Distinct()
            .GroupBy(c => c.Code)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancel);
        return [.. causes.Select(c => new CauseSum(c.Key, OrderWords.Heading(c.Key), c.Count)).OrderByDescending(c => c.Count)];
    }
}
