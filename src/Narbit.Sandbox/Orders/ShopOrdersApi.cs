using System.Globalization;
using System.Text.Json;
using Narbit.Sandbox.Stores;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox.Orders;

/// <summary>The web shop's orders for programs: pages by number, gross whole cents, states of its own.</summary>
internal static class ShopOrdersApi
{
    private const int MostPerPage = 250;

    public static void Map(RouteGroupBuilder api, WebShopState shop, StoreOrders orders)
    {
        api.MapGet(
            "/orders",
            (int? page, int? per_page, string? updated_after, string? ids, string? external) =>
            {
                if (external is not null)
                    return Reply(orders.External(external.Split(',')), 1, 1, null);
                if (ids is not null)
                    return Reply(orders.Find(ids.Split(',')), 1, 1, null);
                var (number, size) = (Math.Max(1, page ?? 1), Math.Clamp(per_page ?? 50, 1, MostPerPage));
                var (some, total) = orders.Page((number - 1) * size, size, StoreReply.Since(updated_after));
                return Reply(some, number, Math.Max(1, (total + size - 1) / size), total);
            }
        );
        api.MapPost(
            "/orders/new",
            async (HttpRequest request) =>
            {
                var results = await StoreReply.ReadAsync(request, "updates", u => Made(u, shop, orders));
                return results is null
                    ? Results.Json(new { errors = "The updates could not be read." }, statusCode: 422)
                    : Results.Json(new { results });
            }
        );
        api.MapPost(
            "/orders/batch",
            async (HttpRequest request) =>
            {
                try
                {
                    using var body = await JsonDocument.ParseAsync(request.Body);
                    var news = body.RootElement.GetProperty("updates").EnumerateArray().Select(Read).ToList();
                    var results = news.Select(n => (n, refusal: orders.Tell(n)))
                        .Select(r => new
                        {
                            id = long.Parse(r.n.Id, CultureInfo.InvariantCulture),
                            request_key = r.n.Key,
                            status = r.refusal is null ? "ok" : "error",
                            message = r.refusal,
                        });
                    return Results.Json(new { results = results.ToList() });
                }
                catch (Exception error)
                    when (error is JsonException or KeyNotFoundException or InvalidOperationException or FormatException)
                {
                    return Results.Json(new { errors = $"The updates could not be read: {error.Message}" }, statusCode: 422);
                }
            }
        );
    }

    // An order that was bought in another store and is sent from here.
    private static object Made(JsonElement u, WebShopState shop, StoreOrders orders)
    {
        var key = StoreReply.Text(u, "request_key");
        List<OrderedLine> lines =
        [
            .. u.GetProperty("lines")
                .EnumerateArray()
                .Select(
                    (l, i) =>
                        new OrderedLine(
                            StoreReply.Text(l, "id") ?? (i + 1).ToString(CultureInfo.InvariantCulture),
                            StoreReply.Text(l, "sku") ?? "",
                            StoreReply.Text(l, "title") ?? "",
                            StoreReply.Whole(l, "quantity") ?? 1,
                            (StoreReply.Number(l, "price_cents") ?? 0) / 100,
                            (StoreReply.Number(l, "discount_cents") ?? 0) / 100,
                            StoreReply.Number(l, "tax_percent")
                        )
                ),
        ];
        var unknown = lines.Find(l => shop.VariantOf(l.Sku) is null);
        var (id, refusal, isNew) = unknown is not null
            ? (null, $"Nothing is sold under the SKU “{unknown.Sku}”.", false)
            : orders.Take(key, n => Order(u, n, lines));
        foreach (var line in lines.Where(_ => isNew))
            shop.Buy(shop.VariantOf(line.Sku)!.Value, line.Quantity);
        return new
        {
            id = id is null ? 0 : long.Parse(id, CultureInfo.InvariantCulture),
            request_key = key,
            status = refusal is null ? "ok" : "error",
            message = refusal,
        };
    }

