using System.Globalization;
using System.Text.Json;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.Orders;

/// <summary>
/// The trade portal's requisitions for programs: the portal's envelope and cursors, net amounts as text with a comma, the number of the
/// account that ordered and that account's own number of the order.
/// </summary>
internal static class PortalOrdersApi
{
    private const int MostPerPage = 200;
    private const int MostNotes = 40;

    public static void Map(RouteGroupBuilder api, StoreOrders orders)
    {
        api.MapGet(
            "/requisitions",
            (string? from, int? take, string? refs, string? since) =>
            {
                if (refs is not null)
                    return Envelope(orders.Find(refs.Split(',', StringSplitOptions.RemoveEmptyEntries)), null);
                var start = int.TryParse(from, CultureInfo.InvariantCulture, out var n) ? n : 0;
                var size = Math.Clamp(take ?? 50, 1, MostPerPage);
                var (some, total) = orders.Page(start, size, StoreReply.Since(since));
                return Envelope(some, start + size < total ? (start + size).ToString(CultureInfo.InvariantCulture) : null);
            }
        );
        api.MapPost(
            "/requisition-notes",
            async (HttpRequest request) =>
            {
                var news = await StoreReply.ReadAsync(request, "changes", Read);
                if (news is null || news.Count > MostNotes)
                    return Results.Json(
                        new { ok = false, fault = new { text = $"Notes are a list of at most {MostNotes} changes." } },
                        statusCode: 422
                    );
                return Results.Json(new { ok = true, result = new { outcomes = news.Select(n => Answer(n, orders.Tell(n))).ToList() } });
            }
        );
    }

    private static object Answer(OrderNews news, string? refusal) =>
        new
        {
            @ref = news.Id,
            state = refusal is null ? "taken" : "rejected",
            reason = refusal,
            ticket = news.Key,
        };

    private static OrderNews Read(JsonElement c) =>
        new(
            c.GetProperty("ref").GetString()!,
            StoreReply.Text(c, "ticket"),
            StoreReply.Text(c, "status"),
            StoreReply.Text(c, "ourNumber"),
            StoreReply.Parcels(c, "consignments", "id", "sentOn", "haulier", "waybill")
        );

    private static IResult Envelope(IReadOnlyList<StoreOrder> orders, string? next) =>
        Results.Json(new { ok = true, result = new { entries = orders.Select(Requisition).ToList(), @continue = next } });

    private static object Requisition(StoreOrder o) =>
        new
        {
            @ref = o.Id,
            docNo = o.Number,
            placedOn = o.PlacedAt,
            status = o.State,
            paid = o.PaymentState,
            terms = o.Method,
            money = "EUR",
            customerNo = o.Account,
            theirOrderNo = o.TheirNumber,
            mail = o.Email,
            tel = o.Phone,
            invoiceTo = Address(o.BillTo),
            deliverTo = Address(o.ShipTo),
            positions = o.Lines.Select(Position).ToList(),
            freight = o
                .Shipping.Select(s => new
                {
                    kind = s.Method,
                    net = Amount(s.Amount),
                    tax = Rate(s.TaxRate),
                })
                .ToList(),
            grossSum = Amount(o.Total),
            taxSum = Amount(o.TaxTotal),
            credits = o.Refunds.Select(Credit).ToList(),
            message = o.Comment,
            ourNumber = o.HubNumber,
            consignments = o
                .Parcels.Select(p => new
                {
                    id = p.Id,
                    sentOn = p.At,
                    haulier = p.Carrier,
                    waybill = p.Tracking,
                })
                .ToList(),
        };

    private static object Position(OrderedLine l) =>
        new
        {
            pos = l.Id,
            articleCode = l.Sku,
            caption = l.Title,
            count = l.Quantity,
            netEach = Amount(l.Price),
            netOff = Amount(l.Discount),
            tax = Rate(l.TaxRate),
        };

    private static object Credit(GivenBack r) =>
        new
        {
            id = r.Id,
            on = r.At,
            positions = r.Lines.Select(l => new { pos = l.Line, count = l.Quantity }).ToList(),
            freight = Amount(r.Shipping),
            gross = Amount(r.Total),
            returned = r.Restock,
        };

    private static object? Address(PostAddress? a) =>
        a is null
            ? null
            : new
            {
                contact = a.Name,
                firm = a.Company,
                street = a.Street,
                town = a.City,
                zip = a.Postcode,
                country = a.Country,
                tel = a.Phone,
            };

    private static string Amount(decimal amount) => amount.ToString("0.00", CultureInfo.InvariantCulture).Replace('.', ',');

    private static string? Rate(decimal? rate) => rate?.ToString("0.##", CultureInfo.InvariantCulture).Replace('.', ',');
}
