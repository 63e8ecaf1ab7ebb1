using System.Globalization;
using System.Text.Json;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.BackOffice;

/// <summary>The part of the back office's interface that is about customers, documents and credit notes.</summary>
internal static class SalesApi
{
    private const int PageSize = 200;

    public static void Map(RouteGroupBuilder api, SalesBook book)
    {
        api.MapGet(
            "/customers",
            (string? numbers, string? emails) =>
            {
                var wanted = numbers?.Split(',').ToHashSet(StringComparer.Ordinal);
                var mails = emails?.Split(',').ToHashSet(StringComparer.OrdinalIgnoreCase);
                var found = book
                    .Customers.Where(c => wanted?.Contains(c.Number) ?? mails?.Contains(c.Email) ?? true)
                    .Select(c => new
                    {
                        customerNo = c.Number,
                        name = c.Name,
                        company = c.Company,
                        email = c.Email,
                        phone = c.Phone,
                        postcode = c.Postcode,
                        town = c.Town,
                        account = c.Account,
                        priceGroup = c.PriceGroup,
                        addresses = c.Addresses.Select(Address),
                    });
                return Results.Json(new { data = found });
            }
        );
        Creates(api, "/customers/new", u => (book.Create(ReadCustomer(u), StoreReply.Text(u, "requestKey")), "customerNo"));
        Creates(
            api,
            "/customers/batch",
            u =>
            {
                var number = u.GetProperty("customerNo").GetString()!;
                return ((number, book.Change(number, c => Changed(c, u), Addresses(u), StoreReply.Text(u, "requestKey"))), "customerNo");
            }
        );
        api.MapGet(
            "/documents",
            (string? after, int? limit, string? modifiedSince, string? numbers, string? external) =>
                Page(
                    book.Documents,
                    d => d.Number,
                    d => d.ExternalNumber,
                    d => d.ChangedAt,
                    WriteDocument,
                    new Asked(after, limit, modifiedSince, numbers, external)
                )
        );
        Creates(api, "/documents/new", u => (book.Create(ReadDocument(u), StoreReply.Text(u, "requestKey")), "documentNo"));
        Creates(
            api,
            "/documents/batch",
            u =>
            {
                var number = u.GetProperty("documentNo").GetString()!;
                var key = StoreReply.Text(u, "requestKey");
                var lines = u.TryGetProperty("lines", out var list) ? list.EnumerateArray().Select(ReadLine).ToList() : null;
                var to = ReadAddress(u, "shipTo");
                var refusal =
                    StoreReply.Flag(u, "ended") == true ? book.Remove(number, key)
                    : lines is not null || to is not null ? book.Revise(number, lines, to, key)
                    : book.Change(number, d => d with { State = StoreReply.Text(u, "state") ?? d.State }, key);
                return ((number, refusal), "documentNo");
            }
        );
        api.MapGet(
            "/payments",
            (string? numbers, string? external) =>
            {
                var (wanted, externals) = (numbers?.Split(','), external?.Split(','));
                var found = book.Receipts.Where(r => wanted?.Contains(r.Number) ?? externals?.Contains(r.ExternalNumber) ?? true);
                return Results.Json(
                    new
                    {
                        data = found.Select(r => new
                        {
                            paymentNo = r.Number,
                            externalNo = r.ExternalNumber,
                            documentNo = r.Document,
                            type = r.Type,
                            amount = r.Amount,
                        }),
                    }
                );
            }
        );
        Creates(api, "/payments/new", u => (book.Create(ReadReceipt(u), StoreReply.Text(u, "requestKey")), "paymentNo"));
        api.MapGet(
            "/credit-notes",
            (string? after, int? limit, string? modifiedSince, string? numbers, string? external) =>
                Page(
                    book.Credits,
                    c => c.Number,
                    c => c.ExternalNumber,
                    c => c.ChangedAt,
                    WriteCredit,
                    new Asked(after, limit, modifiedSince, numbers, external)
                )
        );
        Creates(api, "/credit-notes/new", u => (book.Create(ReadCredit(u), StoreReply.Text(u, "requestKey")), "creditNo"));
    }

