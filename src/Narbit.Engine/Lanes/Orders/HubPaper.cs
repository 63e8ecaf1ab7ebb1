using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Writes documents and credit notes in the hub's terms: by what its fields and lists mean.</summary>
internal static class HubPaper
{
    /// <summary>A document's fields.</summary>
    public static IReadOnlyList<ComputedField> Fields(
        FieldSet hub,
        Order order,
        HubDocument document,
        RecordReference? customer,
        OrderResult result,
        string? comment
    )
    {
        var values = new List<(FieldRole Role, string? Value)>
        {
            (FieldRole.ExternalNumber, document.Number),
            (FieldRole.DocumentKind, document.As),
            (FieldRole.PlacedAt, order.PlacedAt.UtcDateTime.ToString("O")),
            (FieldRole.Currency, order.Currency),
            (FieldRole.Method, document.ShippingCodes is [var code, ..] ? code : null),
            (FieldRole.Comment, comment),
            (FieldRole.Email, order.Email),
            (FieldRole.Phone, order.Phone),
        };
        // How the document came about is told once, with its number: told with every field it would be most of what is kept of it.
        IReadOnlyList<TraceStep> beside = [new("order", null, null, "made by the order rule; the external number tells it step by step")];
        return
        [
            .. values.SelectMany(v => Field(hub, v.Role, v.Value, v.Role == FieldRole.ExternalNumber ? result.Trace : beside)),
            .. Reference(hub, FieldRole.Customer, customer, beside),
        ];
    }

    /// <summary>A customer's fields.</summary>
    public static IReadOnlyList<ComputedField> Fields(FieldSet hub, NewCustomer customer, OrderAddress? address)
    {
        IReadOnlyList<TraceStep> why = [new("customer", null, null, "nobody is known by any key: created")];
        (FieldRole Role, string? Value)[] values =
        [
            (FieldRole.Title, customer.Name ?? customer.Company ?? customer.Email),
            (FieldRole.Company, customer.Company),
            (FieldRole.Email, customer.Email),
            (FieldRole.Phone, customer.Phone),
            (FieldRole.Account, customer.Account),
            (FieldRole.Postcode, customer.Postcode),
            (FieldRole.City, address?.City),
        ];
        return [.. values.SelectMany(v => Field(hub, v.Role, v.Value, why))];
    }

    /// <summary>A credit note's fields.</summary>
    public static IReadOnlyList<ComputedField> Fields(FieldSet hub, CreditNote note, string external, RecordReference document)
    {
        IReadOnlyList<TraceStep> why = [new("refund", null, note.Refund, "given back in the store")];
        (FieldRole Role, string? Value)[] values =
        [
            (FieldRole.ExternalNumber, external),
            (FieldRole.Restock, note.Restock ? "true" : "false"),
        ];
        return [.. values.SelectMany(v => Field(hub, v.Role, v.Value, why)), .. Reference(hub, FieldRole.Document, document, why)];
    }

    /// <summary>A payment's fields.</summary>
    public static IReadOnlyList<ComputedField> Fields(FieldSet hub, PaymentDue due, string external, RecordReference document)
    {
        IReadOnlyList<TraceStep> why = [new("payment", null, Numbers.Plain(due.Amount), "paid after the order was posted")];
        (FieldRole Role, string? Value)[] values =
        [
            (FieldRole.ExternalNumber, external),
            (FieldRole.Method, due.Type),
            (FieldRole.Amount, Numbers.Plain(due.Amount)),
        ];
        return [.. values.SelectMany(v => Field(hub, v.Role, v.Value, why)), .. Reference(hub, FieldRole.Document, document, why)];
    }

    /// <summary>A document's lists.</summary>
    /// <param name="hub">The hub's fields and lists.</param>
    /// <param name="order">The order.</param>
    /// <param name="document">What it becomes.</param>
    /// <param name="writing">How lines are written.</param>
    /// <param name="only">The lists that are wanted; null: all.</param>
    public static RecordChildren Children(
        FieldSet hub,
        Order order,
        HubDocument document,
        LineWriting writing,
        IReadOnlyCollection<ListRole>? only = null
    )
    {
        var lists = new Lists(hub, only);
        // Where what is sent, given off or charged has a list of its own, as in a store, it is no line.
        var places = document.Lines.ToLookup(l => PlaceOf(hub, l));
        lists.Add(ListRole.Lines, places[ListRole.Lines].Select(l => Line(l, order, writing)));
        if (Takes(hub, ListRole.Shipping))
            lists.Add(ListRole.Shipping, places[ListRole.Shipping].Select((l, i) => Sent(l, i, document, writing)));
        if (places[ListRole.Discounts].Any())
            lists.Add(ListRole.Discounts, places[ListRole.Discounts].Select(l => OnTop(l, -writing.AmountOf(l), order)));
        if (places[ListRole.Fees].Any())
            lists.Add(ListRole.Fees, places[ListRole.Fees].Select(l => OnTop(l, writing.AmountOf(l), order)));
        lists.Add(
            ListRole.Payments,
            document.Payments.Select(p => Entry((FieldRole.Method, p.Type), (FieldRole.Amount, Numbers.Plain(p.Amount))))
        );
        if (document.ShipTo is { } to)
            lists.Add(ListRole.ShipTo, [Address(to)]);
        if (order.BillTo is { } bill)
            lists.Add(ListRole.BillTo, [Address(bill)]);
        return lists.Made;
    }

