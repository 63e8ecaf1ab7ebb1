using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;

namespace Narbit.Unknown;

/// <summary>
/// A ledger with articles and stock at two sites: tokens for a client's name and secret, pages by Link header, one record a request.
/// </summary>
public sealed class HarbourLedger : UnknownServer
{
    public const string Client = "narbit";
    public const string Secret = "harbour secret/1";
    private const int Sites = 2;

    // The same in short, for people who read it.
    private const string InYaml = """
        openapi: 3.1.0
        info: { title: Harbour Ledger, version: '2' }
        paths:
          /v2/articles:
            get:
              responses:
                '200':
                  content:
                    application/json:
                      schema:
                        type: object
                        properties:
                          articles:
                            type: array
                            items:
                              type: object
                              properties: { articleNo: { type: string }, title: { type: string } }
        """;

    private readonly List<string> _tokens = [];

    public List<JsonObject> Articles { get; } = [.. Enumerable.Range(1, 57).Select(Article)];

    public List<JsonObject> Levels { get; } =
    [.. Enumerable.Range(1, 57).SelectMany(n => Enumerable.Range(0, Sites).Select(s => Level(n, s)))];

    /// <summary>How long tokens count.</summary>
    public int TokenSeconds { get; set; } = 3600;

    /// <summary>What the place for tokens says instead of a token; null: it gives one.</summary>
    public IResult? Nonsense { get; set; }

    public int TokensGiven => _tokens.Count;

    /// <summary>Takes no token that it has given so far.</summary>
    public void ForgetTokens() => _tokens.Clear();

    protected override void Map(WebApplication app)
    {
        app.MapPost("/sign-in/token", (Delegate)TokenAsync);
        app.MapGet("/ledger/v2/ping", () => Json(new JsonObject { ["product"] = "Harbour Ledger" }));
        app.MapGet("/ledger/openapi.yaml", () => Results.Text(InYaml, "application/yaml"));
        app.MapGet("/ledger/openapi.json", () => Json(HarbourContract.Document(Address)));
        app.MapGet("/ledger/v2/articles", (HttpContext http) => Page(http, "articles", Articles, "articleNo"));
        app.MapGet("/ledger/v2/stock", (HttpContext http) => Page(http, "stock", Levels, "levelId"));
        app.MapGet("/ledger/v2/articles/{no}", (HttpContext http, string no) => One(http, Articles, "articleNo", no));
        app.MapGet("/ledger/v2/stock/{id}", (HttpContext http, string id) => One(http, Levels, "levelId", id));
        app.MapPut("/ledger/v2/articles/{no}", ChangeAsync);
        app.MapPost("/ledger/v2/articles", (Delegate)MakeAsync);
    }

    private static JsonObject Article(int n) =>
        new()
        {
            ["articleNo"] = $"H{1000 + n}",
            ["ean"] = Gtin(4_000 + n),
            ["designation"] = $"{Wares[n / 2 % Wares.Length]} no. {n / 2}{(n % 2 == 0 ? "" : ", tone 1")}",
            ["netPrice"] = 10 + n * 0.35m,
            ["purchasePrice"] = 5 + n * 0.2m,
            ["vatRate"] = n % 7 == 0 ? 5 : 20,
            ["weightGrams"] = 200 + n * 10,
            ["maker"] = n % 3 == 0 ? "Quarry Works" : "Moor Pottery",
            ["online"] = n % 5 != 0,
            ["modifiedAt"] = "2026-11-20T08:00:00Z",
        };

    private static JsonObject Level(int n, int site) =>
        new()
        {
            ["levelId"] = n * 10 + site,
            ["articleNo"] = $"H{1000 + n}",
            ["site"] = site == 0 ? "QUAY" : "MOOR",
            ["onHand"] = n + site,
            ["reserved"] = n % 4 == 0 ? 1 : 0,
        };

