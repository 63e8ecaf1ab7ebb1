using System.Globalization;
using System.Text.Json;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.Orders;

/// <summary>
/// The market's purchases for programs: numbered pages of fifty, gross amounts as numbers, words of its own for everything.
/// </summary>
internal static class MarketOrdersApi
{
    private const int PageSize = 50;
    private const int MostUpdates = 20;

    public static void Map(RouteGroupBuilder api, StoreOrders orders)
    {
        api.MapGet(
            "/purchases",
            (int? page, string? ids, string? touchedSince) =>
            {
                if (ids is not null)
                    return Purchases(orders.Find(ids.Split(',', StringSplitOptions.RemoveEmptyEntries)), 1, 1, null);
                var number = Math.Max(1, page ?? 1);
                var (some, total) = orders.Page((number - 1) * PageSize, PageSize, StoreReply.Since(touchedSince));
                return Purchases(some, number, Math.Max(1, (total + PageSize - 1) / PageSize), total);
            }
        );
        api.MapPost(
            "/purchases/updates",
            async (HttpRequest request) =>
            {
                var news = await StoreReply.ReadAsync(request, "updates", Read);
                if (news is null)
                    return Results.Json(new { message = "The updates could not be read." }, statusCode: 422);
                if (news.Count > MostUpdates)
                    return Results.Json(new { message = $"At most {MostUpdates} updates." }, statusCode: 422);
                return Results.Json(new { updates = news.Select(n => Answer(n, orders.Tell(n))).ToList() });
            }
        );
    }

    private static object Answer(OrderNews news, string? refusal) =>
        new
        {
            purchase = news.Id,
            accepted = refusal is null ? "yes" : "no",
            because = refusal,
            requestId = news.Key,
        };

    private static OrderNews Read(JsonElement u) =>
        new(
            u.GetProperty("purchase").GetString()!,
            StoreReply.Text(u, "requestId"),
            StoreReply.Text(u, "stage"),
            StoreReply.Text(u, "sellerNumber"),
            StoreReply.Parcels(u, "dispatches", "dispatch", "leftAt", "by", "trace")
        );

    private static IResult Purchases(IReadOnlyList<StoreOrder> orders, int page, int pages, int? count) =>
        Results.Json(
            new
            {
                purchases = orders.Select(Purchase).ToList(),
                page,
                pages,
                count,
            }
        );

    private static object Purchase(StoreOrder o) =>
        new
        {
            purchase = o.Id,
            code = o.Number,
            boughtAt = o.PlacedAt,
            touchedAt = o.ChangedAt,
            stage = o.State,
            settlement = new { state = o.PaymentState, through = o.Method },
            buyer = new { mail = o.Email, tel = o.Phone },
            deliverTo = Address(o.ShipTo ?? o.BillTo),
            entries = o.Lines.Select(Entry).ToList(),
            deliveries = o.Shipping.Select(s => new { way = s.Method, cost = s.Amount }).ToList(),
            sum = new
            {
                amount = o.Total,
                currency = "EUR",
                vatInIt = o.TaxTotal,
            },
            givenBack = o.Refunds.Select(GivenBack).ToList(),
            remark = o.Comment,
            sellerNumber = o.HubNumber,
            dispatches = o
                .Parcels.Select(p => new
                {
                    dispatch = p.Id,
                    leftAt = p.At,
                    by = p.Carrier,
                    trace = p.Tracking,
                })
                .ToList(),
        };

    private static object Entry(OrderedLine l) =>
        new
        {
            entry = l.Id,
            sellerSku = l.Sku,
            headline = l.Title,
            pieces = l.Quantity,
            each = l.Price,
            off = l.Discount,
            vat = l.TaxRate?.ToString(CultureInfo.InvariantCulture),
        };

    private static object GivenBack(GivenBack r) =>
        new
        {
            back = r.Id,
            at = r.At,
            entries = r.Lines.Select(l => new { entry = l.Line, pieces = l.Quantity }).ToList(),
            delivery = r.Shipping,
            sum = r.Total,
            goodsReturn = r.Restock,
        };

    private static object? Address(PostAddress? a) =>
        a is null
            ? null
            : new
            {
                name = a.Name,
                firm = a.Company,
                road = a.Street,
                town = a.City,
                code = a.Postcode,
                land = a.Country,
            };
}
