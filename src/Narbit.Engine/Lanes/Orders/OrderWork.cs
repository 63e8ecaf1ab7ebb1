using System.Text.Json.Serialization.Metadata;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Orders of a store to the hub by an order rule, and back what the store should hear.</summary>
public sealed class OrderWork : LaneWork
{
    /// <summary>The kind's code.</summary>
    public const string Code = "order";

    /// <inheritdoc/>
    public override string Kind => Code;

    /// <inheritdoc/>
    public override int PlaceInJob => 1;

    /// <inheritdoc/>
    public override StockPart StockPart => StockPart.TakesSales;

    /// <inheritdoc/>
    public override string Label => "Orders";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("order", "orders");

    /// <inheritdoc/>
    public override IReadOnlyList<LaneStep> Steps { get; } =
    [
        LaneStep.Scope,
        new("rule", "Order rule"),
        new("map", "Further fields", IsOptional: true),
        new("crosswalks", "Crosswalks", IsOptional: true),
        LaneStep.Guards,
        LaneStep.Preview,
        LaneStep.Timetable,
        LaneStep.Runs,
        LaneStep.Versions,
    ];

    /// <inheritdoc/>
    public override IReadOnlyList<WatchedLimit> Limits { get; } =
    [
        new("heldShare", "More of the orders wait or are held than", "%"),
        new("orderOver", "An order is worth more than", WatchedLimit.Money),
        new("postedAtOnce", "More orders are posted at once than", "orders"),
        WatchedLimit.FailingTimes,
    ];

    /// <inheritdoc/>
    public override GuardLimits UsualGuards { get; } =
        new()
        {
            HeldShare = 25,
            OrderOver = 10_000,
            PostedAtOnce = 500,
        };

    /// <inheritdoc/>
    public override string ReferenceLabel => "Number";

    /// <inheritdoc/>
    public override string CaptionLabel => "Buyer";

    /// <inheritdoc/>
    public override RecordKind Record => RecordKind.Order;

    /// <inheritdoc/>
    public override RecordKind PairedKind => RecordKind.Item;

    /// <inheritdoc/>
    public override string NameOf(string source, string target) => $"Orders from {source}";

    /// <inheritdoc/>
    public override LaneReading Reading => field ??= new OrderLaneReading(this);

    /// <inheritdoc/>
    public override LaneComputing Computing => field ??= new OrderLaneComputing(this);

    /// <inheritdoc/>
    public override LaneWriting Writing => field ??= new OrderLaneWriting(this);
}

/// <summary>What such a lane reads, and what concerns it.</summary>
internal sealed class OrderLaneReading(LaneWork work) : LaneReading(work)
{
    /// <inheritdoc/>
    public override IReadOnlyList<LaneRead> Reads(OpenLane lane) =>
        [
            new(lane.Source.System.Id, RecordKind.Item),
            new(lane.Target.System.Id, RecordKind.Item),
            .. Offers(lane.Target, RecordKind.Customer),
            .. Offers(lane.Target, RecordKind.CreditNote),
            .. Offers(lane.Target, RecordKind.Payment),
            new(lane.Target.System.Id, RecordKind.Order),
            new(lane.Source.System.Id, RecordKind.Order),
        ];

