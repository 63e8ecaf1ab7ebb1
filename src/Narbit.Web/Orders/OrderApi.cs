using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Reading;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Orders;

/// <summary>Why an order is held or waits, and what the cause is about.</summary>
public sealed record OrderCauseView(string Cause, OrderOutcome Outcome, string Words, string? Line, string? Subject, decimal? By);

/// <summary>A line of the hub's document with the name of its item.</summary>
public sealed record DocumentLineView
{
    public DocumentLineKind Kind { get; init; }

    public string? Item { get; init; }

    public string? ItemName { get; init; }

    public string? Sku { get; init; }

    public long Quantity { get; init; }

    public decimal Net { get; init; }

    public decimal Tax { get; init; }

    public decimal Gross { get; init; }

    /// <summary>In percent.</summary>
    public decimal TaxRate { get; init; }
}

/// <summary>The hub's document as it would be, or would have been, made.</summary>
public sealed record DocumentView
{
    public required string Number { get; init; }

    public required string As { get; init; }

    /// <summary>The customer's key; null: there is none yet.</summary>
    public string? CustomerKey { get; init; }

    public string? CustomerName { get; init; }

    /// <summary>Whether the customer is created with it.</summary>
    public bool CreatesCustomer { get; init; }

    public required string PaidBy { get; init; }

    public decimal Net { get; init; }

    public decimal Tax { get; init; }

    public decimal Gross { get; init; }
}

/// <summary>A line of an order and what it became.</summary>
public sealed record OrderLineView(OrderLine Line, decimal Amount, IReadOnlyList<DocumentLineView> Became);

/// <summary>A customer of the hub that the buyer could be.</summary>
public sealed record BuyerCandidate(string Key, string? Name, string? Email, string? Postcode, IReadOnlyList<string> Alike);

/// <summary>A refund and its credit note.</summary>
public sealed record RefundView(string Refund, DateTimeOffset? At, decimal Total, OrderOutcome? Outcome, string? Words, string? CreditNote);

/// <summary>What was decided about an order.</summary>
public sealed record OrderDecisionView(long Id, OrderChoice Choice, bool ForAll, string By, DateTimeOffset At);

/// <summary>What an order earned.</summary>
/// <param name="Net">What was paid for it, net.</param>
/// <param name="Cost">What its goods cost, where all costs are known.</param>
/// <param name="Margin">The share of the net that is left, in percent.</param>
public sealed record Earned(decimal Net, decimal? Cost, decimal? Margin);

/// <summary>The write that posted an order.</summary>
/// <param name="Run">The run.</param>
/// <param name="Write">The write.</param>
public sealed record Posting(long Run, long Write);

/// <summary>One order on the seam.</summary>
public sealed record OrderView
{
    public required string Lane { get; init; }

    public required SystemTag Store { get; init; }

    public required SystemTag Hub { get; init; }

    public required string Key { get; init; }

    /// <summary>Where it stands.</summary>
    public OrderStage Stage { get; init; }

    /// <summary>The order as it was read; null: it could not be.</summary>
    public Order? Order { get; init; }

    /// <summary>Why it could not be read.</summary>
    public string? Unreadable { get; init; }

    public IReadOnlyList<OrderCauseView> Causes { get; init; } = [];

    public IReadOnlyList<string> Remarks { get; init; } = [];

    public IReadOnlyList<OrderLineView> Lines { get; init; } = [];

    /// <summary>What the document has beside the goods.</summary>
    public IReadOnlyList<DocumentLineView> Beside { get; init; } = [];

    /// <summary>The document; null: the order is skipped.</summary>
    public DocumentView? Document { get; init; }

    /// <summary>By how much the lines are off the total.</summary>
    public decimal Off { get; init; }

    /// <summary>The hub's document as it is there; null: there is none.</summary>
    public string? HubKey { get; init; }

    /// <summary>The hub's own state of it.</summary>
    public string? HubState { get; init; }

    /// <summary>What was sent, by the hub.</summary>
    public IReadOnlyList<string> Shipments { get; init; } = [];

    public IReadOnlyList<BuyerCandidate> Candidates { get; init; } = [];

    public IReadOnlyList<RefundView> Refunds { get; init; } = [];

