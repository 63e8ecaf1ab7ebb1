using System.Text;
using Narbit.Core.Orders;

namespace Narbit.Cli;

/// <summary>
/// Reads an order from JSON without the serializer, several times as fast. It takes what is as it should be, and leaves everything else to
/// the serializer, which has the words for what is wrong: where this succeeds, both give the same order.
/// </summary>
public static class OrderReader
{
    private delegate bool Member<T>(ref JsonCursor json, ReadOnlySpan<byte> name, T into);

    private delegate T? Entry<T>(ref JsonCursor json);

    /// <summary>Reads an order.</summary>
    /// <param name="json">The order alone, in UTF-8.</param>
    /// <returns>The order; null: it is for the serializer.</returns>
    public static Order? Read(ReadOnlySpan<byte> json)
    {
        var cursor = new JsonCursor(json);
        return Read(ref cursor) is { } order && cursor.AtEnd ? order : null;
    }

    /// <summary>Reads the order that the cursor stands before; it is left behind it where the order could be read.</summary>
    internal static Order? Read(ref JsonCursor json)
    {
        var parts = new OrderParts();
        if (Members(ref json, parts, OrderMember) && parts.Id is not null)
            return parts.Made();
        json.Break();
        return null;
    }

    // An order while it is read.
    private sealed class OrderParts
    {
        public string? Id;
        public string? Number;
        public DateTimeOffset PlacedAt;
        public string? State;
        public string? Currency;
        public int Decimals = 2;
        public bool TaxIncluded;
        public PaymentParts Payment = new();
        public string? Email;
        public string? Phone;
        public string? Account;
        public OrderAddress? BillTo;
        public OrderAddress? ShipTo;
        public List<OrderLine> Lines = [];
        public List<OrderShipping> Shipping = [];
        public List<OrderDiscount> Discounts = [];
        public List<OrderFee> Fees = [];
        public List<OrderVoucher> Vouchers = [];
        public decimal Total;
        public decimal? TaxTotal;
        public List<OrderRefund> Refunds = [];

        public Order Made() =>
            new()
            {
                Id = Id!,
                Number = Number,
                PlacedAt = PlacedAt,
                State = State,
                Currency = Currency,
                Decimals = Decimals,
                TaxIncluded = TaxIncluded,
                Payment = new OrderPayment(Payment.State, Payment.Method),
                Email = Email,
                Phone = Phone,
                Account = Account,
                BillTo = BillTo,
                ShipTo = ShipTo,
                Lines = Lines,
                Shipping = Shipping,
                Discounts = Discounts,
                Fees = Fees,
                Vouchers = Vouchers,
                Total = Total,
                TaxTotal = TaxTotal,
                Refunds = Refunds,
            };
    }

    private sealed class PaymentParts
    {
        public string? State;
        public string? Method;
    }

    // What stands in the lists: each has some of these.
    private sealed class EntryParts
    {
        public string? Id;
        public string? Sku;
        public string? Title;
        public string? Method;
        public string? Code;
        public string? Line;
        public int Quantity = 1;
        public bool HasQuantity;
        public decimal Price;
        public decimal Discount;
        public decimal Amount;
        public bool HasAmount;
        public decimal? TaxRate;
        public DateTimeOffset? At;
        public decimal Shipping;
        public decimal Total;
        public bool Restock;
        public List<RefundedLine> Lines = [];
    }

