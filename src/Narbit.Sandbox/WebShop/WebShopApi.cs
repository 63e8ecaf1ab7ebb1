using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Threading.RateLimiting;

namespace Narbit.Sandbox.WebShop;

/// <summary>
/// The web shop's interface for programs: basic authentication, pages by number, gross whole cents, kilograms, 429 above its rate.
/// </summary>
internal static class WebShopApi
{
    public const string User = "narbit";
    public const string Password = "shopfront-demo";
    private const int MostPerPage = 250;
    private const int MostInBatch = 50;

    public static void Map(IEndpointRouteBuilder app, WebShopState state, Orders.StoreOrders orders, int requestsPerSecond)
    {
        var limiter = new TokenBucketRateLimiter(
            new TokenBucketRateLimiterOptions
            {
                TokenLimit = requestsPerSecond * 2,
                TokensPerPeriod = requestsPerSecond,
                ReplenishmentPeriod = TimeSpan.FromSeconds(1),
                AutoReplenishment = true,
                QueueLimit = 0,
            }
        );
        var api = app.MapGroup("/web-shop/api")
            .AddEndpointFilter(
                async (context, next) =>
                {
                    if (!Authorized(context.HttpContext.Request))
                        return Results.Json(new { errors = "Wrong user or password." }, statusCode: 401);
                    using var lease = limiter.AttemptAcquire();
                    if (lease.IsAcquired)
                        return await next(context);
                    context.HttpContext.Response.Headers.RetryAfter = "1";
                    return Results.Json(new { errors = $"More than {requestsPerSecond} requests a second." }, statusCode: 429);
                }
            );

        api.MapGet(
            "/shop",
            () =>
                Results.Json(
                    new
                    {
                        shop = new
                        {
                            name = "Lanternmoor Web Shop",
                            currency = "EUR",
                            prices = "gross",
                        },
                    }
                )
        );
        Orders.ShopOrdersApi.Map(api, state, orders);
        api.MapGet(
            "/products",
            (int? page, int? per_page, string? updated_after, string? variant_ids) =>
            {
                if (variant_ids is not null)
                    return LookUp(state, variant_ids);
                DateTimeOffset? since = updated_after is null
                    ? null
                    : DateTimeOffset.Parse(updated_after, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);
                var size = Math.Clamp(per_page ?? 50, 1, MostPerPage);
                var number = Math.Max(1, page ?? 1);
                return Results.Bytes(
                    state.Page(
                        number,
                        size,
                        since,
                        (products, total) =>
                            WriteProducts(
                                products.Select(p => (p, p.Variants.AsEnumerable())),
                                json =>
                                {
                                    json.WriteNumber("page", number);
                                    json.WriteNumber("pages", Math.Max(1, (total + size - 1) / size));
                                    json.WriteNumber("total", total);
                                }
                            )
                    ),
                    "application/json"
                );
            }
        );
        foreach (var (path, creates) in new[] { ("/variants/batch", false), ("/variants/create", true) })
            api.MapPost(
                path,
                async (HttpRequest request) =>
                {
                    IReadOnlyList<ShopEdit> edits;
                    try
                    {
                        using var body = await JsonDocument.ParseAsync(request.Body);
                        edits = [.. body.RootElement.GetProperty("updates").EnumerateArray().Select(u => ReadUpdate(u, creates))];
                    }
                    catch (Exception error)
                        when (error is JsonException or KeyNotFoundException or InvalidOperationException or FormatException)
                    {
                        return Results.Json(new { errors = $"The updates could not be read: {error.Message}" }, statusCode: 422);
                    }

                    if (edits.Count > MostInBatch)
                        return Results.Json(new { errors = $"At most {MostInBatch} updates in a batch." }, statusCode: 422);
                    var (results, broken) = state.Update(edits);
                    return broken is not null
                        ? Results.Json(new { errors = $"Something went wrong while saving {broken}." }, statusCode: 500)
                        : Results.Json(
                            new
                            {
                                results = results.Select(r => new
                                {
                                    id = r.Id,
                                    status = r.Status,
                                    message = r.Message,
                                    request_key = r.Key,
                                }),
                            }
                        );
                }
            );
    }

