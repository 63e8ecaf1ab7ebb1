using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace Narbit.Core.Orders;

/// <summary>
/// What an order and its document were like when both last agreed: a mark for each part, which changes whenever the part does. Marks are
/// the first 64 bits of a SHA-256 in hexadecimal.
/// </summary>
/// <param name="Goods">Of lines, shipping, discounts, fees, vouchers and total.</param>
/// <param name="Address">Of where it is sent.</param>
/// <param name="Payment">Of the payment's state and method.</param>
/// <param name="Hub">Of the document's lines and address.</param>
public sealed record OrderMarks(string Goods, string Address, string Payment, string Hub)
{
    /// <summary>The marks of an order and of the lists that its document has at the hub.</summary>
    public static OrderMarks Of(Order order, IEnumerable<IReadOnlyList<IReadOnlyDictionary<string, string>>> hub) =>
        new(Mark(GoodsOf(order)), Mark(AddressOf(order.ShipTo ?? order.BillTo)), Mark(PaymentOf(order)), Mark(hub.SelectMany(EntriesOf)));

    /// <summary>Reads what <see cref="ToString"/> wrote; null: it is none.</summary>
    public static OrderMarks? Read(string? kept) =>
        kept?.Split(' ') is [var goods, var address, var payment, var hub] ? new OrderMarks(goods, address, payment, hub) : null;

    /// <summary>The parts of the order that are not as they were.</summary>
    public IReadOnlyList<OrderPart> ChangedSince(OrderMarks then)
    {
        var changed = new List<OrderPart>();
        if (Goods != then.Goods)
            changed.Add(OrderPart.Goods);
        if (Address != then.Address)
            changed.Add(OrderPart.Address);
        if (Payment != then.Payment)
            changed.Add(OrderPart.Payment);
        return changed;
    }

    /// <summary>The form in which they are kept: the four, between blanks.</summary>
    public override string ToString() => $"{Goods} {Address} {Payment} {Hub}";

    private static IEnumerable<string?> GoodsOf(Order order)
    {
        foreach (var line in order.Lines)
        foreach (
            var part in new[] { line.Id, line.Sku, Whole(line.Quantity), Plain(line.Price), Plain(line.Discount), Plain(line.TaxRate) }
        )
            yield return part;
        foreach (var one in order.Shipping)
        foreach (var part in new[] { "shipping", one.Method, Plain(one.Amount), Plain(one.TaxRate) })
            yield return part;
        foreach (var amount in order.Discounts.Select(d => d.Amount).Concat(order.Fees.Select(f => f.Amount)))
            yield return Plain(amount);
        foreach (var voucher in order.Vouchers)
            yield return Plain(voucher.Amount);
        yield return Plain(order.Total);
    }

    private static IEnumerable<string?> AddressOf(OrderAddress? a) =>
        a is null ? ["none"] : [a.Name, a.Company, a.Street, a.City, a.Postcode, a.Country];

    private static IEnumerable<string?> PaymentOf(Order order) => [order.Payment.State, order.Payment.Method];

    private static IEnumerable<string?> EntriesOf(IReadOnlyList<IReadOnlyDictionary<string, string>> list)
    {
        yield return Whole(list.Count);
        foreach (var entry in list)
        foreach (var (name, value) in entry.OrderBy(v => v.Key, StringComparer.Ordinal))
        {
            yield return name;
            yield return value;
        }
    }

    private static string Whole(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string? Plain(decimal? number) => number is { } n ? Numbers.Plain(n) : null;

    // Each with its length before it, so that two lists never look alike by how they are cut.
    private static string Mark(IEnumerable<string?> parts)
    {
        var text = new StringBuilder();
        foreach (var part in parts)
            text.Append(CultureInfo.InvariantCulture, $"{part?.Length ?? -1}:{part}");
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())).AsSpan(0, 8));
    }
}
