using System.Globalization;
using System.Text.Json;
using Narbit.Sandbox.Orders;

namespace Narbit.Sandbox.Stores;

/// <summary>
/// The trade portal's interface for programs: a bearer token, an envelope of its own, cursors, net prices as text with a comma, a tax
/// class on each entry.
/// </summary>
public static class TradePortalApi
{
    public const string Token = "studio-trade-demo-token";
    private const int MostPerPage = 200;

    /// <summary>The groups of customers that have prices of their own.</summary>
    public static IReadOnlyList<string> Groups { get; } = ["schools", "counter"];

    public static void Map(IEndpointRouteBuilder app, StoreState state, StoreAccounts accounts, StoreOrders orders)
    {
        var api = app.MapGroup("/trade-portal/gate")
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.Request.Headers.Authorization == $"Bearer {Token}"
                        ? await next(context)
                        : Results.Json(new { ok = false, fault = new { text = "The token is not known here." } }, statusCode: 401)
            );

        PortalOrdersApi.Map(api, orders);
        api.MapGet("/about", () => Results.Json(new { ok = true, result = new { portal = "Studio Trade Portal", currency = "EUR" } }));
        api.MapGet(
            "/entries",
            (string? from, int? take, string? refs) =>
                refs is null
                    ? Page(state, from, take)
                    : state.Find(refs.Split(',', StringSplitOptions.RemoveEmptyEntries), found => Entries(found, null))
        );
        MapAccounts(api, accounts);
        foreach (var (path, creates) in new[] { ("/changes", false), ("/additions", true) })
            api.MapPost(
                path,
                async (HttpRequest request) =>
                {
                    var edits = await StoreReply.EditsAsync(request, "changes", c => ReadChange(c, creates));
                    if (edits is null)
                        return Results.Json(new { ok = false, fault = new { text = "The changes could not be read." } }, statusCode: 422);
                    if (edits.Count > 40)
                        return Results.Json(new { ok = false, fault = new { text = "At most 40 changes at a time." } }, statusCode: 422);
                    return Results.Json(
                        new
                        {
                            ok = true,
                            result = new
                            {
                                outcomes = state
                                    .Edit(edits)
                                    .Select(r => new
                                    {
                                        @ref = r.Id,
                                        state = r.Refusal is null ? "taken" : "rejected",
                                        reason = r.Refusal,
                                        ticket = r.Key,
                                    }),
                            },
                        }
                    );
                }
            );
    }

    private static void MapAccounts(RouteGroupBuilder api, StoreAccounts accounts)
    {
        api.MapGet(
            "/accounts",
            (string? refs) =>
            {
                var wanted = refs?.Split(',');
                var entries = accounts.All.Where(a => wanted?.Contains(a.Id) ?? true).Select(Entry).ToList();
                return Results.Json(new { ok = true, result = new { entries, @continue = (string?)null } });
            }
        );
        foreach (var (path, creates) in new[] { ("/account-changes", false), ("/account-additions", true) })
            api.MapPost(
                path,
                async (HttpRequest request) =>
                {
                    var answers = await StoreReply.ReadAsync(request, "changes", c => Answer(c, creates, accounts));
                    return answers is null
                        ? Results.Json(new { ok = false, fault = new { text = "The changes could not be read." } }, statusCode: 422)
                        : Results.Json(new { ok = true, result = new { outcomes = answers } });
                }
            );
    }

    private static object Entry(Account a) =>
        new
        {
            @ref = a.Id,
            customerNo = a.Number,
            contact = a.Contact,
            firm = a.Firm,
            mail = a.Mail,
            tel = a.Phone,
            zip = a.Postcode,
            town = a.Town,
            priceGroup = a.Group,
        };

    private static object Answer(JsonElement c, bool creates, StoreAccounts accounts)
    {
        var id = creates ? null : c.GetProperty("ref").GetString();
        var (made, refusal) = accounts.Write(StoreReply.Text(c, "ticket"), id, a => Changed(a, c));
        return new
        {
            @ref = made ?? id,
            state = refusal is null ? "taken" : "rejected",
            reason = refusal,
            ticket = StoreReply.Text(c, "ticket"),
        };
    }

    private static Account Changed(Account a, JsonElement c) =>
        a with
        {
            Number = StoreReply.Emptied(c, "customerNo") ?? a.Number,
            Contact = StoreReply.Emptied(c, "contact") ?? a.Contact,
            Firm = StoreReply.Emptied(c, "firm") ?? a.Firm,
            Mail = StoreReply.Emptied(c, "mail") ?? a.Mail,
            Phone = StoreReply.Emptied(c, "tel") ?? a.Phone,
            Postcode = StoreReply.Emptied(c, "zip") ?? a.Postcode,
            Town = StoreReply.Emptied(c, "town") ?? a.Town,
            Group = StoreReply.Emptied(c, "priceGroup") ?? a.Group,
        };

    private static IResult Page(StoreState state, string? from, int? take)
    {
        var start = int.TryParse(from, CultureInfo.InvariantCulture, out var n) ? n : 0;
        var size = Math.Clamp(take ?? 50, 1, MostPerPage);
        return state.Read(
            start,
            size,
            null,
            (listings, total) => Entries(listings, start + size < total ? (start + size).ToString(CultureInfo.InvariantCulture) : null)
        );
    }

    private static IResult Entries(IReadOnlyList<Listing> listings, string? next) =>
        StoreReply.Json(json =>
            Envelope(
                json,
                next,
                () =>
                {
                    foreach (var l in listings)
                    {
                        json.WriteStartObject();
                        json.WriteString("ref", l.Id);
                        json.WriteString("family", l.Parent);
                        json.WriteString("articleCode", l.Sku);
                        json.WriteString("caption", l.Title);
                        json.WriteString("variantText", l.Option);
                        json.WriteString("gtin", l.Barcode);
                        json.WriteString("classCode", l.Category);
                        json.WriteString("taxClass", l.TaxClass);
                        json.WriteString("netPrice", Amount(l.Price));
                        json.WriteStartObject("groupPrices");
                        foreach (var group in Groups)
                            if (l.GroupPrices.TryGetValue(group, out var amount))
                                json.WriteString(group, Amount(amount));
                        json.WriteEndObject();
                        json.WriteNumber("onStock", l.Quantity);
                        json.WriteString("details", l.Description);
                        json.WriteBoolean("visible", l.Published);
                        json.WriteEndObject();
                    }
                }
            )
        );

    private static void Envelope(Utf8JsonWriter json, string? next, Action entries)
    {
        json.WriteStartObject();
        json.WriteBoolean("ok", true);
        json.WriteStartObject("result");
        json.WriteStartArray("entries");
        entries();
        json.WriteEndArray();
        json.WriteString("continue", next);
        json.WriteEndObject();
        json.WriteEndObject();
    }

    /// <summary>What the portal asks of an entry, and how it numbers them.</summary>
    /// <param name="classes">The class codes that it knows.</param>
    public static StoreWays Ways(IReadOnlySet<string> classes) =>
        new(
            listings => $"E-{listings.Select(StoreState.NumberOf).DefaultIfEmpty().Max() + 1:D4}",
            l =>
                l.Title.Length == 0 ? "An entry needs a caption."
                : l.TaxClass is not ("A" or "B" or "C") ? $"“{l.TaxClass}” is no tax class; there are A, B and C."
                : l.Category.Length > 0 && !classes.Contains(l.Category) ? $"There is no class {l.Category}."
                : null
        );

    private static string Amount(decimal amount) => amount.ToString("0.00", CultureInfo.InvariantCulture).Replace('.', ',');

    private static decimal? Amount(JsonElement c, string name) =>
        StoreReply.Text(c, name) is { } text
            ? decimal.Parse(
                text.Replace(',', '.'),
                NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign,
                CultureInfo.InvariantCulture
            )
            : null;

    private static ListingEdit ReadChange(JsonElement c, bool creates) =>
        new ListingEdit
        {
            Key = StoreReply.Text(c, "ticket"),
            Id = creates ? "" : c.GetProperty("ref").GetString()!,
            Price = Amount(c, "netPrice"),
            Quantity = StoreReply.Whole(c, "onStock"),
            Sku = StoreReply.Text(c, "articleCode"),
            Barcode = StoreReply.Text(c, "gtin"),
            TaxClass = StoreReply.Text(c, "taxClass"),
            Content =
                new ListingContent(
                    StoreReply.Emptied(c, "caption"),
                    StoreReply.Emptied(c, "variantText"),
                    StoreReply.Emptied(c, "classCode"),
                    null,
                    StoreReply.Emptied(c, "details"),
                    null,
                    StoreReply.Flag(c, "visible")
                )
                    is var content
                && content == new ListingContent(null)
                    ? null
                    : content,
            New = creates ? new NewListing(StoreReply.Text(c, "family")) : null,
            Ended = StoreReply.Flag(c, "withdrawn") == true,
            GroupPrices = Groups
                .Select(g => (Group: g, Amount: Amount(c, $"netPrice_{g}")))
                .Where(g => g.Amount is not null)
                .ToDictionary(g => g.Group, g => g.Amount!.Value)
                is { Count: > 0 } groups
                ? groups
                : null,
        };
}
