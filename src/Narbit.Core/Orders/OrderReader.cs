using System.Buffers;
using System.Buffers.Text;
using System.Text.Json;

namespace Narbit.Core.Orders;

/// <summary>
/// Reads an order from JSON without the serializer, several times as fast. It takes what is as it should be, and leaves everything else to
/// the serializer, which has the words for what is wrong: where this succeeds, both give the same order.
/// </summary>
public static class OrderReader
{
    private static readonly SearchValues<byte> _plain = SearchValues.Create("0123456789.-"u8);

    private delegate bool Member<T>(ref Utf8JsonReader json, T into);

    private delegate T? Entry<T>(ref Utf8JsonReader json);

    /// <summary>Reads the value that the reader stands before or at.</summary>
    /// <param name="json">The reader; left behind the order where it could be read.</param>
    /// <returns>The order; null: it is for the serializer.</returns>
    /// <exception cref="JsonException">It is no JSON.</exception>
    public static Order? Read(ref Utf8JsonReader json)
    {
        if (json.TokenType == JsonTokenType.PropertyName)
            json.Read();
        var parts = new OrderParts();
        return Members(ref json, parts, OrderMember) && parts.Id is not null ? parts.Made() : null;
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

    private static bool OrderMember(ref Utf8JsonReader json, OrderParts order)
    {
        if (json.ValueTextEquals("id"u8))
            return Text(ref json, out order.Id);
        if (json.ValueTextEquals("number"u8))
            return Text(ref json, out order.Number);
        if (json.ValueTextEquals("placedAt"u8))
            return json.Read() && json.TokenType == JsonTokenType.String && json.TryGetDateTimeOffset(out order.PlacedAt);
        if (json.ValueTextEquals("state"u8))
            return Text(ref json, out order.State);
        if (json.ValueTextEquals("currency"u8))
            return Text(ref json, out order.Currency);
        if (json.ValueTextEquals("decimals"u8))
            return Whole(ref json, out order.Decimals);
        if (json.ValueTextEquals("taxIncluded"u8))
            return Flag(ref json, out order.TaxIncluded);
        if (json.ValueTextEquals("payment"u8))
            return json.Read() && Members(ref json, order.Payment, PaymentMember);
        if (json.ValueTextEquals("email"u8))
            return Text(ref json, out order.Email);
        if (json.ValueTextEquals("phone"u8))
            return Text(ref json, out order.Phone);
        if (json.ValueTextEquals("account"u8))
            return Text(ref json, out order.Account);
        if (json.ValueTextEquals("billTo"u8))
            return Address(ref json, out order.BillTo);
        if (json.ValueTextEquals("shipTo"u8))
            return Address(ref json, out order.ShipTo);
        if (json.ValueTextEquals("total"u8))
            return Amount(ref json, out order.Total);
        if (json.ValueTextEquals("taxTotal"u8))
            return AmountOrNone(ref json, out order.TaxTotal);
        return ListMember(ref json, order);
    }

    private static bool ListMember(ref Utf8JsonReader json, OrderParts order)
    {
        if (json.ValueTextEquals("lines"u8))
            return List(ref json, order.Lines, Line);
        if (json.ValueTextEquals("shipping"u8))
            return List(ref json, order.Shipping, Shipping);
        if (json.ValueTextEquals("discounts"u8))
            return List(ref json, order.Discounts, Discount);
        if (json.ValueTextEquals("fees"u8))
            return List(ref json, order.Fees, Fee);
        if (json.ValueTextEquals("vouchers"u8))
            return List(ref json, order.Vouchers, Voucher);
        return json.ValueTextEquals("refunds"u8) && List(ref json, order.Refunds, Refund);
    }

    private static bool PaymentMember(ref Utf8JsonReader json, PaymentParts payment)
    {
        if (json.ValueTextEquals("state"u8))
            return Text(ref json, out payment.State);
        return json.ValueTextEquals("method"u8) && Text(ref json, out payment.Method);
    }

    private static OrderLine? Line(ref Utf8JsonReader json)
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

    private static bool LineMember(ref Utf8JsonReader json, EntryParts line)
    {
        if (json.ValueTextEquals("id"u8))
            return Text(ref json, out line.Id);
        if (json.ValueTextEquals("sku"u8))
            return Text(ref json, out line.Sku);
        if (json.ValueTextEquals("title"u8))
            return Text(ref json, out line.Title);
        if (json.ValueTextEquals("quantity"u8))
            return Whole(ref json, out line.Quantity);
        if (json.ValueTextEquals("price"u8))
            return Amount(ref json, out line.Price);
        if (json.ValueTextEquals("discount"u8))
            return Amount(ref json, out line.Discount);
        return json.ValueTextEquals("taxRate"u8) && AmountOrNone(ref json, out line.TaxRate);
    }

    private static OrderShipping? Shipping(ref Utf8JsonReader json) =>
        Besides(ref json) is { } parts ? new OrderShipping(parts.Method, parts.Amount, parts.TaxRate) : null;

    private static OrderDiscount? Discount(ref Utf8JsonReader json) =>
        Besides(ref json) is { } parts ? new OrderDiscount(parts.Title, parts.Amount) : null;

    private static OrderFee? Fee(ref Utf8JsonReader json) =>
        Besides(ref json) is { } parts ? new OrderFee(parts.Title, parts.Amount, parts.TaxRate) : null;

    private static OrderVoucher? Voucher(ref Utf8JsonReader json) =>
        Besides(ref json) is { } parts ? new OrderVoucher(parts.Code, parts.Amount) : null;

    private static EntryParts? Besides(ref Utf8JsonReader json)
    {
        var parts = new EntryParts();
        return Members(ref json, parts, BesideMember) && parts.HasAmount ? parts : null;
    }

    private static bool BesideMember(ref Utf8JsonReader json, EntryParts beside)
    {
        if (json.ValueTextEquals("method"u8))
            return Text(ref json, out beside.Method);
        if (json.ValueTextEquals("title"u8))
            return Text(ref json, out beside.Title);
        if (json.ValueTextEquals("code"u8))
            return Text(ref json, out beside.Code);
        if (json.ValueTextEquals("amount"u8))
            return beside.HasAmount = Amount(ref json, out beside.Amount);
        return json.ValueTextEquals("taxRate"u8) && AmountOrNone(ref json, out beside.TaxRate);
    }

    private static OrderRefund? Refund(ref Utf8JsonReader json)
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

    private static bool RefundMember(ref Utf8JsonReader json, EntryParts refund)
    {
        if (json.ValueTextEquals("id"u8))
            return Text(ref json, out refund.Id);
        if (json.ValueTextEquals("at"u8))
        {
            if (!json.Read() || json.TokenType != JsonTokenType.String || !json.TryGetDateTimeOffset(out var at))
                return false;
            refund.At = at;
            return true;
        }

        if (json.ValueTextEquals("lines"u8))
            return List(ref json, refund.Lines, Refunded);
        if (json.ValueTextEquals("shipping"u8))
            return Amount(ref json, out refund.Shipping);
        if (json.ValueTextEquals("total"u8))
            return Amount(ref json, out refund.Total);
        return json.ValueTextEquals("restock"u8) && Flag(ref json, out refund.Restock);
    }

    private static RefundedLine? Refunded(ref Utf8JsonReader json)
    {
        var parts = new EntryParts();
        return Members(ref json, parts, RefundedMember) && parts is { Line: not null, HasQuantity: true }
            ? new RefundedLine(parts.Line, parts.Quantity)
            : null;
    }

    private static bool RefundedMember(ref Utf8JsonReader json, EntryParts line)
    {
        if (json.ValueTextEquals("line"u8))
            return Text(ref json, out line.Line);
        return json.ValueTextEquals("quantity"u8) && (line.HasQuantity = Whole(ref json, out line.Quantity));
    }

    private static bool Address(ref Utf8JsonReader json, out OrderAddress? address)
    {
        address = null;
        if (!json.Read() || json.TokenType is not (JsonTokenType.StartObject or JsonTokenType.Null))
            return false;
        if (json.TokenType == JsonTokenType.Null)
            return true;
        var values = new string?[OrderAddressJson.Parts.Length];
        var given = new List<string>(OrderAddressJson.Parts.Length);
        while (json.Read() && json.TokenType == JsonTokenType.PropertyName)
        {
            var part = PartOf(ref json);
            if (part < 0 || given.Contains(OrderAddressJson.Parts[part]) || !Text(ref json, out values[part]))
                return false;
            given.Add(OrderAddressJson.Parts[part]);
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
        return json.TokenType == JsonTokenType.EndObject;
    }

    private static int PartOf(ref Utf8JsonReader json)
    {
        for (var i = 0; i < OrderAddressJson.Parts.Length; i++)
            if (json.ValueTextEquals(OrderAddressJson.Parts[i]))
                return i;
        return -1;
    }

    private static bool Members<T>(ref Utf8JsonReader json, T into, Member<T> member)
    {
        if (json.TokenType != JsonTokenType.StartObject)
            return false;
        while (json.Read() && json.TokenType == JsonTokenType.PropertyName)
            if (!member(ref json, into))
                return false;
        return json.TokenType == JsonTokenType.EndObject;
    }

    private static bool List<T>(ref Utf8JsonReader json, List<T> list, Entry<T> entry)
        where T : class
    {
        list.Clear();
        if (!json.Read() || json.TokenType != JsonTokenType.StartArray)
            return false;
        while (json.Read() && json.TokenType != JsonTokenType.EndArray)
        {
            if (entry(ref json) is not { } one)
                return false;
            list.Add(one);
        }

        return json.TokenType == JsonTokenType.EndArray;
    }

    private static bool Text(ref Utf8JsonReader json, out string? text)
    {
        text = json.Read() && json.TokenType == JsonTokenType.String ? json.GetString() : null;
        return text is not null || json.TokenType == JsonTokenType.Null;
    }

    private static bool Flag(ref Utf8JsonReader json, out bool flag)
    {
        flag = json.Read() && json.TokenType == JsonTokenType.True;
        return json.TokenType is JsonTokenType.True or JsonTokenType.False;
    }

    private static bool Whole(ref Utf8JsonReader json, out int number)
    {
        number = 0;
        return json.Read() && json.TokenType == JsonTokenType.Number && json.TryGetInt32(out number);
    }

    private static bool AmountOrNone(ref Utf8JsonReader json, out decimal? amount)
    {
        var known = Amount(ref json, out var number);
        amount = known ? number : null;
        return known || json.TokenType == JsonTokenType.Null;
    }

    // As text it is digits with at most one point; what else a serializer may take is left to it.
    private static bool Amount(ref Utf8JsonReader json, out decimal amount)
    {
        amount = 0;
        if (!json.Read())
            return false;
        if (json.TokenType == JsonTokenType.Number)
            return json.TryGetDecimal(out amount);
        if (json.TokenType != JsonTokenType.String || json.ValueIsEscaped || json.ValueSpan.ContainsAnyExcept(_plain))
            return false;
        return Utf8Parser.TryParse(json.ValueSpan, out amount, out var read) && read == json.ValueSpan.Length;
    }
}
