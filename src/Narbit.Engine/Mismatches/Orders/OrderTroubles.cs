using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mismatches;
using Narbit.Data.Orders;
using Narbit.Engine.Lanes.Orders;

namespace Narbit.Engine.Mismatches.Orders;

/// <summary>
/// Orders that are held, each once for each of its causes, however many of its lines have it; and those that wait for very long.
/// </summary>
public sealed class OrderTroubles : ILaneTroubles
{
    // So long an order may wait before somebody is asked.
    private static readonly TimeSpan Patience = TimeSpan.FromDays(7);

    /// <inheritdoc/>
    public string Kind => OrderWork.Code;

    /// <inheritdoc/>
    public async Task<IEnumerable<FoundMismatch>> OfAsync(NarbitContext db, Lane lane, CancellationToken cancel)
    {
        var old = (lane.ComparedAt ?? DateTimeOffset.UnixEpoch.Add(Patience)) - Patience;
        var orders = await db
            .OrderStandings.AsNoTracking()
            .Where(o => o.LaneId == lane.Id)
            .Where(o => o.Stage == OrderStage.Held || (o.Stage == OrderStage.Waiting && o.PlacedAt < old))
            .ToListAsync(cancel);
        return orders.SelectMany(order => order.Stage == OrderStage.Held ? Held(lane, order) : [Waits(lane, order)]);
    }

    private static IEnumerable<FoundMismatch> Held(Lane lane, OrderStanding order) =>
        from kept in order.Causes.OrderBy(c => c.Position)
        let cause = kept.Cause
        select OfOrder(lane, order, $"order.{cause.Code}", cause.Words, cause.Subject) with
        {
            Hint = cause[OrderWords.Title],
        };

    private static FoundMismatch Waits(Lane lane, OrderStanding order)
    {
        var codes = string.Join(' ', order.Causes.Select(c => c.Code).Distinct());
        return OfOrder(lane, order, "order.waits", order.Words ?? "it waits", codes);
    }

    internal static FoundMismatch OfOrder(Lane lane, OrderStanding order, string cause, string words, string? subject) =>
        new()
        {
            Cause = cause,
            SystemId = lane.SourceId,
            Kind = RecordKind.Order,
            Key = order.SourceKey,
            Scope = lane.Id,
            OtherSystemId = lane.TargetId,
            OtherKey = order.HubKey,
            LaneId = lane.Id,
            Reference = order.Number ?? order.SourceKey,
            Caption = order.Buyer,
            Words = words,
            Subject = subject,
            Worth = order.Total,
            Currency = order.Currency,
            Since = order.PlacedAt == default ? null : order.PlacedAt,
        };
}
