using System.Globalization;
using System.Text.Json;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.BackOffice;

/// <summary>The back office's interface for programs: an API key in a header, pages by cursor, net decimal amounts, grams.</summary>
public static class BackOfficeApi
{
    public const string ApiKey = "kilnyard-demo-key";
    private const int MostPerPage = 1000;

    public static void Map(IEndpointRouteBuilder app, BackOfficeState state, SalesBook book)
    {
        var api = app.MapGroup("/back-office/v1")
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.Request.Headers["X-Api-Key"] == ApiKey
                        ? await next(context)
                        : Results.Json(
                            new { error = new { code = "key", message = "The API key is missing or not known." } },
                            statusCode: 401
                        )
            );

        api.MapGet(
            "/company",
            () =>
                Results.Json(
                    new
                    {
                        company = "Lanternmoor Back Office",
                        edition = "4.2",
                        currency = "EUR",
                    }
                )
        );
        api.MapGet(
            "/articles",
            (HttpContext http, string? after, int? limit, string? modifiedSince) =>
                Page(http, state, after, limit, modifiedSince, false, WriteArticle)
        );
        api.MapGet(
            "/stock",
            (HttpContext http, string? after, int? limit, string? modifiedSince) =>
                Page(http, state, after, limit, modifiedSince, true, WriteStock)
        );
        api.MapGet(
            "/articles/by-number",
            (string numbers) =>
                StoreReply.Json(json =>
                {
                    json.WriteStartObject();
                    json.WriteStartArray("data");
                    foreach (var article in state.Read(numbers.Split(',')))
                        WriteArticle(json, article);
                    json.WriteEndArray();
                    json.WriteEndObject();
                })
        );
        SalesApi.Map(api, book);
        foreach (var (path, creates) in new[] { ("/articles/batch", false), ("/articles/new", true) })
            api.MapPost(
                path,
                async (HttpRequest request) =>
                {
                    try
                    {
                        using var body = await JsonDocument.ParseAsync(request.Body);
                        var edits = body.RootElement.GetProperty("updates").EnumerateArray().Select(u => ReadEdit(u, creates)).ToList();
                        if (edits.Count > 100)
                            return Results.Json(new { error = new { code = "size", message = "At most 100 updates." } }, statusCode: 422);
                        return Results.Json(
                            new
                            {
                                data = edits
                                    .Select(e => (e, done: creates ? state.Create(e) : (e.Number, state.Amend(e))))
                                    .Select(r => new
                                    {
                                        requestKey = r.e.Key,
                                        articleNo = r.done.Item1,
                                        state = r.done.Item2 is null ? "saved" : "refused",
                                        message = r.done.Item2,
                                    }),
                            }
                        );
                    }
                    catch (Exception error)
                        when (error is JsonException or KeyNotFoundException or InvalidOperationException or FormatException)
                    {
                        return Results.Json(
                            new { error = new { code = "body", message = "The updates could not be read." } },
                            statusCode: 422
                        );
                    }
                }
            );
    }

    private static ArticleEdit ReadEdit(JsonElement u, bool creates) =>
        new ArticleEdit
        {
            Key = StoreReply.Text(u, "requestKey"),
            Number = creates ? "" : u.GetProperty("articleNo").GetString()!,
            Sku = StoreReply.Text(u, "sku"),
            Barcode = StoreReply.Text(u, "ean"),
            TaxCode = StoreReply.Text(u, "taxCode"),
            WeightGrams = StoreReply.Whole(u, "weightGrams"),
            Picture = StoreReply.Text(u, "picture"),
            Name = StoreReply.Text(u, "name"),
            Active = StoreReply.Flag(u, "active"),
            Option = StoreReply.Text(u, "option"),
            Category = StoreReply.Text(u, "category"),
            NewIn = creates ? StoreReply.Text(u, "groupCode") : null,
            Prices = Prices(u),
            Ended = !creates && StoreReply.Flag(u, "ended") == true,
        };

    private static Dictionary<string, decimal> Prices(JsonElement u) =>
        new[] { "Studio", "School", "Counter" }
            .Select(list => (List: list, Amount: StoreReply.Number(u, $"price{list}")))
            .Where(p => p.Amount is not null)
            .ToDictionary(p => p.List, p => p.Amount!.Value, StringComparer.Ordinal);

    private static IResult Page(
        HttpContext http,
        BackOfficeState state,
        string? after,
        int? limit,
        string? modifiedSince,
        bool stock,
        Action<Utf8JsonWriter, Article> write
    )
    {
        DateTimeOffset? since = null;
        if (modifiedSince is not null)
        {
            if (!DateTimeOffset.TryParse(modifiedSince, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var parsed))
                return Results.Json(
                    new { error = new { code = "modifiedSince", message = $"modifiedSince is no instant: {modifiedSince}" } },
                    statusCode: 400
                );
            since = parsed;
        }

        var body = state.Read(
            after,
            Math.Clamp(limit ?? 200, 1, MostPerPage),
            since,
            stock,
            (articles, next) =>
            {
                var buffer = new MemoryStream(articles.Count * 512 + 64);
                using var json = new Utf8JsonWriter(buffer);
                json.WriteStartObject();
                json.WriteStartArray("data");
                foreach (var article in articles)
                    write(json, article);
                json.WriteEndArray();
                json.WriteString("next", next);
                json.WriteEndObject();
                json.Flush();
                return buffer.ToArray();
            }
        );
        return Results.Bytes(body, "application/json");
    }

    private static void WriteArticle(Utf8JsonWriter json, Article a)
    {
        json.WriteStartObject();
        json.WriteString("articleNo", a.Number);
        json.WriteString("sku", a.Sku);
        json.WriteString("groupCode", a.GroupCode);
        json.WriteString("name", a.Name);
        json.WriteString("option", a.Option);
        json.WriteString("ean", a.Barcode);
        if (a.Picture is { } picture)
            json.WriteString("picture", picture);
        WriteList(json, "pictures", a.Pictures);
        json.WriteString("longText", a.LongText);
        json.WriteString("usageText", a.UsageText);
        json.WriteString("webText", a.WebText);
        WriteList(json, "related", a.Related);
        json.WriteBoolean("active", a.Active);
        if (a.WeightGrams is { } grams)
            json.WriteNumber("weightGrams", grams);
        json.WriteString("category", a.Category);
        json.WriteString("taxCode", a.TaxCode);
        if (a.Cost is { } cost)
            json.WriteNumber("cost", cost);
        json.WriteStartObject("prices");
        if (a.Studio is { } studio)
            json.WriteNumber("Studio", studio);
        if (a.School is { } school)
            json.WriteNumber("School", school);
        if (a.Counter is { } counter)
            json.WriteNumber("Counter", counter);
        json.WriteEndObject();
        if (a.SaleStudio is { } sale)
        {
            json.WriteStartObject("promotion");
            json.WriteNumber("studio", sale);
            if (a.SaleFrom is { } from)
                json.WriteString("from", from);
            if (a.SaleTo is { } to)
                json.WriteString("to", to);
            json.WriteEndObject();
        }

        json.WriteBoolean("tracked", a.Tracked);
        json.WriteString("changedAt", a.ChangedAt);
        json.WriteEndObject();
    }

    private static void WriteList(Utf8JsonWriter json, string name, IReadOnlyList<string> list)
    {
        json.WriteStartArray(name);
        foreach (var one in list)
            json.WriteStringValue(one);
        json.WriteEndArray();
    }

    private static void WriteStock(Utf8JsonWriter json, Article a)
    {
        foreach (var (location, shelf) in a.Stock)
        {
            json.WriteStartObject();
            json.WriteString("id", $"{a.Number}@{location}");
            json.WriteString("articleNo", a.Number);
            json.WriteString("location", location);
            json.WriteNumber("onHand", shelf.OnHand);
            json.WriteNumber("allocated", shelf.Allocated);
            json.WriteNumber("incoming", shelf.Incoming);
            json.WriteString("changedAt", a.StockChangedAt);
            json.WriteEndObject();
        }
    }
}