    /// <summary>A line of a document for which the target has no place, as a store that takes goods alone; null: there is none.</summary>
    public static DocumentLine? WithoutPlace(FieldSet hub, HubDocument document) =>
        hub.Children.FirstOrDefault(c => c.Role == ListRole.Lines) is { } lines && !Writes(lines.Fields, FieldRole.Item)
            ? document.Lines.FirstOrDefault(l => l.Kind != DocumentLineKind.Goods && PlaceOf(hub, l) == ListRole.Lines)
            : null;

    /// <summary>An item that the target cannot be told of, as it knows goods by SKUs and this one has none; null: there is none.</summary>
    public static string? WithoutSku(FieldSet hub, HubDocument document, Func<string, string?>? skuOf) =>
        skuOf is not null && hub.Children.First(c => c.Role == ListRole.Lines) is { } lines && !Writes(lines.Fields, FieldRole.Item)
            ? document.Lines.Select(l => l.Item).FirstOrDefault(i => i is not null && skuOf(i) is null)
            : null;

    private static ListRole PlaceOf(FieldSet hub, DocumentLine line)
    {
        var own = line.Kind switch
        {
            DocumentLineKind.Shipping => ListRole.Shipping,
            DocumentLineKind.Discount => ListRole.Discounts,
            DocumentLineKind.Fee => ListRole.Fees,
            DocumentLineKind.Difference => line.Gross < 0 ? ListRole.Discounts : ListRole.Fees,
            _ => ListRole.Lines,
        };
        return Takes(hub, own) ? own : ListRole.Lines;
    }

    private static bool Takes(FieldSet hub, ListRole role) => hub.Children.Any(c => c.Role == role && c.Writable);

    private static bool Writes(FieldSet fields, FieldRole role) => fields.Find(role) is { Writable: true };

    private static Dictionary<FieldRole, string> OnTop(DocumentLine line, decimal amount, Order order) =>
        Entry(
            (FieldRole.Title, TitleOf(line, order)),
            (FieldRole.Amount, Numbers.Plain(amount)),
            (FieldRole.TaxRate, Numbers.Plain(line.TaxRate))
        );

    // Discounts are one line for each rate; a fee is found again by its amount.
    private static string? TitleOf(DocumentLine line, Order order) =>
        line.Kind switch
        {
            DocumentLineKind.Discount when order.Discounts is [var first, ..] => first.Title,
            DocumentLineKind.Fee => order.Fees.FirstOrDefault(f => f.Amount == line.Gross || f.Amount == line.Net)?.Title,
            _ => null,
        };

    private static Dictionary<FieldRole, string> Sent(DocumentLine line, int place, HubDocument document, LineWriting writing) =>
        Entry(
            (FieldRole.Method, document.ShippingCodes.ElementAtOrDefault(place)),
            (FieldRole.Amount, Numbers.Plain(writing.Delivery == DeliveryCost.Zero ? 0 : line.Gross)),
            (FieldRole.TaxRate, Numbers.Plain(line.TaxRate))
        );

    /// <summary>A customer's addresses; none where the hub keeps no list of them.</summary>
    public static RecordChildren Addresses(FieldSet customers, OrderAddress? address)
    {
        var lists = new Lists(customers);
        if (address is not null)
            lists.Add(ListRole.Addresses, [Address(address)]);
        return lists.Made;
    }

    /// <summary>A credit note's lines.</summary>
    public static RecordChildren Children(FieldSet hub, Order order, CreditNote note)
    {
        var lists = new Lists(hub);
        lists.Add(ListRole.Lines, note.Lines.Select(l => Line(l, order)));
        return lists.Made;
    }

