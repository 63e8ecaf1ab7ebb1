using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Puts an order together as a person looks at it.</summary>
internal sealed class OrderSight(NarbitContext db, OrderLook look)
{
    private const int MostCandidates = 8;

    public async Task<OrderView> ViewAsync(CancellationToken cancel)
    {
        var (lane, place) = (look.Lane, look.Judged.Place);
        var standing = await db
            .OrderStandings.AsNoTracking()
            .FirstOrDefaultAsync(o => o.LaneId == lane.Lane.Id && o.SourceKey == place.Store.Key, cancel);
        var view = new OrderView
        {
            Lane = lane.Lane.Id,
            Store = SystemTag.Of(lane.Source.System),
            Hub = SystemTag.Of(lane.Target.System),
            Key = place.Store.Key,
            Stage = standing?.Stage ?? OrderStage.New,
            HubKey = place.HubKey,
            HubState = place.Hub is { } hub ? lane.Sides.Target.Text(hub.Values, FieldRole.State) : null,
            Shipments = Shipments(),
            Decisions = await DecisionsAsync(cancel),
            Posting = place.HubKey is null || Stays(place) ? null : await PostingAsync(cancel),
        };
        if (look.Judged is not { Order: { } order, Result: { } result })
            return view with { Unreadable = look.Judged.Unreadable?.Words };
        var paper = place.Hub is { } posted ? HubDocumentView.Of(lane.Sides.Target, posted) : HubDocumentView.Of(result);
        var items = await ItemsAsync(paper.Lines.Select(l => l.Line.Item), cancel);
        DocumentLineView Shown((DocumentLineView Line, string? Of) line) => Named(line.Line, items);
        var ids = order.Lines.Select(l => l.Id).ToHashSet(StringComparer.Ordinal);
        return view with
        {
            Order = order,
            Currency = order.Currency ?? lane.Source.System.Currency,
            Causes = [.. Causes()],
            Remarks = result.Remarks,
            After = After(),
            Lines =
            [
                .. order.Lines.Select(l => new OrderLineView(
                    l,
                    l.Price * l.Quantity - l.Discount,
                    [.. paper.Lines.Where(d => d.Of == l.Id).Select(Shown)]
                )),
            ],
            Beside = [.. paper.Lines.Where(l => l.Of is null || !ids.Contains(l.Of)).Select(Shown)],
            Document = place.Hub is { } there ? Document(there, paper) : Document(result),
            Off = paper.Lines.Count > 0 ? order.Total - paper.Lines.Sum(l => l.Line.Gross) : 0,
            Candidates = Candidates(order),
            Refunds = await RefundsAsync(order, result, cancel),
            Trace = look.Trace ?? result.Trace,
            Earned = Earned(paper, items),
        };
    }

    // What was changed after it was posted is told with what may be done about it.
    private IEnumerable<OrderCauseView> Causes() =>
        look.After?.Held.Count > 0
            ? []
            : look.Judged.Causes.Select(c => new OrderCauseView(c.Code, c.Outcome, c.Words, c.Line, c.Subject, c.By));

    private AfterView? After()
    {
        if (look.After is not { } after)
            return null;
        var words = OrderWords.Of(after.Held);
        return new AfterView(
            after.Parts,
            after.Subject,
            after.Held is [var first, ..] ? first.Code : null,
            words.Length > 0 ? words : null,
            after.Choices
        );
    }

    // The document as the hub has it.
    private DocumentView Document(OrderRecord hub, HubDocumentView paper)
    {
        var fields = look.Lane.Sides.Target;
        var customer = fields.Text(hub.Values, FieldRole.Customer);
        var payments = fields.Children.FirstOrDefault(c => c.Role == ListRole.Payments);
        var currency = look.Judged.Order!.Currency;
        return new DocumentView
        {
            Number = fields.Text(hub.Values, FieldRole.ExternalNumber) ?? hub.Key,
            As = fields.Text(hub.Values, FieldRole.DocumentKind) ?? "document",
            CustomerKey = customer,
            CustomerName = look.Judged.Place.Known.Customers.FirstOrDefault(c => c.Key == customer)?.Name,
            PaidBy = payments is null
                ? ""
                : string.Join(
                    ", ",
                    hub.Children[payments.Name]
                        .Select(p =>
                            $"{payments.Fields.Text(p, FieldRole.Method) ?? "no type"} "
                            + $"{Numbers.Cents(payments.Fields.Number(p, FieldRole.Amount) ?? 0)} {currency}"
                        )
                ),
            Net = paper.Lines.Sum(l => l.Line.Net),
            Tax = paper.Lines.Sum(l => l.Line.Tax),
            Gross = paper.Lines.Sum(l => l.Line.Gross),
        };
    }

    private List<string> Shipments()
    {
        var fields = look.Lane.Sides.Target;
        if (look.Judged.Place.Hub is not { } hub || fields.Children.FirstOrDefault(c => c.Role == ListRole.Shipments) is not { } list)
            return [];
        return
        [
            .. hub.Children[list.Name].Select(s => $"{list.Fields.Text(s, FieldRole.Carrier)} {list.Fields.Text(s, FieldRole.Tracking)}"),
        ];
    }