    private static bool OrderMember(ref JsonCursor json, ReadOnlySpan<byte> name, OrderParts order)
    {
        if (name.SequenceEqual("id"u8))
            return json.AnyText(out order.Id);
        if (name.SequenceEqual("number"u8))
            return json.AnyText(out order.Number);
        if (name.SequenceEqual("placedAt"u8))
            return json.Instant(out order.PlacedAt);
        if (name.SequenceEqual("state"u8))
            return json.AnyText(out order.State);
        if (name.SequenceEqual("currency"u8))
            return json.AnyText(out order.Currency);
        if (name.SequenceEqual("decimals"u8))
            return json.Whole(out order.Decimals);
        if (name.SequenceEqual("taxIncluded"u8))
            return json.Truth(out order.TaxIncluded);
        if (name.SequenceEqual("payment"u8))
            return Members(ref json, order.Payment, PaymentMember);
        if (name.SequenceEqual("email"u8))
            return json.AnyText(out order.Email);
        if (name.SequenceEqual("phone"u8))
            return json.AnyText(out order.Phone);
        if (name.SequenceEqual("account"u8))
            return json.AnyText(out order.Account);
        if (name.SequenceEqual("billTo"u8))
            return Address(ref json, out order.BillTo);
        if (name.SequenceEqual("shipTo"u8))
            return Address(ref json, out order.ShipTo);
        if (name.SequenceEqual("total"u8))
            return json.Amount(out order.Total);
        if (name.SequenceEqual("taxTotal"u8))
            return AmountOrNone(ref json, out order.TaxTotal);
        return ListMember(ref json, name, order);
    }

    private static bool ListMember(ref JsonCursor json, ReadOnlySpan<byte> name, OrderParts order)
    {
        if (name.SequenceEqual("lines"u8))
            return List(ref json, order.Lines, Line);
        if (name.SequenceEqual("shipping"u8))
            return List(ref json, order.Shipping, Shipping);
        if (name.SequenceEqual("discounts"u8))
            return List(ref json, order.Discounts, Discount);
        if (name.SequenceEqual("fees"u8))
            return List(ref json, order.Fees, Fee);
        if (name.SequenceEqual("vouchers"u8))
            return List(ref json, order.Vouchers, Voucher);
        return name.SequenceEqual("refunds"u8) && List(ref json, order.Refunds, Refund);
    }

    private static bool PaymentMember(ref JsonCursor json, ReadOnlySpan<byte> name, PaymentParts payment)
    {
        if (name.SequenceEqual("state"u8))
            return json.AnyText(out payment.State);
        return name.SequenceEqual("method"u8) && json.AnyText(out payment.Method);
    }

    private static OrderLine? Line(ref JsonCursor json)
    {
        var parts = new EntryParts();
        if (!Members(ref json, parts, LineMember) || parts.Id is null)
            return null;
        return new OrderLine
        {
            Id = parts.Id,
            Sku = parts.Sku,
            Title = parts.Title,
            Quantity = parts.Quantity,
            Price = parts.Price,
            Discount = parts.Discount,
            TaxRate = parts.TaxRate,
        };
    }

    private static bool LineMember(ref JsonCursor json, ReadOnlySpan<byte> name, EntryParts line)
    {
        if (name.SequenceEqual("id"u8))
            return json.AnyText(out line.Id);
        if (name.SequenceEqual("sku"u8))
            return json.AnyText(out line.Sku);
        if (name.SequenceEqual("title"u8))
            return json.AnyText(out line.Title);
        if (name.SequenceEqual("quantity"u8))
            return json.Whole(out line.Quantity);
        if (name.SequenceEqual("price"u8))
            return json.Amount(out line.Price);
        if (name.SequenceEqual("discount"u8))
            return json.Amount(out line.Discount);
        return name.SequenceEqual("taxRate"u8) && AmountOrNone(ref json, out line.TaxRate);
    }

    private static OrderShipping? Shipping(ref JsonCursor json) =>
        Besides(ref json) is { } parts ? new OrderShipping(parts.Method, parts.Amount, parts.TaxRate) : null;

    private static OrderDiscount? Discount(ref JsonCursor json) =>
        Besides(ref json) is { } parts ? new OrderDiscount(parts.Title, parts.Amount) : null;

    private static OrderFee? Fee(ref JsonCursor json) =>
        Besides(ref json) is { } parts ? new OrderFee(parts.Title, parts.Amount, parts.TaxRate) : null;

    private static OrderVoucher? Voucher(ref JsonCursor json) =>
        Besides(ref json) is { } parts ? new OrderVoucher(parts.Code, parts.Amount) : null;

    private static EntryParts? Besides(ref JsonCursor json)
    {
        var parts = new EntryParts();
        return Members(ref json, parts, BesideMember) && parts.HasAmount ? parts : null;
    }

