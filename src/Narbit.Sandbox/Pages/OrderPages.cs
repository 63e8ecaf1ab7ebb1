using System.Globalization;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox.Pages;

/// <summary>What a person sees of orders: a store's, with a basket and a check-out in the shop, and the back office's documents.</summary>
internal static class OrderPages
{
    private const int Shown = 60;
    private const string Basket = "basket";

    /// <summary>A store's orders: pay, cancel, give a line or all back.</summary>
    public static void MapStore(
        IEndpointRouteBuilder app,
        string path,
        string name,
        string theme,
        StoreOrders orders,
        bool gross,
        Func<StoreOrder, StoreOrder>? paid = null
    )
    {
        app.MapGet(
            $"{path}/orders",
            (string? said) => Html.Page(name, theme, $"{Head(path, name)}<main>{Html.Note(said)}{Rows(path, orders)}</main>")
        );
        app.MapPost(
                $"{path}/orders/{{id}}",
                async (string id, HttpRequest request) =>
                {
                    var form = await request.ReadFormAsync();
                    var refusal = form["act"].ToString() switch
                    {
                        "pay" => orders.Change(id, paid ?? (o => o with { PaymentState = "paid" })),
                        "cancel" => orders.Change(id, o => o with { State = "cancelled" }),
                        "one" => orders.GiveBack(id, form["line"].ToString(), 1, gross),
                        "all" => orders.GiveBack(id, null, 0, gross),
                        "more" => orders.Change(id, o => More(o, form["line"].ToString(), gross)),
                        _ => "There is nothing like that to do.",
                    };
                    return Results.Redirect($"{path}/orders?said={Uri.EscapeDataString(refusal ?? $"Order {id} is changed.")}");
                }
            )
            .DisableAntiforgery();
    }

    /// <summary>The shop's basket and check-out.</summary>
    public static void MapBasket(IEndpointRouteBuilder app, WebShopState shop, StoreOrders orders)
    {
        app.MapPost(
                "/web-shop/basket",
                async (HttpRequest request, HttpResponse response) =>
                {
                    var form = await request.ReadFormAsync();
                    var held = request.Cookies[Basket] is { Length: > 0 } before ? $"{before}." : "";
                    var quantity = int.TryParse(form["quantity"], CultureInfo.InvariantCulture, out var q) ? Math.Max(1, q) : 1;
                    response.Cookies.Append(Basket, $"{held}{form["variant"]}x{quantity}");
                    return Results.Redirect("/web-shop/basket");
                }
            )
            .DisableAntiforgery();
        app.MapGet("/web-shop/basket", (HttpRequest request, string? said) => CheckOut(shop, Held(request, shop), said));
        app.MapPost(
                "/web-shop/check-out",
                async (HttpRequest request, HttpResponse response) =>
                {
                    var form = await request.ReadFormAsync();
                    var held = Held(request, shop);
                    if (held.Count == 0)
                        return Results.Redirect("/web-shop/basket?said=The+basket+is+empty.");
                    foreach (var (variant, _, quantity) in held)
                        if (shop.Buy(variant.Id, quantity) is { } refusal)
                            return Results.Redirect($"/web-shop/basket?said={Uri.EscapeDataString(refusal)}");
                    string Said(string field) => form[field].ToString().Trim();
                    var placed = orders.Place(n => Order(n, held, Said));
                    response.Cookies.Delete(Basket);
                    return Results.Redirect($"/web-shop/orders?said={Uri.EscapeDataString($"Thank you. Your order is {placed.Number}.")}");
                }
            )
            .DisableAntiforgery();
    }

    /// <summary>The back office's documents, with what can be done with them, and its credit notes.</summary>
    public static void MapOffice(IEndpointRouteBuilder app, SalesBook book)
    {
        app.MapGet("/back-office/documents", (string? said) => Documents(book, said));
        app.MapPost(
                "/back-office/documents/{number}",
                async (string number, HttpRequest request) =>
                {
                    var form = await request.ReadFormAsync();
                    var refusal = form["act"].ToString() switch
                    {
                        "ship" => book.Ship(number, true, form["carrier"].ToString(), form["tracking"].ToString()),
                        "part" => book.Ship(number, false, form["carrier"].ToString(), form["tracking"].ToString()),
                        "cancel" => book.Cancel(number),
                        "answer" => book.Change(number, d => d with { Answer = form["answer"].ToString() }),
                        "more" => book.More(number, int.TryParse(form["line"], CultureInfo.InvariantCulture, out var line) ? line : -1),
                        _ => "There is nothing like that to do.",
                    };
                    return Results.Redirect(
                        $"/back-office/documents?said={Uri.EscapeDataString(refusal ?? $"Document {number} is changed.")}"
                    );
                }
            )
            .DisableAntiforgery();
        app.MapGet(
            "/back-office/customers",
            () =>
                Html.Page(
                    "Customers",
                    "office",
                    $"""
                    {OfficeHead}<main><table><thead><tr><th>No.<th>Name<th>Company<th>Email<th>Postcode</tr></thead><tbody>{string.Concat(
                        book.Customers.Reverse()
                            .Take(Shown * 2)
                            .Select(c => new[] { c.Number, c.Name, c.Company, c.Email, c.Postcode })
                            .Select(c => $"<tr>{string.Concat(c.Select(text => $"<td>{Html.Text(text)}"))}</tr>"
                            )
                    )}</tbody></table></main>
                    """
                )
        );
    }