    private static StoreOrder Order(JsonElement u, int n, List<OrderedLine> lines)
    {
        var number = (30_000 + n).ToString(CultureInfo.InvariantCulture);
        return Reckoning.Added(
            new StoreOrder
            {
                Id = number,
                Number = $"W{number}",
                PlacedAt = default,
                State = "processing",
                PaymentState = "paid",
                Method = "invoice",
                External = StoreReply.Text(u, "external_number") ?? "",
                Email = StoreReply.Text(u, "email") ?? "",
                Phone = StoreReply.Text(u, "phone") ?? "",
                Comment = StoreReply.Text(u, "comment") ?? "",
                BillTo = Address(u, "bill_to"),
                ShipTo = Address(u, "ship_to"),
                Lines = lines,
                Shipping = u.TryGetProperty("shipping", out var sendings)
                    ?
                    [
                        .. sendings
                            .EnumerateArray()
                            .Select(s => new Sending(StoreReply.Text(s, "way") ?? "standard", (StoreReply.Number(s, "cents") ?? 0) / 100)),
                    ]
                    : [],
                Discounts = OnTop(u, "discounts"),
                Fees = OnTop(u, "fees"),
            },
            gross: true
        );
    }

    private static List<OnTop> OnTop(JsonElement u, string name) =>
        u.TryGetProperty(name, out var list)
            ?
            [
                .. list.EnumerateArray()
                    .Select(e => new OnTop(StoreReply.Text(e, "title") ?? "", (StoreReply.Number(e, "cents") ?? 0) / 100)),
            ]
            : [];

    private static PostAddress? Address(JsonElement u, string name) =>
        u.TryGetProperty(name, out var to) && to.ValueKind == JsonValueKind.Object ? ReadAddress(to) : null;

    private static OrderNews Read(JsonElement u) =>
        new(
            u.GetProperty("id").GetRawText(),
            StoreReply.Text(u, "request_key"),
            StoreReply.Text(u, "state"),
            StoreReply.Text(u, "office_number"),
            StoreReply.Parcels(u, "parcels", "id", "sent_at", "carrier", "tracking")
        )
        {
            Answer = StoreReply.Text(u, "answer"),
            Lines = u.TryGetProperty("lines", out var lines)
                ? [.. lines.EnumerateArray().Select(l => new ReturnedLine(StoreReply.Text(l, "id")!, StoreReply.Whole(l, "quantity") ?? 0))]
                : null,
            ShipTo = Address(u, "ship_to"),
        };

    private static PostAddress ReadAddress(JsonElement to) =>
        new(
            StoreReply.Text(to, "name") ?? "",
            StoreReply.Text(to, "company") ?? "",
            StoreReply.Text(to, "street") ?? "",
            StoreReply.Text(to, "city") ?? "",
            StoreReply.Text(to, "postcode") ?? "",
            StoreReply.Text(to, "country") ?? "",
            StoreReply.Text(to, "phone") ?? ""
        );

    private static IResult Reply(IReadOnlyList<StoreOrder> orders, int page, int pages, int? total) =>
        StoreReply.Json(json =>
        {
            json.WriteStartObject();
            json.WriteNumber("page", page);
            json.WriteNumber("pages", pages);
            if (total is { } all)
                json.WriteNumber("total", all);
            json.WriteStartArray("orders");
            foreach (var order in orders)
                Write(json, order);
            json.WriteEndArray();
            json.WriteEndObject();
        });

