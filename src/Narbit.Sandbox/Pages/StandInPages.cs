using System.Globalization;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox.Pages;

/// <summary>What a person sees of the stand-ins: the back office's shelf list, the shop, and the dial that makes them misbehave.</summary>
internal static class StandInPages
{
    private const string OfficeHead = """
        <header><a href="/back-office/">Lanternmoor Back Office</a><span>articles and stock</span>
        <a href="/back-office/documents">Documents</a></header>
        """;
    private const string ShopHead = """
        <header><a href="/web-shop/">Lanternmoor Web Shop</a><span>clay, glazes, tools, kilns</span>
        <a href="/web-shop/basket">Basket</a> <a href="/web-shop/orders">Orders</a></header>
        """;

    public static void Map(
        IEndpointRouteBuilder app,
        BackOfficeState office,
        WebShopState shop,
        IReadOnlyDictionary<string, FaultDial> dials
    )
    {
        app.MapGet("/", (string? said) => Index(shop, dials, said));
        app.MapPost(
                "/dial/{standIn}",
                async (string standIn, HttpRequest request) =>
                {
                    if (!dials.TryGetValue(standIn, out var dial))
                        return Results.NotFound();
                    var form = await request.ReadFormAsync();
                    double Share(string name) =>
                        double.TryParse(form[name], CultureInfo.InvariantCulture, out var percent) ? Math.Clamp(percent / 100, 0, 1) : 0;
                    dial.Shares = new FaultShares(
                        Share("tooMany"),
                        Share("error"),
                        Share("lostBefore"),
                        Share("lostAfter"),
                        Share("twice"),
                        Share("halfPage"),
                        FailedAfter: Share("failedAfter"),
                        DoneLate: Share("doneLate")
                    );
                    return Results.Redirect("/?said=The+dial+is+set.");
                }
            )
            .DisableAntiforgery();
        app.MapPost(
                "/break",
                async (HttpRequest request) =>
                {
                    var form = await request.ReadFormAsync();
                    shop.Break(form["sku"].ToString(), form["breaks"] != "no");
                    return Results.Redirect("/?said=Set.");
                }
            )
            .DisableAntiforgery();

        app.MapGet("/back-office/", (string? q) => OfficeList(office, q ?? ""));
        app.MapGet("/back-office/a/{number}", (string number, string? said) => OfficeArticle(office, number, said));
        app.MapPost(
                "/back-office/a/{number}",
                async (string number, HttpRequest request) => OfficeSave(office, number, await request.ReadFormAsync())
            )
            .DisableAntiforgery();

        app.MapGet("/web-shop/", (string? q) => ShopList(shop, q ?? ""));
        app.MapGet("/web-shop/p/{id:long}", (long id, string? said) => ShopProduct(shop, id, said));
        app.MapPost(
                "/web-shop/p/{id:long}",
                async (long id, HttpRequest request) =>
                {
                    var form = await request.ReadFormAsync();
                    var variant = long.Parse(form["variant"].ToString(), CultureInfo.InvariantCulture);
                    var quantity = int.TryParse(form["quantity"], CultureInfo.InvariantCulture, out var q) ? q : 1;
                    var refusal = shop.Buy(variant, quantity);
                    return Results.Redirect($"/web-shop/p/{id}?said={Uri.EscapeDataString(refusal ?? "Thank you, your order is placed.")}");
                }
            )
            .DisableAntiforgery();
        app.MapGet("/web-shop/writes", () => Results.Json(shop.Applied));
    }

    private static IResult Index(WebShopState shop, IReadOnlyDictionary<string, FaultDial> dials, string? said)
    {
        string Field(string name, string label, double share) =>
            $"""<td><label>{label}<br><input class="short" name="{name}" value="{Html.Text(share * 100)}"> %</label></td>""";
        var rows = dials.Select(d =>
        {
            var s = d.Value.Shares;
            return $"""
                <form method="post" action="/dial/{d.Key}"><h2><a href="/{d.Key}/">{Html.Text(d.Key)}</a></h2><table><tr>
                {Field("tooMany", "429", s.TooMany)}{Field("error", "500", s.Error)}{Field(
                    "lostBefore",
                    "lost before the write",
                    s.LostBefore
                )}
                {Field("lostAfter", "lost after the write", s.LostAfter)}{Field("twice", "arrives twice", s.Twice)}{Field(
                    "halfPage",
                    "half a page",
                    s.HalfPage
                )}{Field("failedAfter", "502 after the write", s.FailedAfter)}{Field("doneLate", "written late", s.DoneLate)}
                <td><button>Set the dial</button><br><small>{d.Value.Dealt} dealt</small></td></tr></table></form>
                """;
        });
        return Html.Page(
            "Sandbox",
            "",
            $"""
            <header><a href="/">Narbit sandbox</a><span>stand-ins and their fault dials</span></header>
            <main>{Html.Note(said)}{string.Concat(rows)}
            <h2>A record that breaks its batch</h2>
            <form method="post" action="/break"><label>SKU in the web shop <input name="sku" required></label> <button>Break it</button>
            <button name="breaks" value="no">Mend it</button> <small>now: {Html.Text(
                string.Join(", ", shop.Breaking)
            )}</small></form></main>
            """
        );
    }