    private const string OfficeHead = """
        <header><a href="/back-office/">Lanternmoor Back Office</a><a href="/back-office/documents">Documents</a>
        <a href="/back-office/customers">Customers</a></header>
        """;

    private static string Head(string path, string name) =>
        $"""<header><a href="{path}/">{Html.Text(name)}</a><span>orders</span></header>""";

    private static string Rows(string path, StoreOrders orders) =>
        $"""
            <table><thead><tr><th>Order<th>State<th>Lines<th class="num">Total<th>Sent<th></tr></thead><tbody>{string.Concat(
                orders.All.Reverse().Take(Shown).Select(o => Row(path, o))
            )}</tbody></table><p><small>The newest {Shown}.</small></p>
            """;

    private static string Row(string path, StoreOrder o)
    {
        var lines = o.Lines.Select(l =>
            $"""
            {l.Quantity} × {Html.Text(l.Sku)} <small>{Html.Text(l.Title)}</small> <button name="line" value="{Html.Text(l.Id)}"
            onclick="this.form.act.value='one'">Give one back</button> <button name="line" value="{Html.Text(
                l.Id
            )}" onclick="this.form.act.value='more'">One more</button>
            """
        );
        var parcels = o.Parcels.Select(p => $"{Html.Text(p.Carrier)} {Html.Text(p.Tracking)}");
        return $"""
            <tr data-order="{Html.Text(o.Id)}"><td>{Html.Text(o.Number)}<br><small>{o.PlacedAt:yyyy-MM-dd HH:mm} {Html.Text(
                o.Email
            )}</small>
            <td class="state">{Html.Text(o.State)}<br><small>{Html.Text(o.PaymentState)}{(
                o.HubNumber.Length > 0 ? $", office no. {Html.Text(o.HubNumber)}" : ""
            )}</small>
            <td><form method="post" action="{path}/orders/{o.Id}"><input type="hidden" name="act" value="">{string.Join(
                "<br>",
                lines
            )}</form>
            <td class="num">€ {o.Total.ToString("0.00", CultureInfo.InvariantCulture)}{(
                o.Refunds.Count > 0 ? $"<br><small>{o.Refunds.Count} given back</small>" : ""
            )}{(o.Answer.Length > 0 ? $"<br><small>answered: {Html.Text(o.Answer)}</small>" : "")}
            <td class="parcels">{string.Join("<br>", parcels)}
            <td><form method="post" action="{path}/orders/{o.Id}"><button name="act" value="pay">Pay</button>
            <button name="act" value="cancel">Cancel</button> <button name="act" value="all">Give all back</button></form></tr>
            """;
    }

    private static StoreOrder More(StoreOrder order, string line, bool gross) =>
        Reckoning.Added(
            order with
            {
                Lines = [.. order.Lines.Select(l => l.Id == line ? l with { Quantity = l.Quantity + 1 } : l)],
            },
            gross
        );

    private static List<(Variant Variant, string Title, int Quantity)> Held(HttpRequest request, WebShopState shop) =>
        [
            .. (request.Cookies[Basket] ?? "")
                .Split('.', StringSplitOptions.RemoveEmptyEntries)
                .Select(part => part.Split('x'))
                .Where(part => part.Length == 2 && long.TryParse(part[0], out _) && int.TryParse(part[1], out _))
                .SelectMany(part =>
                    shop.Lookup(
                        [long.Parse(part[0], CultureInfo.InvariantCulture)],
                        found =>
                            found
                                .Select(f =>
                                    (
                                        f.Variant,
                                        $"{f.Product.Title} {f.Variant.Option}".Trim(),
                                        int.Parse(part[1], CultureInfo.InvariantCulture)
                                    )
                                )
                                .ToList()
                    )
                ),
        ];

    private static IResult CheckOut(WebShopState shop, List<(Variant Variant, string Title, int Quantity)> held, string? said)
    {
        var rows = held.Select(h =>
            $"<tr><td>{h.Quantity} × {Html.Text(h.Title)}<td class=\"num\">€ {Price(h.Variant) * h.Quantity:0.00}</tr>"
        );
        string Field(string name, string label, string value = "") =>
            $"""<p><label>{label}<br><input name="{name}" value="{Html.Text(value)}"></label></p>""";
        return Html.Page(
            "Basket",
            "shop",
            $"""
            {Head("/web-shop", "Lanternmoor Web Shop")}<main>{Html.Note(said)}<table><tbody>{string.Concat(rows)}</tbody></table>
            <form method="post" action="/web-shop/check-out">{Field("name", "Name")}{Field("email", "Email")}{Field("street", "Street")}
            {Field("city", "Town")}{Field("postcode", "Postcode")}{Field("voucher", "Voucher worth, €", "0")}{Field(
                "comment",
                "Anything else"
            )}
            <p><label>Sent by <select name="shipping"><option value="standard">standard, € 5.90</option><option value="express">express,
            € 12.50</option><option value="collect">I collect it</option></select></label>
            <label>Paid by <select name="payment"><option>card</option><option>invoice</option></select></label></p>
            <button>Place the order</button></form></main>
            """
        );
    }

