using System.Buffers;
using System.Globalization;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Orders;

namespace Narbit.Cli;

/// <summary>
/// Writes what becomes of an order, as the serializer would: a file has very many of them, and writing them by their parts takes a third
/// of the time.
/// </summary>
internal static class OrderResultLine
{
    [ThreadStatic]
    private static Utf8JsonWriter? t_writer;

    /// <summary>Writes a result.</summary>
    public static void Write(OrderResult result, ArrayBufferWriter<byte> results)
    {
        var json = t_writer ??= new Utf8JsonWriter(
            results,
            new JsonWriterOptions { Encoder = RuleJson.Options.Encoder, SkipValidation = true }
        );
        json.Reset(results);
        json.WriteStartObject();
        json.WriteString("outcome"u8, Word(result.Outcome));
        Causes(json, result.Causes);
        json.WriteStartArray("remarks"u8);
        foreach (var remark in result.Remarks)
            json.WriteStringValue(remark);
        json.WriteEndArray();
        json.WritePropertyName("document"u8);
        if (result.Document is { } document)
            Document(json, document);
        else
            json.WriteNullValue();
        json.WriteStartArray("creditNotes"u8);
        foreach (var note in result.CreditNotes)
            Note(json, note);
        json.WriteEndArray();
        Trace(json, result.Trace);
        json.WriteEndObject();
        json.Flush();
    }

    private static void Causes(Utf8JsonWriter json, IReadOnlyList<OrderCause> causes)
    {
        json.WriteStartArray("causes"u8);
        foreach (var cause in causes)
            JsonSerializer.Serialize(json, cause, RuleJson.Options);
        json.WriteEndArray();
    }

    private static void Document(Utf8JsonWriter json, HubDocument document)
    {
        json.WriteStartObject();
        json.WriteString("number"u8, document.Number);
        json.WriteString("as"u8, document.As);
        json.WritePropertyName("customer"u8);
        JsonSerializer.Serialize(json, document.Customer, RuleJson.Options);
        json.WritePropertyName("shipTo"u8);
        JsonSerializer.Serialize(json, document.ShipTo, RuleJson.Options);
        json.WriteBoolean("placeholder"u8, document.Placeholder);
        json.WriteStartArray("shippingCodes"u8);
        foreach (var code in document.ShippingCodes)
            json.WriteStringValue(code);
        json.WriteEndArray();
        json.WriteStartArray("payments"u8);
        foreach (var payment in document.Payments)
        {
            json.WriteStartObject();
            json.WriteString("type"u8, payment.Type);
            Amount(json, "amount"u8, payment.Amount);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        Lines(json, document.Lines);
        Totals(json, document.Totals);
        json.WriteEndObject();
    }

    private static void Note(Utf8JsonWriter json, CreditNote note)
    {
        json.WriteStartObject();
        json.WriteString("refund"u8, note.Refund);
        json.WriteString("outcome"u8, Word(note.Outcome));
        Causes(json, note.Causes);
        json.WriteBoolean("restock"u8, note.Restock);
        Lines(json, note.Lines);
        Totals(json, note.Totals);
        json.WriteEndObject();
    }

    private static void Lines(Utf8JsonWriter json, IReadOnlyList<DocumentLine> lines)
    {
        json.WriteStartArray("lines"u8);
        foreach (var line in lines)
        {
            json.WriteStartObject();
            json.WriteString("kind"u8, Word(line.Kind));
            json.WriteString("item"u8, line.Item);
            json.WriteString("line"u8, line.Line);
            json.WriteNumber("quantity"u8, line.Quantity);
            if (line.UnitPrice is { } price)
                Amount(json, "unitPrice"u8, price);
            Amount(json, "net"u8, line.Net);
            Amount(json, "tax"u8, line.Tax);
            Amount(json, "gross"u8, line.Gross);
            Amount(json, "taxRate"u8, line.TaxRate);
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }

    private static void Totals(Utf8JsonWriter json, DocumentTotals totals)
    {
        json.WriteStartObject("totals"u8);
        Amount(json, "net"u8, totals.Net);
        Amount(json, "tax"u8, totals.Tax);
        Amount(json, "gross"u8, totals.Gross);
        json.WriteEndObject();
    }

    private static void Trace(Utf8JsonWriter json, IReadOnlyList<TraceStep> steps)
    {
        json.WriteStartArray("trace"u8);
        foreach (var step in steps)
        {
            json.WriteStartObject();
            json.WriteString("step"u8, step.Step);
            json.WriteString("before"u8, step.Before);
            json.WriteString("after"u8, step.After);
            json.WriteString("why"u8, step.Why);
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }

    // As text, without zeros at its end.
    private static void Amount(Utf8JsonWriter json, ReadOnlySpan<byte> name, decimal amount)
    {
        Span<char> digits = stackalloc char[32];
        if (!amount.TryFormat(digits, out var length, default, CultureInfo.InvariantCulture))
        {
            json.WriteString(name, Numbers.Plain(amount));
            return;
        }

        ReadOnlySpan<char> text = digits[..length];
        if (text.Contains('.'))
            text = text.TrimEnd('0').TrimEnd('.');
        json.WriteString(name, text is "-0" ? "0" : text);
    }

    private static ReadOnlySpan<byte> Word(OrderOutcome outcome) =>
        outcome switch
        {
            OrderOutcome.Take => "take"u8,
            OrderOutcome.Wait => "wait"u8,
            OrderOutcome.Hold => "hold"u8,
            _ => "skip"u8,
        };

    private static ReadOnlySpan<byte> Word(DocumentLineKind kind) =>
        kind switch
        {
            DocumentLineKind.Goods => "goods"u8,
            DocumentLineKind.Discount => "discount"u8,
            DocumentLineKind.Shipping => "shipping"u8,
            DocumentLineKind.Fee => "fee"u8,
            _ => "difference"u8,
        };
}