    private sealed record Asked(string? After, int? Limit, string? ModifiedSince, string? Numbers, string? External);

    private static void Creates(
        RouteGroupBuilder api,
        string path,
        Func<JsonElement, ((string? Number, string? Refusal) Done, string Name)> create
    ) =>
        api.MapPost(
            path,
            async (HttpRequest request) =>
            {
                try
                {
                    using var body = await JsonDocument.ParseAsync(request.Body);
                    var results = body.RootElement.GetProperty("updates").EnumerateArray().Select(u => Answer(u, create(u)));
                    return Results.Json(new { data = results.ToList() });
                }
                catch (Exception error)
                    when (error is JsonException or KeyNotFoundException or InvalidOperationException or FormatException)
                {
                    return Results.Json(new { error = new { code = "body", message = "The updates could not be read." } }, statusCode: 422);
                }
            }
        );

    private static Dictionary<string, string?> Answer(JsonElement u, ((string? Number, string? Refusal) Done, string Name) made) =>
        new(StringComparer.Ordinal)
        {
            ["requestKey"] = StoreReply.Text(u, "requestKey"),
            [made.Name] = made.Done.Number,
            ["state"] = made.Done.Refusal is null ? "saved" : "refused",
            ["message"] = made.Done.Refusal,
        };

    private static IResult Page<T>(
        IReadOnlyList<T> all,
        Func<T, string> number,
        Func<T, string> external,
        Func<T, DateTimeOffset> changed,
        Action<Utf8JsonWriter, T> write,
        Asked asked
    )
    {
        IEnumerable<T> found = all;
        if (asked.Numbers is { } numbers)
        {
            var wanted = numbers.Split(',').ToHashSet(StringComparer.Ordinal);
            found = found.Where(x => wanted.Contains(number(x)));
        }
        else if (asked.External is { } externals)
        {
            var wanted = externals.Split(',').ToHashSet(StringComparer.Ordinal);
            found = found.Where(x => wanted.Contains(external(x)));
        }

        if (asked.ModifiedSince is { } text)
        {
            var since = DateTimeOffset.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);
            found = found.Where(x => changed(x) >= since);
        }