    private static decimal Price(Variant variant) => (variant.SaleCents ?? variant.PriceCents) / 100m;

    private static StoreOrder Order(int n, List<(Variant Variant, string Title, int Quantity)> held, Func<string, string> said)
    {
        var number = (30_000 + n).ToString(CultureInfo.InvariantCulture);
        var sending = said("shipping") switch
        {
            "express" => new Sending("express", 12.50m),
            "collect" => new Sending("collect", 0),
            _ => new Sending("standard", 5.90m),
        };
        var order = Reckoning.Added(
            new StoreOrder
            {
                Id = number,
                Number = $"W{number}",
                PlacedAt = default,
                State = "processing",
                PaymentState = "paid",
                Method = said("payment"),
                Email = said("email"),
                BillTo = new PostAddress(said("name"), "", said("street"), said("city"), said("postcode"), "IE"),
                Lines =
                [
                    .. held.Select(
                        (h, i) =>
                            new OrderedLine(
                                (i + 1).ToString(CultureInfo.InvariantCulture),
                                h.Variant.Sku,
                                h.Title,
                                h.Quantity,
                                Price(h.Variant),
                                0,
                                20
                            )
                    ),
                ],
                Shipping = [sending],
                Comment = said("comment"),
            },
            gross: true
        );
        return decimal.TryParse(said("voucher"), CultureInfo.InvariantCulture, out var worth) && worth > 0
            ? order with
            {
                Vouchers = [new UsedVoucher("GIFT", Math.Min(worth, order.Total))],
            }
            : order;
    }

    private static string OfficeLine(OfficeLine line, int place) =>
        line.Kind == "goods"
            ? $"""{line.Quantity} × {Html.Text(line.Article)} <button name="line" value="{place}">One more</button>"""
            : $"{line.Quantity} × {Html.Text(line.Article.Length > 0 ? line.Article : line.Kind)}";

    private static IResult Documents(SalesBook book, string? said)
    {
        var credits = book.Credits.ToLookup(c => c.Document, StringComparer.Ordinal);
        var customers = book.Customers.ToDictionary(c => c.Number, StringComparer.Ordinal);
        var rows = book
            .Documents.Reverse()
            .Take(Shown)
            .Select(d =>
                $"""
                <tr data-document="{Html.Text(d.Number)}"><td>{Html.Text(d.Number)}<br><small>{Html.Text(d.ExternalNumber)}</small>
                <td>{Html.Text(customers.GetValueOrDefault(d.Customer)?.Name)}<br><small>{Html.Text(d.Customer)}</small>
                <td class="state">{Html.Text(d.Kind)}, {Html.Text(d.State)}
                <td><form method="post" action="/back-office/documents/{d.Number}">
                <input type="hidden" name="act" value="more">{string.Join(
                    "<br>",
                    d.Lines.Select(OfficeLine)
                )}</form>
                <td class="num">€ {d.Lines.Sum(l => l.Gross).ToString("0.00", CultureInfo.InvariantCulture)}{string.Concat(
                    credits[d.Number].Select(c => $"<br><small>credit note {c.Number}: € {c.Lines.Sum(l => l.Gross):0.00}</small>")
                )}
                <td>{string.Join("<br>", d.Parcels.Select(p => $"{Html.Text(p.Carrier)} {Html.Text(p.Tracking)}"))}
                <td><form method="post" action="/back-office/documents/{d.Number}"><input name="carrier" class="short" aria-label="Carrier"
                value="Moor Post"> <input name="tracking" class="short" aria-label="Tracking number" value="MP{Html.Text(d.Number)}">
                <button name="act" value="ship">Ship all</button> <button name="act" value="part">Ship a part</button>
                <button name="act" value="cancel">Cancel</button><br>
                <input name="answer" aria-label="Answer to the buyer" value="{Html.Text(d.Answer)}">
                <button name="act" value="answer">Answer</button></form></tr>
                """
            );
        return Html.Page(
            "Documents",
            "office",
            $"""
            {OfficeHead}<main>{Html.Note(said)}<table><thead><tr><th>Document<th>Customer<th>State<th>Lines<th class="num">Gross<th>Sent<th>
            </tr></thead><tbody>{string.Concat(rows)}</tbody></table><p><small>The newest {Shown}.</small></p></main>
            """
        );
    }
}