    private async Task<IResult> TokenAsync(HttpContext http)
    {
        var form = await http.Request.ReadFormAsync();
        if (Nonsense is { } nonsense)
            return nonsense;
        var pair = $"{Uri.EscapeDataString(Client)}:{Uri.EscapeDataString(Secret)}";
        var basic = $"Basic {Convert.ToBase64String(Encoding.UTF8.GetBytes(pair))}";
        var known = http.Request.Headers.Authorization == basic || (form["client_id"] == Client && form["client_secret"] == Secret);
        if (!known || form["grant_type"] != "client_credentials")
            return Json(new JsonObject { ["error"] = "invalid_client", ["error_description"] = "Nobody here by that name." }, 401);
        lock (_tokens)
        {
            _tokens.Add($"t{Guid.NewGuid():N}");
            return Json(
                new JsonObject
                {
                    ["access_token"] = _tokens[^1],
                    ["token_type"] = "Bearer",
                    ["expires_in"] = TokenSeconds,
                }
            );
        }
    }

    private bool IsKnown(HttpContext http)
    {
        lock (_tokens)
            return _tokens.Exists(t => http.Request.Headers.Authorization == $"Bearer {t}");
    }

    private IResult Page(HttpContext http, string path, List<JsonObject> all, string key)
    {
        if (!IsKnown(http))
            return Json(new JsonObject { ["problem"] = "Sign in first." }, 401);
        var limit = Math.Min(int.Parse(http.Request.Query["limit"].FirstOrDefault() ?? "20", CultureInfo.InvariantCulture), 25);
        var from = int.Parse(http.Request.Query["from"].FirstOrDefault() ?? "0", CultureInfo.InvariantCulture);
        if (long.TryParse(http.Request.Query["touchedSince"].FirstOrDefault(), out var since))
            all = all.FindAll(a => a["touched"]?.GetValue<long>() >= since);
        var page = all.Skip(from).Take(limit).ToList();
        if (from + limit < all.Count)
            http.Response.Headers.Link =
                $"<{Address}/ledger/v2/{path}?limit={limit}>; rel=\"first\", "
                + $"<{Address}/ledger/v2/{path}?limit={limit}&from={from + limit}>; rel=\"next\"; title=\"more, by {key}\"";
        return Json(new JsonArray([.. page.Select(p => p.DeepClone())]));
    }

    private IResult One(HttpContext http, List<JsonObject> all, string key, string wanted) =>
        !IsKnown(http) ? Json(new JsonObject { ["problem"] = "Sign in first." }, 401)
        : all.Find(a => a[key]!.ToString() == wanted) is { } found ? Json(found.DeepClone())
        : Json(new JsonObject { ["problem"] = $"No {wanted} here." }, 404);

    private async Task<IResult> ChangeAsync(HttpContext http, string no)
    {
        if (!IsKnown(http))
            return Json(new JsonObject { ["problem"] = "Sign in first." }, 401);
        if (Articles.Find(a => a["articleNo"]!.ToString() == no) is not { } article)
            return Json(new JsonObject { ["problem"] = $"No {no} here." }, 404);
        var change = (await JsonNode.ParseAsync(http.Request.Body))!.AsObject();
        if (change["netPrice"] is { } price && price.GetValue<decimal>() < 0)
            return Json(new JsonObject { ["problem"] = "A price below nothing." }, 422);
        lock (Articles)
            foreach (var (name, value) in change)
                article[name] = value?.DeepClone();
        return Results.NoContent();
    }

    private async Task<IResult> MakeAsync(HttpContext http)
    {
        if (!IsKnown(http))
            return Json(new JsonObject { ["problem"] = "Sign in first." }, 401);
        var made = (await JsonNode.ParseAsync(http.Request.Body))!.AsObject();
        lock (Articles)
        {
            made["articleNo"] = $"H{1001 + Articles.Count}";
            Articles.Add(made);
        }

        http.Response.Headers.Location = $"/ledger/v2/articles/{made["articleNo"]}";
        return Results.StatusCode(201);
    }
}