        if (asked.After is { } after)
            found = found.Where(x => string.CompareOrdinal(number(x), after) > 0);
        var size = Math.Clamp(asked.Limit ?? PageSize, 1, 1000);
        var page = found.OrderBy(number, StringComparer.Ordinal).Take(size + 1).ToList();
        return StoreReply.Json(json =>
        {
            json.WriteStartObject();
            json.WriteStartArray("data");
            foreach (var one in page.Take(size))
                write(json, one);
            json.WriteEndArray();
            json.WriteString("next", page.Count > size ? number(page[size - 1]) : null);
            json.WriteEndObject();
        });
    }

    private static object Address(PostAddress a) =>
        new
        {
            name = a.Name,
            company = a.Company,
            street = a.Street,
            town = a.City,
            postcode = a.Postcode,
            country = a.Country,
            phone = a.Phone,
        };

    private static List<PostAddress> Addresses(JsonElement u) =>
        u.TryGetProperty("addresses", out var list) ? [.. list.EnumerateArray().Select(ReadAddress)] : [];

    private static OfficeCustomer Changed(OfficeCustomer c, JsonElement u) =>
        c with
        {
            Name = StoreReply.Text(u, "name") ?? c.Name,
            Company = StoreReply.Text(u, "company") ?? c.Company,
            Email = StoreReply.Text(u, "email") ?? c.Email,
            Phone = StoreReply.Text(u, "phone") ?? c.Phone,
            Postcode = StoreReply.Text(u, "postcode") ?? c.Postcode,
            Town = StoreReply.Text(u, "town") ?? c.Town,
            PriceGroup = StoreReply.Text(u, "priceGroup") ?? c.PriceGroup,
        };

    private static OfficeReceipt ReadReceipt(JsonElement u) =>
        new(
            "",
            StoreReply.Text(u, "externalNo") ?? "",
            StoreReply.Text(u, "documentNo") ?? "",
            StoreReply.Text(u, "type") ?? "",
            Amount(u, "amount")
        );

    private static PostAddress? ReadAddress(JsonElement u, string name) =>
        u.TryGetProperty(name, out var to) && to.ValueKind == JsonValueKind.Object ? ReadAddress(to) : null;

    private static PostAddress ReadAddress(JsonElement to) =>
        new(
            StoreReply.Text(to, "name") ?? "",
            StoreReply.Text(to, "company") ?? "",
            StoreReply.Text(to, "street") ?? "",
            StoreReply.Text(to, "town") ?? "",
            StoreReply.Text(to, "postcode") ?? "",
            StoreReply.Text(to, "country") ?? "",
            StoreReply.Text(to, "phone") ?? ""
        );

    private static OfficeCustomer ReadCustomer(JsonElement u) =>
        new(
            "",
            StoreReply.Text(u, "name") ?? "",
            StoreReply.Text(u, "company") ?? "",
            StoreReply.Text(u, "email") ?? "",
            StoreReply.Text(u, "phone") ?? "",
            StoreReply.Text(u, "postcode") ?? "",
            StoreReply.Text(u, "town") ?? "",
            StoreReply.Text(u, "account") ?? ""
        )
        {
            Addresses = Addresses(u),
            PriceGroup = StoreReply.Text(u, "priceGroup") ?? "",
        };

    private static OfficeDocument ReadDocument(JsonElement u) =>
        new()
        {
            Number = "",
            ExternalNumber = StoreReply.Text(u, "externalNo") ?? "",
            Kind = StoreReply.Text(u, "kind") ?? "order",
            Customer = StoreReply.Text(u, "customerNo") ?? "",
            PlacedAt = u.TryGetProperty("placedAt", out var at) && at.ValueKind == JsonValueKind.String ? at.GetDateTimeOffset() : null,
            Currency = StoreReply.Text(u, "currency") ?? "EUR",
            ShippingCode = StoreReply.Text(u, "shippingCode") ?? "",
            State = StoreReply.Text(u, "state") is { Length: > 0 } state ? state : "open",
            Location = StoreReply.Text(u, "location") ?? "",
            Register = StoreReply.Text(u, "register") ?? "",
            ChannelAccount = StoreReply.Text(u, "channelAccount") ?? "",
            SalesPerson = StoreReply.Text(u, "salesPerson") ?? "",
            Tags = StoreReply.Text(u, "tags") ?? "",
            TheirNumber = StoreReply.Text(u, "theirNo") ?? "",
            Remark = StoreReply.Text(u, "remark") ?? "",
            ShipTo = ReadAddress(u, "shipTo"),
            Lines = [.. u.GetProperty("lines").EnumerateArray().Select(ReadLine)],
            Payments = u.TryGetProperty("payments", out var paid)
                ? [.. paid.EnumerateArray().Select(p => new OfficePayment(StoreReply.Text(p, "type") ?? "", Amount(p, "amount")))]
                : [],
        };

    private static OfficeCredit ReadCredit(JsonElement u) =>
        new()
        {
            Number = "",
            ExternalNumber = StoreReply.Text(u, "externalNo") ?? "",
            Document = StoreReply.Text(u, "documentNo") ?? "",
            Restock = StoreReply.Flag(u, "restock") == true,
            Lines = [.. u.GetProperty("lines").EnumerateArray().Select(ReadLine)],
        };

    private static OfficeLine ReadLine(JsonElement l) =>
        new(
            StoreReply.Text(l, "kind") ?? "goods",
            StoreReply.Text(l, "articleNo") ?? "",
            StoreReply.Text(l, "text") ?? "",
            StoreReply.Whole(l, "quantity") ?? 1,
            Amount(l, "unitPrice"),
            Amount(l, "net"),
            Amount(l, "tax"),
            Amount(l, "gross"),
            Amount(l, "taxRate"),
            StoreReply.Text(l, "externalLine") ?? ""
        );

    private static decimal Amount(JsonElement of, string name) => StoreReply.Number(of, name) ?? 0;

    private static void WriteDocument(Utf8JsonWriter json, OfficeDocument d)
    {
        json.WriteStartObject();
        json.WriteString("documentNo", d.Number);
        json.WriteString("externalNo", d.ExternalNumber);
        json.WriteString("kind", d.Kind);
        json.WriteString("state", d.State);
        json.WriteString("customerNo", d.Customer);
        if (d.PlacedAt is { } placed)
            json.WriteString("placedAt", placed);
        json.WriteString("currency", d.Currency);
        json.WriteString("shippingCode", d.ShippingCode);
        json.WriteString("location", d.Location);
        json.WriteString("remark", d.Remark);
        json.WriteString("register", d.Register);
        json.WriteString("channelAccount", d.ChannelAccount);
        json.WriteString("salesPerson", d.SalesPerson);
        json.WriteString("tags", d.Tags);
        json.WriteString("theirNo", d.TheirNumber);
        json.WriteString("answer", d.Answer);
        if (d.ShipTo is { } to)
        {
            json.WritePropertyName("shipTo");
            JsonSerializer.Serialize(json, Address(to));
        }

        WriteLines(json, d.Lines);
        json.WriteStartArray("payments");
        foreach (var payment in d.Payments)
        {
            json.WriteStartObject();
            json.WriteString("type", payment.Type);
            json.WriteNumber("amount", payment.Amount);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteStartArray("shipments");
        foreach (var parcel in d.Parcels)
        {
            json.WriteStartObject();
            json.WriteString("id", parcel.Id);
            if (parcel.At is { } at)
                json.WriteString("shippedAt", at);
            json.WriteString("carrier", parcel.Carrier);
            json.WriteString("tracking", parcel.Tracking);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteNumber("net", d.Lines.Sum(l => l.Net));
        json.WriteNumber("tax", d.Lines.Sum(l => l.Tax));
        json.WriteNumber("gross", d.Lines.Sum(l => l.Gross));
        json.WriteString("changedAt", d.ChangedAt);
        json.WriteEndObject();
    }

    private static void WriteCredit(Utf8JsonWriter json, OfficeCredit c)
    {
        json.WriteStartObject();
        json.WriteString("creditNo", c.Number);
        json.WriteString("externalNo", c.ExternalNumber);
        json.WriteString("documentNo", c.Document);
        json.WriteBoolean("restock", c.Restock);
        WriteLines(json, c.Lines);
        json.WriteNumber("gross", c.Lines.Sum(l => l.Gross));
        json.WriteString("changedAt", c.ChangedAt);
        json.WriteEndObject();
    }

    private static void WriteLines(Utf8JsonWriter json, IReadOnlyList<OfficeLine> lines)
    {
        json.WriteStartArray("lines");
        foreach (var line in lines)
        {
            json.WriteStartObject();
            json.WriteString("kind", line.Kind);
            json.WriteString("articleNo", line.Article);
            json.WriteString("text", line.Text);
            json.WriteNumber("quantity", line.Quantity);
            json.WriteNumber("unitPrice", line.UnitPrice);
            json.WriteNumber("net", line.Net);
            json.WriteNumber("tax", line.Tax);
            json.WriteNumber("gross", line.Gross);
            json.WriteNumber("taxRate", line.TaxRate);
            if (line.ExternalLine.Length > 0)
                json.WriteString("externalLine", line.ExternalLine);
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }
}