    private static bool BesideMember(ref JsonCursor json, ReadOnlySpan<byte> name, EntryParts beside)
    {
        if (name.SequenceEqual("method"u8))
            return json.AnyText(out beside.Method);
        if (name.SequenceEqual("title"u8))
            return json.AnyText(out beside.Title);
        if (name.SequenceEqual("code"u8))
            return json.AnyText(out beside.Code);
        if (name.SequenceEqual("amount"u8))
            return beside.HasAmount = json.Amount(out beside.Amount);
        return name.SequenceEqual("taxRate"u8) && AmountOrNone(ref json, out beside.TaxRate);
    }

    private static OrderRefund? Refund(ref JsonCursor json)
    {
        var parts = new EntryParts();
        if (!Members(ref json, parts, RefundMember) || parts.Id is null)
            return null;
        return new OrderRefund
        {
            Id = parts.Id,
            At = parts.At,
            Lines = parts.Lines,
            Shipping = parts.Shipping,
            Total = parts.Total,
            Restock = parts.Restock,
        };
    }

    private static bool RefundMember(ref JsonCursor json, ReadOnlySpan<byte> name, EntryParts refund)
    {
        if (name.SequenceEqual("id"u8))
            return json.AnyText(out refund.Id);
        if (name.SequenceEqual("at"u8))
        {
            if (!json.Instant(out var at))
                return false;
            refund.At = at;
            return true;
        }

        if (name.SequenceEqual("lines"u8))
            return List(ref json, refund.Lines, Refunded);
        if (name.SequenceEqual("shipping"u8))
            return json.Amount(out refund.Shipping);
        if (name.SequenceEqual("total"u8))
            return json.Amount(out refund.Total);
        return name.SequenceEqual("restock"u8) && json.Truth(out refund.Restock);
    }

    private static RefundedLine? Refunded(ref JsonCursor json)
    {
        var parts = new EntryParts();
        return Members(ref json, parts, RefundedMember) && parts is { Line: not null, HasQuantity: true }
            ? new RefundedLine(parts.Line, parts.Quantity)
            : null;
    }

    private static bool RefundedMember(ref JsonCursor json, ReadOnlySpan<byte> name, EntryParts line)
    {
        if (name.SequenceEqual("line"u8))
            return json.AnyText(out line.Line);
        return name.SequenceEqual("quantity"u8) && (line.HasQuantity = json.Whole(out line.Quantity));
    }

    private static bool Address(ref JsonCursor json, out OrderAddress? address)
    {
        address = null;
        if (json.IsNull())
            return true;
        if (!json.Open('{'))
            return false;
        var values = new string?[OrderAddress.Parts.Count];
        var given = new List<string>(OrderAddress.Parts.Count);
        while (json.Member(out var name))
        {
            var part = PartOf(name);
            if (part < 0 || given.Contains(OrderAddress.Parts[part]) || !json.AnyText(out values[part]))
                return false;
            given.Add(OrderAddress.Parts[part]);
        }

        address = new OrderAddress
        {
            Name = values[0],
            Company = values[1],
            Street = values[2],
            City = values[3],
            Postcode = values[4],
            Country = values[5],
            Phone = values[6],
            Given = given,
        };
        return !json.Broken;
    }

    private static int PartOf(ReadOnlySpan<byte> name)
    {
        for (var i = 0; i < OrderAddress.Parts.Count; i++)
            if (Ascii.Equals(name, OrderAddress.Parts[i]))
                return i;
        return -1;
    }

    private static bool Members<T>(ref JsonCursor json, T into, Member<T> member)
    {
        if (!json.Open('{'))
            return false;
        while (json.Member(out var name))
            if (!member(ref json, name, into))
                return false;
        return !json.Broken;
    }

    private static bool List<T>(ref JsonCursor json, List<T> list, Entry<T> entry)
        where T : class
    {
        list.Clear();
        if (!json.Open('['))
            return false;
        while (json.Element())
        {
            if (entry(ref json) is not { } one)
                return false;
            list.Add(one);
        }

        return !json.Broken;
    }

    private static bool AmountOrNone(ref JsonCursor json, out decimal? amount)
    {
        amount = null;
        if (json.IsNull())
            return true;
        var known = json.Amount(out var number);
        amount = number;
        return known;
    }
}
