using System.Text.Json;
using Narbit.Sandbox.Orders;

namespace Narbit.Sandbox.Stores;

/// <summary>
/// The marketplace's interface for programs: a seller key, listings in numbered pages, gross prices in an object, a limit on the quantity
/// shown, kits.
/// </summary>
public static class MarketApi
{
    public const string SellerKey = "clay-lane-demo-key";

    public static void Map(IEndpointRouteBuilder app, StoreState state, StoreOrders orders)
    {
        var api = app.MapGroup("/clay-lane/seller/v2")
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.Request.Headers["X-Seller-Key"] == SellerKey
                        ? await next(context)
                        : Results.Json(new { message = "No such seller." }, statusCode: 403)
            );

        MarketOrdersApi.Map(api, orders);
        api.MapGet("/me", () => Results.Json(new { seller = new { displayName = "Clay Lane Market: Lanternmoor" } }));
        api.MapGet(
            "/listings",
            (int? page, string? ids) =>
            {
                if (ids is not null)
                    return state.Find(
                        ids.Split(',', StringSplitOptions.RemoveEmptyEntries),
                        found => Listings(found, 1, found.Count, found.Count)
                    );
                var number = Math.Max(1, page ?? 1);
                return state.Read((number - 1) * 50, 50, null, (listings, total) => Listings(listings, number, total, 50));
            }
        );
        foreach (var (path, creates) in new[] { ("/listings/updates", false), ("/listings/offers", true) })
            api.MapPost(
                path,
                async (HttpRequest request) =>
                {
                    var edits = await StoreReply.EditsAsync(request, "updates", u => ReadUpdate(u, creates));
                    if (edits is null)
                        return Results.Json(new { message = "The updates could not be read." }, statusCode: 422);
                    if (edits.Count > 20)
                        return Results.Json(new { message = "At most 20 updates." }, statusCode: 422);
                    return Results.Json(
                        new
                        {
                            updates = state
                                .Edit(edits)
                                .Select(r => new
                                {
                                    listing = r.Id,
                                    accepted = r.Refusal is null ? "yes" : "no",
                                    because = r.Refusal,
                                    requestId = r.Key,
                                }),
                        }
                    );
                }
            );
    }

    private static IResult Listings(IReadOnlyList<Listing> listings, int page, int total, int size) =>
        StoreReply.Json(json =>
        {
            json.WriteStartObject();
            json.WriteStartArray("listings");
            foreach (var l in listings)
            {
                json.WriteStartObject();
                json.WriteString("listing", l.Id);
                json.WriteString("sellerSku", l.Sku);
                json.WriteString("headline", l.Title);
                json.WriteString("ean", l.Barcode);
                json.WriteString("brand", l.Brand);
                json.WriteString("department", l.Category);
                json.WriteStartObject("price");
                json.WriteNumber("amount", l.Price);
                json.WriteString("currency", "EUR");
                json.WriteEndObject();
                json.WriteStartObject("stock");
                json.WriteNumber("shown", l.Quantity);
                if (l.ShowsAtMost is { } most)
                    json.WriteNumber("atMost", most);
                json.WriteEndObject();
                json.WriteString("text", l.Description);
                json.WriteString("picture", l.Image);
                if (l.Kit.Count > 0)
                    json.WriteString("bundle", $"kit of {l.Kit.Sum(k => k.Quantity)} pieces");
                json.WriteBoolean("live", l.Published);
                json.WriteEndObject();
            }

            json.WriteEndArray();
            json.WriteNumber("page", page);
            json.WriteNumber("pages", Math.Max(1, (total + size - 1) / Math.Max(1, size)));
            json.WriteNumber("count", total);
            json.WriteEndObject();
        });

    /// <summary>What the market asks of a listing, and how it numbers them.</summary>
    public static StoreWays Ways { get; } =
        new(
            listings => $"CL{listings.Select(StoreState.NumberOf).DefaultIfEmpty(7_000).Max() + 3}",
            l =>
                l.Title.Length == 0 ? "A listing needs a headline."
                : l.Title.Length > 80 ? "A headline has at most 80 characters."
                : l.Image.Length == 0 ? "A listing needs a picture."
                : l.Category.Length == 0 ? "A listing needs a department."
                : null
        );

    private static ListingEdit ReadUpdate(JsonElement u, bool creates) =>
        new ListingEdit
        {
            Key = StoreReply.Text(u, "requestId"),
            Id = creates ? "" : u.GetProperty("listing").GetString()!,
            Price = u.TryGetProperty("amount", out var amount) && amount.ValueKind == JsonValueKind.Number ? amount.GetDecimal() : null,
            Quantity = StoreReply.Whole(u, "shown"),
            Sku = StoreReply.Text(u, "sellerSku"),
            Barcode = StoreReply.Text(u, "ean"),
            Content =
                new ListingContent(
                    StoreReply.Emptied(u, "headline"),
                    null,
                    StoreReply.Emptied(u, "department"),
                    StoreReply.Emptied(u, "brand"),
                    StoreReply.Emptied(u, "text"),
                    StoreReply.Emptied(u, "picture"),
                    StoreReply.Flag(u, "live")
                )
                    is var content
                && content == new ListingContent(null)
                    ? null
                    : content,
            New = creates ? new NewListing(null) : null,
            Ended = StoreReply.Flag(u, "ended") == true,
        };
}