    private static ShopEdit ReadUpdate(JsonElement update, bool creates)
    {
        ShopContent content = new(
            Stores.StoreReply.Emptied(update, "title"),
            Stores.StoreReply.Emptied(update, "body_html"),
            Stores.StoreReply.Emptied(update, "category"),
            Stores.StoreReply.Emptied(update, "option"),
            Stores.StoreReply.Number(update, "weight_kg"),
            Stores.StoreReply.Flag(update, "published"),
            Stores.StoreReply.List(update, "images"),
            Stores.StoreReply.List(update, "related")
        );
        int? Number(string name) =>
            update.TryGetProperty(name, out var value) && value.ValueKind != JsonValueKind.Null ? value.GetInt32() : null;
        return new ShopEdit
        {
            Key = update.TryGetProperty("request_key", out var key) ? key.GetString() : null,
            VariantId = creates ? 0 : update.GetProperty("id").GetInt64(),
            PriceCents = Number("price_cents"),
            SetsSale = update.TryGetProperty("sale_cents", out _),
            SaleCents = Number("sale_cents"),
            SetsCompareAt = update.TryGetProperty("compare_at_cents", out _),
            CompareAtCents = Number("compare_at_cents"),
            Quantity = Number("quantity"),
            Sku = Stores.StoreReply.Text(update, "sku"),
            Barcode = Stores.StoreReply.Text(update, "barcode"),
            Content = content == new ShopContent(null, null, null, null, null, null, null, null) ? null : content,
            Removed = Stores.StoreReply.Flag(update, "ended") == true,
            New = creates
                ? new NewVariant(
                    update.TryGetProperty("product_id", out var product) ? product.GetInt64() : null,
                    Stores.StoreReply.Text(update, "handle")
                )
                : null,
        };
    }

    private static IResult LookUp(WebShopState state, string ids)
    {
        var wanted = ids.Split(',', StringSplitOptions.RemoveEmptyEntries)
            .Select(id => long.TryParse(id, CultureInfo.InvariantCulture, out var n) ? n : -1)
            .ToList();
        return Results.Bytes(
            state.Lookup(
                wanted,
                found =>
                    WriteProducts(
                        found.GroupBy(f => f.Product).Select(g => (g.Key, g.Select(f => f.Variant))),
                        json => json.WriteNumber("total", found.Count)
                    )
            ),
            "application/json"
        );
    }

    private static byte[] WriteProducts(
        IEnumerable<(Product Product, IEnumerable<Variant> Variants)> products,
        Action<Utf8JsonWriter> envelope
    )
    {
        using var buffer = new MemoryStream();
        using (var json = new Utf8JsonWriter(buffer))
        {
            json.WriteStartObject();
            envelope(json);
            json.WriteStartArray("products");
            foreach (var (product, variants) in products)
                WriteProduct(json, product, variants);
            json.WriteEndArray();
            json.WriteEndObject();
        }

        return buffer.ToArray();
    }

    private static void WriteProduct(Utf8JsonWriter json, Product product, IEnumerable<Variant> variants)
    {
        json.WriteStartObject();
        json.WriteNumber("id", product.Id);
        json.WriteString("title", product.Title);
        json.WriteString("body_html", product.BodyHtml);
        json.WriteString("category", product.Category);
        json.WriteBoolean("published", product.Published);
        WriteList(json, "images", product.Images);
        WriteList(json, "related", product.Related);
        json.WriteString("updated_at", product.UpdatedAt);
        json.WriteStartArray("variants");
        foreach (var variant in variants)
        {
            json.WriteStartObject();
            json.WriteNumber("id", variant.Id);
            json.WriteString("sku", variant.Sku);
            json.WriteString("barcode", variant.Barcode);
            json.WriteString("option", variant.Option);
            json.WriteNumber("price_cents", variant.PriceCents);
            WriteNullable(json, "sale_cents", variant.SaleCents);
            WriteNullable(json, "compare_at_cents", variant.CompareAtCents);
            json.WriteNumber("quantity", variant.Quantity);
            if (variant.WeightKg is { } kg)
                json.WriteNumber("weight_kg", kg);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void WriteList(Utf8JsonWriter json, string name, List<string> list)
    {
        json.WriteStartArray(name);
        foreach (var one in list)
            json.WriteStringValue(one);
        json.WriteEndArray();
    }

    private static void WriteNullable(Utf8JsonWriter json, string name, int? value)
    {
        if (value is { } number)
            json.WriteNumber(name, number);
        else
            json.WriteNull(name);
    }

    private static bool Authorized(HttpRequest request) =>
        AuthenticationHeaderValue.TryParse(request.Headers.Authorization, out var header)
        && header is { Scheme: "Basic", Parameter: { } parameter }
        && parameter == Convert.ToBase64String(Encoding.UTF8.GetBytes($"{User}:{Password}"));
}
