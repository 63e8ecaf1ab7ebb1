using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Looks at single orders, and keeps what people decide about them.</summary>
/// <param name="database">Where orders are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class OrderDesk(Database database, AdapterSource adapters, TimeProvider clock)
{
    /// <summary>An order of a lane, by what is in force and decided now.</summary>
    public async Task<Outcome<OrderLook>> LookAsync(string laneId, string orderKey, CancellationToken cancel)
    {
        var opened = await OpenAsync(laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var (lane, computation) = opened.Value;
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [lane.Document], new HashSet<string> { orderKey }, cancel))
            return Look(lane, computation.Judge(((OrderPair)pair).Place));
        return new Reason("order.unknown", $"{lane.Source.System.Name} has no order {orderKey}, or not any more.");
    }

    /// <summary>An order of a lane as a person looks at it.</summary>
    public async Task<Outcome<OrderView>> ShowAsync(string laneId, string orderKey, CancellationToken cancel)
    {
        var look = await LookAsync(laneId, orderKey, cancel);
        if (look.Fault is { } fault)
            return fault;
        await using var db = database.CreateDbContext();
        return await new OrderSight(db, look.Value).ViewAsync(cancel);
    }

    private static OrderLook Look(OpenLane lane, JudgedOrder judged)
    {
        var look = new OrderLook(lane, judged);
        if (judged.Posted is not { } posted)
            return look;
        look = look with { Trace = posted.Trace };
        if (posted is { Changed.Count: 0, IsWantedAnew: false })
            return look;
        return look with { After = new ChangedAfterPosting(posted.Changed, posted.Subject, posted.Held, ChoicesOf(posted.Changed)) };
    }

    // What every changed part lets be chosen.
    private static IReadOnlyList<AfterPosting> ChoicesOf(IReadOnlyList<OrderPart> changed) =>
        changed.Count == 0
            ? []
            :
            [
                .. Enum.GetValues<AfterPosting>()
                    .Where(c => c != AfterPosting.Hold && changed.All(part => AfterPostingRule.ChoicesOf(part).Contains(c))),
            ];

    /// <summary>Keeps a decision, and looks anew at the orders that it is about.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="orderKey">The order; null: all of the lane's.</param>
    /// <param name="choice">What was decided.</param>
    /// <param name="by">Who decided.</param>
    /// <param name="cancel">Gives up before it is kept.</param>
    /// <param name="act">The act of the mismatch desk that it is a part of; null: none.</param>
    /// <returns>How many orders stand otherwise than before.</returns>
    public async Task<Outcome<int>> DecideAsync(
        string laneId,
        string? orderKey,
        OrderChoice choice,
        string by,
        CancellationToken cancel,
        long? act = null
    )
    {
        if (await FaultAsync(laneId, choice, cancel) is { } fault)
            return fault;
        await using (var db = database.CreateDbContext())
        {
            db.OrderDecisions.Add(
                new OrderDecision
                {
                    LaneId = laneId,
                    OrderKey = orderKey,
                    Kind = choice.Kind,
                    Subject = choice.Subject,
                    Value = choice.Value,
                    By = by,
                    At = clock.GetUtcNow(),
                    DeskActId = act,
                }
            );
            await db.SaveChangesAsync(cancel);
        }

        return await LookAnewAsync(laneId, orderKey, cancel);
    }

    /// <summary>Takes a decision back.</summary>
    public async Task<Outcome<int>> UndoAsync(string laneId, long decisionId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var now = clock.GetUtcNow();
        var decision = await db.OrderDecisions.FirstOrDefaultAsync(d => d.Id == decisionId && d.LaneId == laneId, cancel);
        if (decision is not { UndoneAt: null })
            return new Reason("decision.unknown", "There is no such decision, or it was taken back already.");
        decision.UndoneAt = now;
        await db.SaveChangesAsync(cancel);
        return await LookAnewAsync(laneId, decision.OrderKey, cancel);
    }

    /// <summary>Looks anew at an order of a lane, or at all of them.</summary>
    /// <returns>How many stand otherwise than before.</returns>
    internal async Task<Outcome<int>> LookAnewAsync(string laneId, string? orderKey, CancellationToken cancel)
    {
        var opened = await OpenAsync(laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var (lane, computation) = opened.Value;
        var only = orderKey is null ? null : new HashSet<string> { orderKey };
        var now = clock.GetUtcNow();
        var ledger = new OrderLedger(lane, now);
        await foreach (var pair in lane.Work.Reading.PairsAsync(lane, database, [lane.Document], only, cancel))
            ledger.Note(pair, computation.Compute(pair));
        return await ledger.StoreAsync(database, cancel);
    }

    private async Task<Outcome<(OpenLane Lane, OrderLaneComputation Computation)>> OpenAsync(string laneId, CancellationToken cancel)
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        if (opened.Value.Work is not OrderWork)
            return new Reason("lane.noOrders", "This lane is not about orders.");
        var computation = await opened.Value.ComputationAsync(database, clock.GetUtcNow(), cancel);
        return computation.Fault is { } broken ? broken : (opened.Value, (OrderLaneComputation)computation.Value);
    }

    // What is named must be there, or the order would fail at the hub.
    private async Task<Reason?> FaultAsync(string laneId, OrderChoice choice, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == laneId, cancel) is not { } lane)
            return new Reason("lane.unknown", $"There is no lane “{laneId}”.");
        return choice.Kind switch
        {
            OrderChoiceKind.Item => await ThereAsync(db, lane, RecordKind.Item, choice.Value, "item", cancel),
            OrderChoiceKind.Customer => await ThereAsync(db, lane, RecordKind.Customer, choice.Value, "customer", cancel),
            OrderChoiceKind.SameCustomer when choice.Subject == choice.Value => new Reason(
                "choice.itself",
                "A customer is the same as itself; name another one."
            ),
            OrderChoiceKind.SameCustomer => await ThereAsync(db, lane, RecordKind.Customer, choice.Value, "customer", cancel),
            OrderChoiceKind.AfterPosting when !Enum.TryParse<AfterPosting>(choice.Value, ignoreCase: true, out _) => new Reason(
                "choice.unknown",
                "Say what becomes of the document."
            ),
            OrderChoiceKind.TaxRate when !decimal.TryParse(choice.Value, out var rate) || rate is < 0 or > 100 => new Reason(
                "choice.rate",
                "A tax rate is a number from 0 to 100."
            ),
            OrderChoiceKind.PaymentMethod or OrderChoiceKind.ShippingMethod when string.IsNullOrWhiteSpace(choice.Value) => new Reason(
                "choice.empty",
                "Say what the hub calls it."
            ),
            _ => null,
        };
    }

    /// <summary>Why a record of the hub cannot be named; null: it is there.</summary>
    internal static async Task<Reason?> ThereAsync(
        NarbitContext db,
        Lane lane,
        RecordKind kind,
        string? key,
        string what,
        CancellationToken cancel
    ) =>
        await db.Records.AnyAsync(r => r.SystemId == lane.TargetId && r.Kind == kind && r.Key == key && r.GoneAt == null, cancel)
            ? null
            : new Reason("choice.notThere", $"The hub has no {what} {key}.");
}
