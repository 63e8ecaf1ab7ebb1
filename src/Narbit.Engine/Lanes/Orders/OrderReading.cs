using System.Globalization;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Makes an order of a store's record by what its fields and lists mean, whatever their names.</summary>
/// <param name="fields">The store's fields and lists of orders.</param>
internal sealed class OrderReading(FieldSet fields)
{
    private const int MostLines = 2_000;
    private const int LongestText = 1_000;

    /// <summary>The order, or why it cannot be read.</summary>
    public Outcome<Order> Read(OrderRecord record)
    {
        if (record.Problems.Count > 0)
            return Unreadable(record.Problems[0].Message);
        try
        {
            var order = Order(record);
            return Fault(order) is { } fault ? Unreadable(fault) : order;
        }
        catch (Exception error) when (error is FormatException or OverflowException)
        {
            return Unreadable(error.Message);
        }
    }

    private static Reason Unreadable(string words) => new("order.unreadable", $"it could not be read as its description says: {words}");

    private static string? Fault(Order order)
    {
        if (order.Lines.Count > MostLines)
            return $"it has {order.Lines.Count:N0} lines; at most {MostLines:N0} are taken";
        if (order.Lines.FirstOrDefault(l => l.Quantity < 1) is { } none)
            return $"the quantity of line {none.Id} is {none.Quantity}; it must be at least 1";
        if (order.Lines.GroupBy(l => l.Id, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return $"two of its lines have the id {twice.Key}";
        if (order.Shipping.Any(s => s.Amount < 0))
            return "its shipping costs less than nothing";
        var texts = new[] { order.BillTo?.Name, order.ShipTo?.Name, order.BillTo?.Street, order.ShipTo?.Street, order.Email };
        return texts.Any(t => t?.Length > LongestText) ? $"a name or address of it has more than {LongestText:N0} characters" : null;
    }

    private Order Order(OrderRecord record)
    {
        var own = new Entry(fields, record.Values);
        IEnumerable<Entry> Of(ListRole role) =>
            fields.Children.FirstOrDefault(c => c.Role == role) is { } list
                ? record.Children[list.Name].Select(e => new Entry(list.Fields, e))
                : [];
        var refunded = Of(ListRole.RefundedLines).ToLookup(e => e.Text(FieldRole.Refund) ?? "", StringComparer.Ordinal);
        return new Order
        {
            Id = record.Key,
            Number = own.Text(FieldRole.Number),
            PlacedAt = own.Instant(FieldRole.PlacedAt) ?? DateTimeOffset.MinValue,
            State = own.Text(FieldRole.State),
            Currency = own.Text(FieldRole.Currency),
            TaxIncluded = own.Text(FieldRole.TaxIncluded) == "true",
            Payment = new OrderPayment(own.Text(FieldRole.PaymentState), own.Text(FieldRole.Method)),
            Email = own.Text(FieldRole.Email),
            Phone = own.Text(FieldRole.Phone),
            Account = own.Text(FieldRole.Account),
            BillTo = Of(ListRole.BillTo).Select(Address).FirstOrDefault(),
            ShipTo = Of(ListRole.ShipTo).Select(Address).FirstOrDefault(),
            Lines = [.. Of(ListRole.Lines).Select(Line)],
            Shipping =
            [
                .. Of(ListRole.Shipping)
                    .Select(e => new OrderShipping(e.Text(FieldRole.Method), e.Amount(FieldRole.Amount), e.Number(FieldRole.TaxRate))),
            ],
            Discounts = [.. Of(ListRole.Discounts).Select(e => new OrderDiscount(e.Text(FieldRole.Title), e.Amount(FieldRole.Amount)))],
            Fees =
            [
                .. Of(ListRole.Fees)
                    .Select(e => new OrderFee(e.Text(FieldRole.Title), e.Amount(FieldRole.Amount), e.Number(FieldRole.TaxRate))),
            ],
            Vouchers = [.. Of(ListRole.Vouchers).Select(e => new OrderVoucher(e.Text(FieldRole.Code), e.Amount(FieldRole.Amount)))],
            Total = own.Amount(FieldRole.Total),
            TaxTotal = own.Number(FieldRole.TaxTotal),
            Refunds = [.. Of(ListRole.Refunds).Select(e => Refund(e, refunded))],
        };
    }

    private static OrderLine Line(Entry entry, int place) =>
        new()
        {
            Id = entry.Text(FieldRole.Line) ?? (place + 1).ToString(CultureInfo.InvariantCulture),
            Sku = entry.Text(FieldRole.Sku),
            Title = entry.Text(FieldRole.Title),
            Quantity = (int)(entry.Number(FieldRole.Quantity) ?? 1),
            Price = entry.Amount(FieldRole.Price),
            Discount = entry.Amount(FieldRole.Discount),
            TaxRate = entry.Number(FieldRole.TaxRate),
        };

    private static OrderAddress Address(Entry entry) =>
        new()
        {
            Name = entry.Text(FieldRole.Title),
            Company = entry.Text(FieldRole.Company),
            Street = entry.Text(FieldRole.Street),
            City = entry.Text(FieldRole.City),
            Postcode = entry.Text(FieldRole.Postcode),
            Country = entry.Text(FieldRole.Country),
            Phone = entry.Text(FieldRole.Phone),
        };

    private static OrderRefund Refund(Entry entry, ILookup<string, Entry> lines)
    {
        var id = entry.Text(FieldRole.Key) ?? "";
        return new OrderRefund
        {
            Id = id,
            At = entry.Instant(FieldRole.At),
            Lines = [.. lines[id].Select(l => new RefundedLine(l.Text(FieldRole.Line) ?? "", (int)(l.Number(FieldRole.Quantity) ?? 0)))],
            Shipping = entry.Amount(FieldRole.ShippingAmount),
            Total = entry.Amount(FieldRole.Total),
            Restock = entry.Text(FieldRole.Restock) == "true",
        };
    }

    /// <summary>One set of values with what they mean.</summary>
    private readonly struct Entry(FieldSet fields, IReadOnlyDictionary<string, string> values)
    {
        public string? Text(FieldRole role) => fields.Text(values, role);

        public decimal? Number(FieldRole role) => fields.Number(values, role);

        public decimal Amount(FieldRole role) => Number(role) ?? 0;

        public DateTimeOffset? Instant(FieldRole role) =>
            Text(role) is { } text ? DateTimeOffset.Parse(text, CultureInfo.InvariantCulture) : null;
    }
}