    /// <inheritdoc/>
    public override IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    ) => OrderPairs.ReadAsync(lane, database, only, cancel);

    /// <inheritdoc/>
    public override async Task<IReadOnlyCollection<string>> ConcernedAsync(
        NarbitContext db,
        Lane lane,
        TurnScope scope,
        CancellationToken cancel
    )
    {
        var documents = scope.Of(lane.TargetId, RecordKind.Order);
        var posted = await db
            .Counterparts.Where(c =>
                c.SourceId == lane.SourceId && c.TargetId == lane.TargetId && c.Kind == RecordKind.Order && documents.Contains(c.TargetKey)
            )
            .Select(c => c.SourceKey)
            .ToListAsync(cancel);
        return [.. scope.Of(lane.SourceId, RecordKind.Order).Union(posted, StringComparer.Ordinal)];
    }

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<RecordsTouched>> TouchedByAsync(NarbitContext db, Lane lane, Run run, CancellationToken cancel)
    {
        var touched = await base.TouchedByAsync(db, lane, run, cancel);
        var orders =
            JsonText.ReadNames(run.Only)
            ?? await db
                .Writes.Where(w => w.RunId == run.Id && w.State == WriteState.Confirmed && w.Record == RecordKind.Order)
                .Select(w => w.SourceKey)
                .Distinct()
                .ToListAsync(cancel);
        // What is sold is promised, wherever the order stands, so the items in it may be others' news.
        var items = await db
            .OrderGoods.Where(g => db.OrderStandings.Any(o => o.Id == g.StandingId && o.LaneId == lane.Id && orders.Contains(o.SourceKey)))
            .Select(g => g.Item)
            .Distinct()
            .ToListAsync(cancel);
        return items.Count == 0 ? touched : [.. touched, new RecordsTouched(lane.TargetId, RecordKind.Item, items)];
    }

    private static IEnumerable<LaneRead> Offers(Systems.Connection connection, RecordKind kind) =>
        connection.Adapter.Kinds.Any(k => k.Kind == kind) ? [new LaneRead(connection.System.Id, kind)] : [];
}

/// <summary>How such a lane computes.</summary>
internal sealed class OrderLaneComputing(LaneWork work) : LaneComputing<OrderPolicy>(work)
{
    // What the rule itself writes of a document.
    private static readonly HashSet<FieldRole> Written =
    [
        FieldRole.ExternalNumber,
        FieldRole.Customer,
        FieldRole.DocumentKind,
        FieldRole.PlacedAt,
        FieldRole.Currency,
        FieldRole.Method,
        FieldRole.Email,
        FieldRole.Phone,
    ];

    /// <inheritdoc/>
    public override LaneDocument Blank(LaneSides sides) =>
        new OrderPolicy(new OrderRule { CutOff = DateTimeOffset.UnixEpoch, OtherState = OrderOutcome.Hold });

    /// <inheritdoc/>
    public override LaneDocument Begin(LaneDocument blank, DateTimeOffset now) =>
        blank is OrderPolicy policy ? policy with { Rule = policy.Rule with { CutOff = now } } : blank;

    /// <inheritdoc/>
    public override Reason? Unfit(LaneSides sides) =>
        Lacks(sides.Source, ListRole.Lines) ? Without(sides.SourceName, "lines")
        : sides.Source.Find(FieldRole.Total) is null ? Without(sides.SourceName, "a total")
        : sides.Source.Find(FieldRole.PlacedAt) is null ? Without(sides.SourceName, "when an order was placed")
        : Lacks(sides.Target, ListRole.Lines) ? Without(sides.TargetName, "lines")
        : sides.Target.Find(FieldRole.ExternalNumber) is null ? Without(sides.TargetName, "an external number")
        : !sides.Creates ? new Reason("lane.noCreate", $"{sides.TargetName} does not say how documents are created.")
        : null;

    /// <inheritdoc/>
    public override bool IsMapped(FieldDescription field) => field.Writable && !Written.Contains(field.Role);

    /// <inheritdoc/>
    public override JsonDerivedType Trial => new(typeof(OrderTrial), "orders");

    /// <inheritdoc/>
    public override IEnumerable<FieldUse> Uses(LaneDocument document, LaneSides sides) => MapUses.Of(document, Work.Record);

    /// <inheritdoc/>
    protected override IReadOnlyList<RuleFault> Check(OrderPolicy document, LaneSides sides, IReadOnlyCollection<string> locations)
    {
        ReadyMap.Make(document.Map, sides.Map, out var faults);
        var taken = document
            .Map.Fields.Select((mapping, i) => (Field: sides.Target.Named(mapping.Target), At: $"fields[{i}].target"))
            .Where(f => f.Field is not null && !IsMapped(f.Field))
            .Select(f => new RuleFault(f.At, Severity.Refuse, $"{f.Field!.Label} comes from the order by the rule"));
        return [.. OrderRuleCheck.Check(document.Rule), .. document.After.Check(), .. faults, .. taken];
    }