    public IReadOnlyList<TraceStep> Trace { get; init; } = [];

    public IReadOnlyList<OrderDecisionView> Decisions { get; init; } = [];

    public Earned? Earned { get; init; }

    /// <summary>What posted it and can be taken back; null: nothing did.</summary>
    public Posting? Posting { get; init; }
}

/// <summary>A decision about an order.</summary>
/// <param name="Choice">What is decided.</param>
/// <param name="ForAll">Whether it holds for all orders of the lane that wait for the same.</param>
public sealed record OrderToDecide(OrderChoice Choice, bool ForAll);

/// <summary>What a decision did.</summary>
/// <param name="Moved">How many orders stand otherwise than before.</param>
public sealed record OrderDecided(int Moved);

/// <summary>One order: both sides of it, and what is decided about it.</summary>
public static class OrderApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var orders = api.MapGroup("/lanes/{id}/orders").WithTags("Orders");
        orders.MapGet("/{key}", GetAsync).WithName("getOrder");
        orders.MapPost("/{key}/decisions", DecideAsync).WithName("decideOrder");
        orders.MapDelete("/decisions/{decision:long}", UndoAsync).WithName("undoOrderDecision");
    }

    private static async Task<Results<Ok<OrderView>, ProblemHttpResult>> GetAsync(
        string id,
        string key,
        OrderDesk desk,
        Database database,
        CancellationToken cancel
    )
    {
        var look = await desk.LookAsync(id, key, cancel);
        if (look.Fault is { } fault)
            return Problems.Of(fault);
        await using var db = database.CreateDbContext();
        return TypedResults.Ok(await new OrderSight(db, look.Value).ViewAsync(cancel));
    }

    private static async Task<Results<Ok<OrderDecided>, ProblemHttpResult>> DecideAsync(
        string id,
        string key,
        OrderToDecide decide,
        OrderDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        var moved = await desk.DecideAsync(id, decide.ForAll ? null : key, decide.Choice, by, cancel);
        if (moved.Fault is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(new OrderDecided(moved.Value));
    }

    private static async Task<Results<Ok<OrderDecided>, ProblemHttpResult>> UndoAsync(
        string id,
        long decision,
        OrderDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var moved = await desk.UndoAsync(id, decision, cancel);
        if (moved.Fault is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(new OrderDecided(moved.Value));
    }
}

/// <summary>Puts an order together as a person looks at it.</summary>
internal sealed class OrderSight(NarbitContext db, OrderLook look)
{
    private const int MostCandidates = 8;

    public async Task<OrderView> ViewAsync(CancellationToken cancel)
    {
        var (lane, place) = (look.Lane, look.Place);
        var standing = await db
            .OrderStandings.AsNoTracking()
            .FirstOrDefaultAsync(o => o.LaneId == lane.Lane.Id && o.SourceKey == place.Store.Key, cancel);
        var view = new OrderView
        {
            Lane = lane.Lane.Id,
            Store = LaneViews.Tag(lane.Source.System),
            Hub = LaneViews.Tag(lane.Target.System),
            Key = place.Store.Key,
            Stage = standing?.Stage ?? OrderStage.New,
            HubKey = place.HubKey,
            HubState = place.Hub is { } hub ? lane.Sides.Target.Text(hub.Values, FieldRole.State) : null,
            Shipments = Shipments(),
            Decisions = await DecisionsAsync(cancel),
            Posting = place.HubKey is null ? null : await PostingAsync(cancel),
        };
        if (look.Judged.Fault is { } fault)
            return view with { Unreadable = fault.Words };
        var (order, result) = look.Judged.Value;
        var items = await ItemsAsync(result, cancel);
        DocumentLineView Named(DocumentLine line) => Line(line, items.GetValueOrDefault(line.Item ?? ""));
        var lines = result.Document?.Lines ?? [];
        return view with
        {
            Order = order,
            Causes = [.. result.Causes.Select(c => Cause(c, order)), .. Twice(order, result)],
            Remarks = result.Remarks,
            Lines =
            [
                .. order.Lines.Select(l => new OrderLineView(
                    l,
                    l.Price * l.Quantity - l.Discount,
                    [.. lines.Where(d => d.Kind == DocumentLineKind.Goods && d.Line == l.Id).Select(Named)]
                )),
            ],
            Beside = [.. lines.Where(l => l.Kind != DocumentLineKind.Goods).Select(Named)],
            Document = Document(result),
            Off = result.Document is { } document ? order.Total - document.Totals.Gross : 0,
            Candidates = Candidates(order),
            Refunds = await RefundsAsync(order, result, cancel),
            Trace = result.Trace,
            Earned = Earned(result, items),
        };
    }

    private IEnumerable<OrderCauseView> Twice(Order order, OrderResult result) =>
        look.Place is { SameNumber: { } same, HubKey: null } && result.Outcome == OrderOutcome.Take
            ?
            [
                new OrderCauseView(
                    "numberTwice",
                    OrderOutcome.Hold,
                    $"order {same} of the store has the number {order.Number} too",
                    null,
                    same,
                    null
                ),
            ]
            : [];

    private static OrderCauseView Cause(OrderCause cause, Order order)
    {
        var subject = cause.Code switch
        {
            "unknownItem" => order.Lines.FirstOrDefault(l => l.Id == cause.Line)?.Sku,
            "paymentMethod" => order.Payment.Method,
            "shippingMethod" => order.Shipping is [var sent, ..] ? sent.Method : null,
            "state" => order.State,
            "payment" => order.Payment.State,
            _ => null,
        };
        return new OrderCauseView(cause.Code, cause.Outcome, OrderWords.Of(cause, order), cause.Line, subject, cause.By);
    }

    private List<string> Shipments()
    {
        var fields = look.Lane.Sides.Target;
        if (look.Place.Hub is not { } hub || fields.Children.FirstOrDefault(c => c.Role == ListRole.Shipments) is not { } list)
            return [];
        return
        [
            .. hub.Children[list.Name].Select(s => $"{list.Fields.Text(s, FieldRole.Carrier)} {list.Fields.Text(s, FieldRole.Tracking)}"),
        ];
    }

    private static DocumentLineView Line(DocumentLine line, (string? Name, string? Sku, decimal? Cost) item) =>
        new()
        {
            Kind = line.Kind,
            Item = line.Item,
            ItemName = item.Name,
            Sku = item.Sku,
            Quantity = line.Quantity,
            Net = line.Net,
            Tax = line.Tax,
            Gross = line.Gross,
            TaxRate = line.TaxRate,
        };

    private DocumentView? Document(OrderResult result)
    {
        if (result.Document is not { } document)
            return null;
        var (key, create) = (document.Customer?.Key, document.Customer?.Create);
        return new DocumentView
        {
            Number = document.Number,
            As = document.As,
            CustomerKey = key,
            CustomerName = key is null
                ? create?.Name ?? create?.Company ?? create?.Email
                : look.Place.Known.Customers.FirstOrDefault(c => c.Key == key)?.Name,
            CreatesCustomer = create is not null,
            PaidBy = string.Join(
                ", ",
                document.Payments.Select(p => $"{p.Type ?? "no type"} {Numbers.Cents(p.Amount)} {look.Judged.Value.Order.Currency}")
            ),
            Net = document.Totals.Net,
            Tax = document.Totals.Tax,
            Gross = document.Totals.Gross,
        };
    }

    // Customers of the hub with something of the buyer's.
    private IReadOnlyList<BuyerCandidate> Candidates(Order order)
    {
        var address = order.BillTo ?? order.ShipTo;
        bool Same(string? a, string? b) => !string.IsNullOrWhiteSpace(a) && string.Equals(a, b, StringComparison.OrdinalIgnoreCase);
        return
        [
            .. look
                .Place.Known.Customers.Select(c => new BuyerCandidate(
                    c.Key,
                    c.Name,
                    c.Email,
                    c.Postcode,
                    [
                        .. Same(c.Account, order.Account) ? ["account"] : Array.Empty<string>(),
                        .. Same(c.Email, order.Email) ? ["email"] : Array.Empty<string>(),
                        .. Same(c.Phone, order.Phone) ? ["phone"] : Array.Empty<string>(),
                        .. Same(c.Name, address?.Name) ? ["name"] : Array.Empty<string>(),
                        .. Same(c.Postcode, address?.Postcode) ? ["postcode"] : Array.Empty<string>(),
                    ]
                ))
                .Where(c => c.Alike.Count > 0)
                .OrderByDescending(c => c.Alike.Count)
                .Take(MostCandidates),
        ];
    }

    private async Task<Dictionary<string, (string? Name, string? Sku, decimal? Cost)>> ItemsAsync(
        OrderResult result,
        CancellationToken cancel
    )
    {
        var keys = result.Document?.Lines.Select(l => l.Item).OfType<string>().Distinct().ToList() ?? [];
        var system = look.Lane.Target;
        var fields = system.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.Item)?.Fields;
        var rows = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == system.System.Id && r.Kind == RecordKind.Item && keys.Contains(r.Key))
            .Select(r => new
            {
                r.Key,
                r.Caption,
                r.Reference,
                r.Values,
            })
            .ToListAsync(cancel);
        return rows.ToDictionary(
            r => r.Key,
            r => (r.Caption, r.Reference, fields?.Number(StoredRecord.Values(r.Values), FieldRole.Cost)),
            StringComparer.Ordinal
        );
    }

    private async Task<IReadOnlyList<RefundView>> RefundsAsync(Order order, OrderResult result, CancellationToken cancel)
    {
        var prefix = $"{order.Id}/";
        var made = await db
            .Counterparts.AsNoTracking()
            .Where(c => c.Kind == RecordKind.CreditNote && c.SourceId == look.Lane.Source.System.Id && c.SourceKey.StartsWith(prefix))
            .ToDictionaryAsync(c => c.SourceKey, c => c.TargetKey, StringComparer.Ordinal, cancel);
        return
        [
            .. order.Refunds.Select(r =>
            {
                var note = result.CreditNotes.FirstOrDefault(n => n.Refund == r.Id);
                var words = note is null ? null : string.Join("; ", note.Causes.Select(c => OrderWords.Of(c, order)));
                return new RefundView(
                    r.Id,
                    r.At,
                    r.Total,
                    note?.Outcome,
                    words is { Length: > 0 } ? words : null,
                    made.GetValueOrDefault(prefix + r.Id)
                );
            }),
        ];
    }

    private Task<Posting?> PostingAsync(CancellationToken cancel) =>
        (
            from w in db.Writes
            join r in db.Runs on w.RunId equals r.Id
            where r.LaneId == look.Lane.Lane.Id && w.SourceKey == look.Place.Store.Key && w.Record == RecordKind.Order
            where w.Act == WriteAct.Create && w.State == WriteState.Confirmed && w.TakenBackIn == null
            orderby w.Id descending
            select new Posting(r.Id, w.Id)
        ).FirstOrDefaultAsync(cancel);

    private async Task<IReadOnlyList<OrderDecisionView>> DecisionsAsync(CancellationToken cancel)
    {
        var decided = await db
            .OrderDecisions.AsNoTracking()
            .Where(d => d.LaneId == look.Lane.Lane.Id && d.UndoneAt == null && (d.OrderKey == look.Place.Store.Key || d.OrderKey == null))
            .OrderBy(d => d.Id)
            .ToListAsync(cancel);
        return
        [
            .. decided.Select(d => new OrderDecisionView(
                d.Id,
                new OrderChoice(d.Kind, d.Subject, d.Value),
                d.OrderKey is null,
                d.By,
                d.At
            )),
        ];
    }

    private static Earned? Earned(OrderResult result, Dictionary<string, (string? Name, string? Sku, decimal? Cost)> items)
    {
        if (result.Document is not { } document)
            return null;
        var goods = document.Lines.Where(l => l.Kind == DocumentLineKind.Goods).ToList();
        var costs = goods.Select(l => items.GetValueOrDefault(l.Item ?? "").Cost * l.Quantity).ToList();
        var cost = costs.Count > 0 && costs.TrueForAll(c => c is not null) ? costs.Sum() : null;
        var net = document.Totals.Net;
        decimal? margin = cost is { } spent && net > 0 ? decimal.Round((net - spent) / net * 100, 1) : null;
        return new Earned(net, cost, margin);
    }
}
