using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Writes documents and credit notes in the hub's terms: by what its fields and lists mean.</summary>
internal static class HubPaper
{
    /// <summary>Stands before the key of something that is made in the same run; it is put right once its own key is known.</summary>
    public const string ToCome = "+";

    /// <summary>A document's fields.</summary>
    public static IReadOnlyList<ComputedField> Fields(
        FieldSet hub,
        Order order,
        HubDocument document,
        string? customer,
        OrderResult result,
        string? comment
    )
    {
        var values = new List<(FieldRole Role, string? Value)>
        {
            (FieldRole.ExternalNumber, document.Number),
            (FieldRole.Customer, customer),
            (FieldRole.DocumentKind, document.As),
            (FieldRole.PlacedAt, order.PlacedAt.UtcDateTime.ToString("O")),
            (FieldRole.Currency, order.Currency),
            (FieldRole.Method, document.ShippingCodes is [var code, ..] ? code : null),
            (FieldRole.Comment, comment),
        };
        return [.. values.SelectMany(v => Field(hub, v.Role, v.Value, result.Trace))];
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
    public static IReadOnlyList<ComputedField> Fields(FieldSet hub, CreditNote note, string external, string document)
    {
        IReadOnlyList<TraceStep> why = [new("refund", null, note.Refund, "given back in the store")];
        (FieldRole Role, string? Value)[] values =
        [
            (FieldRole.ExternalNumber, external),
            (FieldRole.Document, document),
            (FieldRole.Restock, note.Restock ? "true" : "false"),
        ];
        return [.. values.SelectMany(v => Field(hub, v.Role, v.Value, why))];
    }

    /// <summary>A payment's fields.</summary>
    public static IReadOnlyList<ComputedField> Fields(FieldSet hub, PaymentDue due, string external, string document)
    {
        IReadOnlyList<TraceStep> why = [new("payment", null, Numbers.Plain(due.Amount), "paid after the order was posted")];
        (FieldRole Role, string? Value)[] values =
        [
            (FieldRole.ExternalNumber, external),
            (FieldRole.Document, document),
            (FieldRole.Method, due.Type),
            (FieldRole.Amount, Numbers.Plain(due.Amount)),
        ];
        return [.. values.SelectMany(v => Field(hub, v.Role, v.Value, why))];
    }

    /// <summary>A document's lists.</summary>
    /// <param name="hub">The hub's fields and lists.</param>
    /// <param name="order">The order.</param>
    /// <param name="document">What it becomes.</param>
    /// <param name="only">The lists that are wanted; null: all.</param>
    /// <param name="titleOf">What the hub calls an item; null: titles are as they were sold by.</param>
    public static RecordChildren Children(
        FieldSet hub,
        Order order,
        HubDocument document,
        IReadOnlyCollection<ListRole>? only = null,
        Func<string, string?>? titleOf = null
    )
    {
        var lists = new Lists(hub, only);
        lists.Add(ListRole.Lines, document.Lines.Select(l => Line(l, order, titleOf)));
        lists.Add(
            ListRole.Payments,
            document.Payments.Select(p => Entry((FieldRole.Method, p.Type), (FieldRole.Amount, Numbers.Plain(p.Amount))))
        );
        if (document.ShipTo is { } to)
            lists.Add(ListRole.ShipTo, [Address(to)]);
        return lists.Made;
    }

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

    private static Dictionary<FieldRole, string> Line(DocumentLine line, Order order, Func<string, string?>? titleOf = null) =>
        Entry(
            (FieldRole.LineKind, line.Kind.ToString().ToLowerInvariant()),
            (FieldRole.Line, line.Line),
            (FieldRole.Item, line.Item),
            (
                FieldRole.Title,
                (line.Item is { } item ? titleOf?.Invoke(item) : null) ?? order.Lines.FirstOrDefault(l => l.Id == line.Line)?.Title
            ),
            (FieldRole.Quantity, Numbers.Plain(line.Quantity)),
            (FieldRole.Price, line.UnitPrice is { } price ? Numbers.Plain(price) : null),
            (FieldRole.Net, Numbers.Plain(line.Net)),
            (FieldRole.Tax, Numbers.Plain(line.Tax)),
            (FieldRole.Gross, Numbers.Plain(line.Gross)),
            (FieldRole.TaxRate, Numbers.Plain(line.TaxRate))
        );

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