    private static void Write(Utf8JsonWriter json, StoreOrder o)
    {
        json.WriteStartObject();
        json.WriteNumber("id", long.Parse(o.Id, CultureInfo.InvariantCulture));
        json.WriteString("number", o.Number);
        json.WriteString("placed_at", o.PlacedAt);
        json.WriteString("updated_at", o.ChangedAt);
        json.WriteString("state", o.State);
        json.WriteString("currency", "EUR");
        json.WriteBoolean("gross", true);
        json.WriteString("paid", o.PaymentState);
        json.WriteString("payment", o.Method);
        json.WriteString("email", o.Email);
        json.WriteString("phone", o.Phone);
        WriteAddress(json, "bill_to", o.BillTo);
        WriteAddress(json, "ship_to", o.ShipTo);
        json.WriteStartArray("lines");
        foreach (var line in o.Lines)
        {
            json.WriteStartObject();
            json.WriteString("id", line.Id);
            json.WriteString("sku", line.Sku);
            json.WriteString("title", line.Title);
            json.WriteNumber("quantity", line.Quantity);
            json.WriteNumber("price_cents", Cents(line.Price));
            json.WriteNumber("discount_cents", Cents(line.Discount));
            if (line.TaxRate is { } rate)
                json.WriteNumber("tax_percent", rate);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteStartArray("shipping");
        foreach (var sending in o.Shipping)
        {
            json.WriteStartObject();
            json.WriteString("way", sending.Method);
            json.WriteNumber("cents", Cents(sending.Amount));
            json.WriteEndObject();
        }

        json.WriteEndArray();
        WriteOnTop(json, "discounts", o.Discounts);
        WriteOnTop(json, "fees", o.Fees);
        json.WriteStartArray("vouchers");
        foreach (var voucher in o.Vouchers)
        {
            json.WriteStartObject();
            json.WriteString("code", voucher.Code);
            json.WriteNumber("cents", Cents(voucher.Amount));
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteNumber("total_cents", Cents(o.Total));
        json.WriteNumber("tax_cents", Cents(o.TaxTotal));
        json.WriteStartArray("refunds");
        foreach (var refund in o.Refunds)
            WriteRefund(json, refund);
        json.WriteEndArray();
        json.WriteString("comment", o.Comment);
        if (o.External.Length > 0)
            json.WriteString("external_number", o.External);
        json.WriteString("answer", o.Answer);
        json.WriteString("office_number", o.HubNumber);
        json.WriteStartArray("parcels");
        foreach (var parcel in o.Parcels)
        {
            json.WriteStartObject();
            json.WriteString("id", parcel.Id);
            if (parcel.At is { } at)
                json.WriteString("sent_at", at);
            json.WriteString("carrier", parcel.Carrier);
            json.WriteString("tracking", parcel.Tracking);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void WriteRefund(Utf8JsonWriter json, GivenBack refund)
    {
        json.WriteStartObject();
        json.WriteString("id", refund.Id);
        json.WriteString("at", refund.At);
        json.WriteStartArray("lines");
        foreach (var line in refund.Lines)
        {
            json.WriteStartObject();
            json.WriteString("line", line.Line);
            json.WriteNumber("quantity", line.Quantity);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteNumber("shipping_cents", Cents(refund.Shipping));
        json.WriteNumber("total_cents", Cents(refund.Total));
        json.WriteBoolean("restock", refund.Restock);
        json.WriteEndObject();
    }

    private static void WriteOnTop(Utf8JsonWriter json, string name, IReadOnlyList<OnTop> list)
    {
        json.WriteStartArray(name);
        foreach (var one in list)
        {
            json.WriteStartObject();
            json.WriteString("title", one.Title);
            json.WriteNumber("cents", Cents(one.Amount));
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }

    private static void WriteAddress(Utf8JsonWriter json, string name, PostAddress? address)
    {
        if (address is null)
        {
            json.WriteNull(name);
            return;
        }

        json.WriteStartObject(name);
        json.WriteString("name", address.Name);
        json.WriteString("company", address.Company);
        json.WriteString("street", address.Street);
        json.WriteString("city", address.City);
        json.WriteString("postcode", address.Postcode);
        json.WriteString("country", address.Country);
        json.WriteString("phone", address.Phone);
        json.WriteEndObject();
    }

    private static long Cents(decimal amount) => (long)Math.Round(amount * 100, 0, MidpointRounding.AwayFromZero);
}