    /// <inheritdoc/>
    protected override Outcome<LaneComputation> Computation(OrderPolicy document, LaneSides sides, DateTimeOffset at)
    {
        if (document.Map.Fields.Count == 0)
            return new OrderLaneComputation(document, sides);
        return ReadyMap.Make(document.Map, sides.Map, out var faults) is { } ready
            ? new OrderLaneComputation(document, sides, ready)
            : MapUses.Broken(faults);
    }

    /// <inheritdoc/>
    protected override TrialTally Tally(OpenLane lane, OrderPolicy trial, GuardLimits guards, string? focus) => new OrderTally(lane, trial);

    private static bool Lacks(FieldSet fields, ListRole role) => fields.Children.All(c => c.Role != role);

    private static Reason Without(string system, string what) =>
        new("lane.noField", $"{system} describes no {what} of its orders. Amend its description.");
}

/// <summary>What such a lane writes.</summary>
internal sealed class OrderLaneWriting(LaneWork work) : LaneWriting(work)
{
    /// <inheritdoc/>
    public override IReadOnlyList<RecordKind> Writes { get; } =
    [RecordKind.Customer, RecordKind.Order, RecordKind.Payment, RecordKind.CreditNote];

    /// <inheritdoc/>
    public override IReadOnlyList<RecordKind> GoAlong { get; } = [RecordKind.Customer];

    /// <inheritdoc/>
    public override bool GoesByPairs => false;

    /// <inheritdoc/>
    public override bool TellsSource => true;

    /// <inheritdoc/>
    public override RecordKind Referenced(FieldRole role) => role == FieldRole.Customer ? RecordKind.Customer : RecordKind.Order;

    // What an order became is kept once and for all, and is no pair that people look after.
    /// <inheritdoc/>
    public override Task<ICreatedLinks> LinksAsync(NarbitContext db, OpenLane lane, RecordKind record, CancellationToken cancel) =>
        Task.FromResult<ICreatedLinks>(new CounterpartBook(record, lane.Source.System.Id, lane.Target.System.Id));

    /// <inheritdoc/>
    public override ILaneLedger Ledger(OpenLane lane, DateTimeOffset now) => new OrderLedger(lane, now);

    /// <inheritdoc/>
    public override async Task ArrivedAsync(
        NarbitContext db,
        OpenLane lane,
        PlannedWrite write,
        IReadOnlyList<ListRole> lists,
        CancellationToken cancel
    )
    {
        if (write is not { Way: Way.Back, Record: var record } || record != RecordKind.Order)
            return;
        await OrderLedger.ToldAsync(db, lane.Source.System.Id, write.SourceKey, lists.Contains(ListRole.Shipments), cancel);
        if (lists.Any(role => role != ListRole.Shipments))
            await OrderLedger.AgreeAnewAsync(db, lane, write.SourceKey, write.TargetKey, cancel);
    }

    /// <inheritdoc/>
    public override Task TakenBackAsync(
        NarbitContext db,
        OpenLane lane,
        Run run,
        PlannedWrite write,
        DateTimeOffset now,
        CancellationToken cancel
    ) => IsDocument(write) ? UndonePosting.RestAsync(db, lane, run, write, now, cancel) : Task.CompletedTask;

    /// <inheritdoc/>
    public override Task HalfTakenBackAsync(NarbitContext db, OpenLane lane, PlannedWrite write, CancellationToken cancel) =>
        write is { Way: Way.Back } && write.Record == RecordKind.Order
            ? UndonePosting.HalfAsync(db, lane, write, cancel)
            : Task.CompletedTask;

    /// <inheritdoc/>
    public override string? InTheWay(
        OpenLane lane,
        PlannedWrite write,
        IReadOnlyDictionary<string, string> values,
        RecordChildren children
    ) => IsDocument(write) ? UndonePosting.InTheWay(lane, values, children) : null;

    private static bool IsDocument(PlannedWrite write) => write.Way == Way.There && write.Record == RecordKind.Order;
}