    private static DocumentLineView Named(DocumentLineView line, Dictionary<string, (string? Name, string? Sku, decimal? Cost)> items)
    {
        var item = items.GetValueOrDefault(line.Item ?? "");
        return line with { ItemName = item.Name, Sku = item.Sku };
    }

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
                : look.Judged.Place.Known.Customers.FirstOrDefault(c => c.Key == key)?.Name,
            CreatesCustomer = create is not null,
            PaidBy = string.Join(
                ", ",
                document.Payments.Select(p => $"{p.Type ?? "no type"} {Numbers.Cents(p.Amount)} {look.Judged.Order!.Currency}")
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
                .Judged.Place.Known.Customers.Select(c => new BuyerCandidate(
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
        IEnumerable<string?> wanted,
        CancellationToken cancel
    )
    {
        var keys = wanted.OfType<string>().Distinct().ToList();
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
                var words = note is null ? null : OrderWords.Of(note.Causes.Select(c => CauseOfOrder.Of(c, order)));
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

    // What the hub would refuse is not offered.
    private bool Stays(OrderPlace place) =>
        place.Hub is { } document && UndonePosting.InTheWay(look.Lane, document.Values, document.Children) is not null;

    private Task<Posting?> PostingAsync(CancellationToken cancel) =>
        (
            from w in db.Writes
            join r in db.Runs on w.RunId equals r.Id
            where r.LaneId == look.Lane.Lane.Id && w.SourceKey == look.Judged.Place.Store.Key && w.Record == RecordKind.Order
            where w.Act == WriteAct.Create && w.State == WriteState.Confirmed && w.TakenBackIn == null
            orderby w.Id descending
            select new Posting(r.Id, w.Id)
        ).FirstOrDefaultAsync(cancel);

    private async Task<IReadOnlyList<OrderDecisionView>> DecisionsAsync(CancellationToken cancel)
    {
        var decided = await db
            .OrderDecisions.AsNoTracking()
            .Where(d =>
                d.LaneId == look.Lane.Lane.Id && d.UndoneAt == null && (d.OrderKey == look.Judged.Place.Store.Key || d.OrderKey == null)
            )
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

    private static Earned? Earned(HubDocumentView paper, Dictionary<string, (string? Name, string? Sku, decimal? Cost)> items)
    {
        if (paper.Lines.Count == 0)
            return null;
        var goods = paper.Lines.Where(l => l.Line.Kind == DocumentLineKind.Goods).ToList();
        var costs = goods.Select(l => items.GetValueOrDefault(l.Line.Item ?? "").Cost * l.Line.Quantity).ToList();
        var cost = costs.Count > 0 && costs.TrueForAll(c => c is not null) ? costs.Sum() : null;
        var net = paper.Lines.Sum(l => l.Line.Net);
        decimal? margin = cost is { } spent && net > 0 ? decimal.Round((net - spent) / net * 100, 1) : null;
        return new Earned(net, cost, margin);
    }
}

/// <summary>A document's lines, each with the line of the order that it came from.</summary>
internal sealed record HubDocumentView(IReadOnlyList<(DocumentLineView Line, string? Of)> Lines)
{
    /// <summary>As it would be made.</summary>
    public static HubDocumentView Of(OrderResult result) =>
        new([
            .. (result.Document?.Lines ?? []).Select(l =>
                (
                    new DocumentLineView
                    {
                        Kind = l.Kind,
                        Item = l.Item,
                        Quantity = l.Quantity,
                        Net = l.Net,
                        Tax = l.Tax,
                        Gross = l.Gross,
                        TaxRate = l.TaxRate,
                    },
                    l.Kind == DocumentLineKind.Goods ? l.Line : null
                )
            ),
        ]);

    /// <summary>As the hub has it.</summary>
    public static HubDocumentView Of(FieldSet fields, OrderRecord hub)
    {
        if (fields.Children.FirstOrDefault(c => c.Role == ListRole.Lines) is not { } list)
            return new HubDocumentView([]);
        return new HubDocumentView([
            .. hub.Children[list.Name]
                .Select(entry =>
                    (
                        new DocumentLineView
                        {
                            Kind = Enum.TryParse<DocumentLineKind>(
                                list.Fields.Text(entry, FieldRole.LineKind),
                                ignoreCase: true,
                                out var kind
                            )
                                ? kind
                                : DocumentLineKind.Goods,
                            Item = list.Fields.Text(entry, FieldRole.Item),
                            Quantity = (long)(list.Fields.Number(entry, FieldRole.Quantity) ?? 0),
                            Net = list.Fields.Number(entry, FieldRole.Net) ?? 0,
                            Tax = list.Fields.Number(entry, FieldRole.Tax) ?? 0,
                            Gross = list.Fields.Number(entry, FieldRole.Gross) ?? 0,
                            TaxRate = list.Fields.Number(entry, FieldRole.TaxRate) ?? 0,
                        },
                        list.Fields.Text(entry, FieldRole.Line)
                    )
                ),
        ]);
    }
}