    private static IResult OfficeList(BackOfficeState office, string q)
    {
        var rows = office
            .Search(q, 100)
            .Select(a =>
                $"""
                    <tr><td><a href="/back-office/a/{a.Number}">{a.Number}</a></td><td>{Html.Text(a.Sku)}</td><td>{Html.Text(a.Name)}</td>
                    <td class="num">{Html.Text(a.Studio)}</td><td class="num">{a.Stock.Values.Sum(s => s.OnHand)}</td></tr>
                    """
            );
        return Html.Page(
            "Back Office",
            "office",
            $"""
            {OfficeHead}<main><form><label>Find an article <input name="q" value="{Html.Text(q)}"></label> <button>Find</button></form>
            <table><thead><tr><th>No.</th><th>SKU</th><th>Name</th>
            <th class="num">Studio, net €</th><th class="num">On hand</th></tr></thead><tbody>{string.Concat(rows)}</tbody></table>
            <p><small>The first 100.</small></p></main>
            """
        );
    }

    private static IResult OfficeArticle(BackOfficeState office, string number, string? said)
    {
        if (office.Find(number) is not { } a)
            return Results.NotFound();
        var prices = new[] { ("Studio", a.Studio), ("School", a.School), ("Counter", a.Counter) }.Select(p =>
            $"""
                <tr><td><label for="{p.Item1}">{p.Item1}, net €</label></td>
                <td><input class="short" id="{p.Item1}" name="price.{p.Item1}" value="{Html.Text(p.Item2)}"></td></tr>
                """
        );
        var stock = Locations.All.Select(
            (l, i) =>
            {
                var shelf = a.Stock.GetValueOrDefault(l, new Shelf(0, 0, 0));
                return $"""
                    <tr><td><label for="stock{i}">{l}</label></td>
                    <td><input class="short" id="stock{i}" name="stock.{l}" value="{shelf.OnHand}"></td>
                    <td>{shelf.Allocated} allocated</td><td>{shelf.Incoming} incoming</td></tr>
                    """;
            }
        );
        return Html.Page(
            a.Name,
            "office",
            $"""
            {OfficeHead}<main>{Html.Note(said)}<h1>{Html.Text(a.Name)}</h1><p>{a.Number} · SKU {Html.Text(a.Sku)} · {Html.Text(
                a.Category
            )} · tax {Html.Text(a.TaxCode)}</p>
            <form method="post"><h2>Prices</h2><table>{string.Concat(prices)}</table><h2>On hand</h2><table>{string.Concat(stock)}</table>
            <p><button>Save the article</button></p></form></main>
            """
        );
    }

    private static IResult OfficeSave(BackOfficeState office, string number, IFormCollection form)
    {
        if (office.Find(number) is not { } article)
            return Results.NotFound();
        var changes = 0;
        foreach (var (name, current) in new[] { ("Studio", article.Studio), ("School", article.School), ("Counter", article.Counter) })
        {
            var text = form[$"price.{name}"].ToString();
            decimal? amount = decimal.TryParse(text, CultureInfo.InvariantCulture, out var parsed) ? parsed : null;
            if (amount == current || (text.Length > 0 && amount is null))
                continue;
            office.Edit(number, name, amount, null, null);
            changes++;
        }

        foreach (var location in Locations.All)
        {
            if (!int.TryParse(form[$"stock.{location}"], CultureInfo.InvariantCulture, out var onHand))
                continue;
            if (onHand == article.Stock.GetValueOrDefault(location)?.OnHand)
                continue;
            office.Edit(number, null, null, location, onHand);
            changes++;
        }

        return Results.Redirect($"/back-office/a/{number}?said={(changes == 0 ? "Nothing+changed." : "Saved.")}");
    }

    private static IResult ShopList(WebShopState shop, string q)
    {
        var cards = shop.Search(q, 60)
            .Select(p =>
                $"""
                    <a class="card" href="/web-shop/p/{p.Id}"><strong>{Html.Text(p.Title)}</strong><br><small>{Html.Text(
                        p.Category
                    )}</small><br>
                    <span class="price">{Euro(p.Variants.Select(v => v.SaleCents ?? v.PriceCents).DefaultIfEmpty().Min())}</span></a>
                    """
            );
        return Html.Page(
            "Web Shop",
            "shop",
            $"""
            {ShopHead}<main><form><label>What are you looking for? <input name="q" value="{Html.Text(
                q
            )}"></label> <button>Search</button></form><div class="grid">{string.Concat(cards)}</div></main>
            """
        );
    }

    private static IResult ShopProduct(WebShopState shop, long id, string? said)
    {
        if (shop.Find(id) is not { } p)
            return Results.NotFound();
        var rows = p.Variants.Select(v =>
            $"""
                <tr data-variant="{v.Id}"><td>{Html.Text(v.Option)}<br><small>{Html.Text(v.Sku)}</small></td>
                <td class="price">{(v.SaleCents is { } sale ? $"{Euro(sale)} <s>{Euro(v.PriceCents)}</s>" : Euro(v.PriceCents))}{(
                    v.CompareAtCents is { } c ? $" <s>{Euro(c)}</s>" : ""
                )}</td>
                <td class="stock">{(v.Quantity > 0 ? $"{v.Quantity} in stock" : "sold out")}</td>
                <td><form method="post"><input type="hidden" name="variant" value="{v.Id}">
                <label>Quantity <input class="short" name="quantity" value="1"></label>
                <button {(v.Quantity > 0 ? "" : "disabled")}>Buy</button>
                <button formaction="/web-shop/basket" {(v.Quantity > 0 ? "" : "disabled")}>Put in the basket</button></form></td></tr>
                """
        );
        return Html.Page(
            p.Title,
            "shop",
            $"""
            {ShopHead}<main>{Html.Note(said)}<h1>{Html.Text(p.Title)}</h1>{p.BodyHtml}<table>{string.Concat(
                rows
            )}</table><p><small>Prices include VAT.</small></p></main>
            """
        );
    }

    private static string Euro(int cents) => $"€ {(cents / 100m).ToString("0.00", CultureInfo.InvariantCulture)}";
}