    private static IEnumerable<ComputedField> Field(FieldSet hub, FieldRole role, string? value, IReadOnlyList<TraceStep> trace) =>
        value is { Length: > 0 } && hub.Find(role) is { Writable: true } field ? [new ComputedField(field, null, value, trace)] : [];

    private static IEnumerable<ComputedField> Reference(
        FieldSet hub,
        FieldRole role,
        RecordReference? record,
        IReadOnlyList<TraceStep> trace
    ) => record is { } known ? Field(hub, role, known.Key, trace).Select(known.In) : [];

    private static Dictionary<FieldRole, string> Line(DocumentLine line, Order order, LineWriting? writing = null)
    {
        var sold = order.Lines.FirstOrDefault(l => l.Id == line.Line);
        var sku = line.Item is { } item ? writing?.SkuOf?.Invoke(item) : null;
        var (price, off) = (line.UnitPrice, (decimal?)null);
        if (writing?.SkuOf is not null && line.Quantity > 0)
            (price, off) = LineWriting.Priced(writing.Gross ? line.Gross : line.Net, line.Quantity);
        return Entry(
            (FieldRole.LineKind, line.Kind.ToString().ToLowerInvariant()),
            (FieldRole.Line, line.Line),
            (FieldRole.Item, line.Item),
            (FieldRole.Sku, sku),
            (FieldRole.Title, (line.Item is { } named ? writing?.TitleOf?.Invoke(named) : null) ?? sold?.Title),
            (FieldRole.Quantity, Numbers.Plain(line.Quantity)),
            (FieldRole.Price, price is { } each ? Numbers.Plain(each) : null),
            (FieldRole.Discount, off is { } less ? Numbers.Plain(less) : null),
            (FieldRole.Net, Numbers.Plain(line.Net)),
            (FieldRole.Tax, Numbers.Plain(line.Tax)),
            (FieldRole.Gross, Numbers.Plain(line.Gross)),
            (FieldRole.TaxRate, Numbers.Plain(line.TaxRate))
        );
    }

    private static Dictionary<FieldRole, string> Address(OrderAddress address) =>
        Entry(
            (FieldRole.Title, address.Name),
            (FieldRole.Company, address.Company),
            (FieldRole.Street, address.Street),
            (FieldRole.City, address.City),
            (FieldRole.Postcode, address.Postcode),
            (FieldRole.Country, address.Country),
            (FieldRole.Phone, address.Phone)
        );

    private static Dictionary<FieldRole, string> Entry(params (FieldRole Role, string? Value)[] values) =>
        values.Where(v => !string.IsNullOrEmpty(v.Value)).ToDictionary(v => v.Role, v => v.Value!);

    /// <summary>Lists in a system's own names.</summary>
    internal sealed class Lists(FieldSet fields, IReadOnlyCollection<ListRole>? only = null)
    {
        private readonly Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> _made = new(StringComparer.Ordinal);

        public RecordChildren Made => new(_made);

        public void Add(ListRole role, IEnumerable<Dictionary<FieldRole, string>> entries)
        {
            if (only?.Contains(role) == false || fields.Children.FirstOrDefault(c => c.Role == role) is not { Writable: true } list)
                return;
            _made[list.Name] = [.. entries.Select(e => Named(list.Fields, e))];
        }

        private static Dictionary<string, string> Named(FieldSet of, Dictionary<FieldRole, string> entry) =>
            entry
                .Select(v => (Field: of.Find(v.Key), v.Value))
                .Where(v => v.Field is { Writable: true })
                .ToDictionary(v => v.Field!.Name, v => v.Value, StringComparer.Ordinal);
    }
}

/// <summary>How the lines of a document are written.</summary>
/// <param name="TitleOf">What the hub calls an item; null: titles are as they were sold by.</param>
/// <param name="SkuOf">The SKU of an item; null: it is named by its key.</param>
/// <param name="Delivery">What delivery costs there.</param>
/// <param name="Gross">Whether prices are gross there.</param>
internal sealed record LineWriting(Func<string, string?>? TitleOf, Func<string, string?>? SkuOf, DeliveryCost Delivery, bool Gross)
{
    private const int Cents = 2;

    /// <summary>What a line comes to, as amounts are there.</summary>
    public decimal AmountOf(DocumentLine line) => Gross ? line.Gross : line.Net;

    /// <summary>
    /// The price of one in whole cents, as stores have it, and what is taken off the line so that it comes to its amount all the same.
    /// </summary>
    public static (decimal Price, decimal Off) Priced(decimal amount, long quantity)
    {
        var price = decimal.Round(amount / quantity, Cents, MidpointRounding.ToPositiveInfinity);
        return (price, price * quantity - amount);
    }
}
