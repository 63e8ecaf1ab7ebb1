using System.Buffers;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Orders;

namespace Narbit.Cli;

/// <summary>Writes what becomes of an order, as the serializer would: a file has very many of them.</summary>
internal static class OrderResultLine
{
    /// <summary>Writes a result.</summary>
    public static void Write(OrderResult result, IBufferWriter<byte> results)
    {
        var line = new JsonLine(results);
        line.Raw("{\"outcome\":"u8);
        line.Raw(Word(result.Outcome));
        Causes(ref line, result.Causes);
        line.Raw(",\"remarks\":"u8);
        Texts(ref line, result.Remarks);
        line.Raw(",\"document\":"u8);
        if (result.Document is { } document)
            Document(ref line, document);
        else
            line.Raw("null"u8);
        line.Raw(",\"creditNotes\":["u8);
        for (var i = 0; i < result.CreditNotes.Count; i++)
        {
            if (i > 0)
                line.Raw(","u8);
            Note(ref line, result.CreditNotes[i]);
        }

        line.Raw("]"u8);
        line.Trace(result.Trace);
        line.Raw("}"u8);
        line.End();
    }

    private static void Causes(ref JsonLine line, IReadOnlyList<OrderCause> causes)
    {
        line.Raw(",\"causes\":["u8);
        for (var i = 0; i < causes.Count; i++)
        {
            var cause = causes[i];
            line.Text(i == 0 ? "{\"cause\":"u8 : ",{\"cause\":"u8, cause.Code);
            line.Raw(",\"outcome\":"u8);
            line.Raw(Word(cause.Outcome));
            if (cause.NamesLine)
                line.Text(",\"line\":"u8, cause.Line);
            if (cause.By is { } by)
                line.Amount(",\"by\":"u8, by);
            line.Raw("}"u8);
        }

        line.Raw("]"u8);
    }

    private static void Texts(ref JsonLine line, IReadOnlyList<string?> texts)
    {
        line.Raw("["u8);
        for (var i = 0; i < texts.Count; i++)
            line.Text(i == 0 ? ""u8 : ","u8, texts[i]);
        line.Raw("]"u8);
    }

    private static void Document(ref JsonLine line, HubDocument document)
    {
        line.Text("{\"number\":"u8, document.Number);
        line.Text(",\"as\":"u8, document.As);
        line.Raw(",\"customer\":"u8);
        Customer(ref line, document.Customer);
        line.Raw(",\"shipTo\":"u8);
        Address(ref line, document.ShipTo);
        line.Raw(document.Placeholder ? ",\"placeholder\":true,\"shippingCodes\":"u8 : ",\"placeholder\":false,\"shippingCodes\":"u8);
        Texts(ref line, document.ShippingCodes);
        line.Raw(",\"payments\":["u8);
        for (var i = 0; i < document.Payments.Count; i++)
        {
            line.Text(i == 0 ? "{\"type\":"u8 : ",{\"type\":"u8, document.Payments[i].Type);
            line.Amount(",\"amount\":"u8, document.Payments[i].Amount);
            line.Raw("}"u8);
        }

        line.Raw("]"u8);
        Lines(ref line, document.Lines);
        Totals(ref line, document.Totals);
        line.Raw("}"u8);
    }

    private static void Customer(ref JsonLine line, OrderCustomer? customer)
    {
        if (customer is { Create: not null })
            line.Raw(JsonSerializer.SerializeToUtf8Bytes(customer, RuleJson.Options));
        else
            line.Text(customer?.Key);
    }

    private static void Address(ref JsonLine line, OrderAddress? address)
    {
        if (address is null)
        {
            line.Raw("null"u8);
            return;
        }

        line.Raw("{"u8);
        for (var i = 0; i < address.Given.Count; i++)
        {
            line.Text(i == 0 ? ""u8 : ","u8, address.Given[i]);
            line.Text(":"u8, address.Part(address.Given[i]));
        }

        line.Raw("}"u8);
    }

    private static void Note(ref JsonLine line, CreditNote note)
    {
        line.Text("{\"refund\":"u8, note.Refund);
        line.Raw(",\"outcome\":"u8);
        line.Raw(Word(note.Outcome));
        Causes(ref line, note.Causes);
        line.Raw(note.Restock ? ",\"restock\":true"u8 : ",\"restock\":false"u8);
        Lines(ref line, note.Lines);
        Totals(ref line, note.Totals);
        line.Raw("}"u8);
    }

    private static void Lines(ref JsonLine line, IReadOnlyList<DocumentLine> lines)
    {
        line.Raw(",\"lines\":["u8);
        for (var i = 0; i < lines.Count; i++)
        {
            var one = lines[i];
            line.Raw(i == 0 ? "{\"kind\":"u8 : ",{\"kind\":"u8);
            line.Raw(Word(one.Kind));
            line.Text(",\"item\":"u8, one.Item);
            line.Text(",\"line\":"u8, one.Line);
            line.Raw(",\"quantity\":"u8);
            line.Number(one.Quantity);
            if (one.UnitPrice is { } price)
                line.Amount(",\"unitPrice\":"u8, price);
            line.Amount(",\"net\":"u8, one.Net);
            line.Amount(",\"tax\":"u8, one.Tax);
            line.Amount(",\"gross\":"u8, one.Gross);
            line.Amount(",\"taxRate\":"u8, one.TaxRate);
            line.Raw("}"u8);
        }

        line.Raw("]"u8);
    }

    private static void Totals(ref JsonLine line, DocumentTotals totals)
    {
        line.Amount(",\"totals\":{\"net\":"u8, totals.Net);
        line.Amount(",\"tax\":"u8, totals.Tax);
        line.Amount(",\"gross\":"u8, totals.Gross);
        line.Raw("}"u8);
    }

    private static ReadOnlySpan<byte> Word(OrderOutcome outcome) =>
        outcome switch
        {
            OrderOutcome.Take => "\"take\""u8,
            OrderOutcome.Wait => "\"wait\""u8,
            OrderOutcome.Hold => "\"hold\""u8,
            _ => "\"skip\""u8,
        };

    private static ReadOnlySpan<byte> Word(DocumentLineKind kind) =>
        kind switch
        {
            DocumentLineKind.Goods => "\"goods\""u8,
            DocumentLineKind.Discount => "\"discount\""u8,
            DocumentLineKind.Shipping => "\"shipping\""u8,
            DocumentLineKind.Fee => "\"fee\""u8,
            _ => "\"difference\""u8,
        };
}
