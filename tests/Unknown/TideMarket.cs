using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;

namespace Narbit.Unknown;

/// <summary>
/// A store that is asked in GraphQL, with offsets; what is sold are offers within a ware, told apart by named traits, in cents. It has
/// feeds in XML and CSV too.
/// </summary>
public sealed class TideMarket : UnknownServer
{
    public const string Key = "tide-key-7";

    public List<JsonObject> Stall { get; } = [.. Enumerable.Range(1, 23).Select(Ware)];

    /// <summary>What the next requests are answered with instead; null: they are served.</summary>
    public Func<HttpContext, IResult?>? Instead { get; set; }

    public JsonObject Offer(string id) => Stall.SelectMany(Offers).First(o => o["id"]!.ToString() == id);

    protected override void Map(WebApplication app)
    {
        app.MapPost("/graphql", (Delegate)AnswerAsync);
        app.MapGet("/about", () => Json(new JsonObject { ["shop"] = new JsonObject { ["title"] = "Tide Market" } }));
        app.MapGet("/feed.xml", (HttpContext http) => Instead?.Invoke(http) ?? Feed(http, "application/xml", Xml));
        app.MapGet("/feed.csv", (HttpContext http) => Instead?.Invoke(http) ?? Feed(http, "text/csv", Csv));
        app.MapGet("/keyset", (HttpContext http) => Instead?.Invoke(http) ?? Keyset(http));
    }

    private static JsonObject Ware(int n) =>
        new()
        {
            ["id"] = $"W{n}",
            ["title"] = $"{Wares[n % Wares.Length]} no. {n}",
            ["vendor"] = n % 3 == 0 ? "Quarry Works" : "Moor Pottery",
            ["offers"] = new JsonArray([.. Enumerable.Range(0, n % 3 + 1).Select(o => Offer(n, o))]),
        };

    private static JsonObject Offer(int ware, int o)
    {
        // The ledger's articles, two of a ware at most, the second without its barcode; a third is nobody's.
        var no = ware * 2 + o;
        return new JsonObject
        {
            ["id"] = $"{ware}0{o}",
            ["code"] = o < 2 ? $"H{1000 + no}" : $"X{ware}",
            ["gtin"] = o == 0 ? Gtin(4_000 + no) : null,
            ["priceCents"] = 1_230 + no * 42,
            ["available"] = 3,
            ["live"] = true,
            ["traits"] = new JsonObject { ["glaze"] = o == 0 ? "celadon" : $"tone {o}" },
        };
    }

    private static IEnumerable<JsonObject> Offers(JsonObject ware) => ware["offers"]!.AsArray().Select(o => o!.AsObject());

    private async Task<IResult> AnswerAsync(HttpContext http)
    {
        if (http.Request.Query["access"] != Key)
            return Json(new JsonObject { ["errors"] = Errors("This key opens nothing.") }, 403);
        if (Instead?.Invoke(http) is { } instead)
            return instead;
        var asked = (await JsonNode.ParseAsync(http.Request.Body))!.AsObject();
        var variables = asked["variables"]?.AsObject() ?? [];
        var query = asked["query"]!.GetValue<string>();
        lock (Stall)
            return query.Contains("mutation", StringComparison.Ordinal) ? Change(variables)
                : variables["ids"] is JsonArray ids ? Found(ids)
                : Listed(variables);
    }

    private IResult Listed(JsonObject variables)
    {
        var skip = variables["skip"]?.GetValue<int>() ?? 0;
        var first = variables["first"]?.GetValue<int>() ?? 5;
        return Answer(
            new JsonObject
            {
                ["wares"] = new JsonObject
                {
                    ["total"] = Stall.Count,
                    ["nodes"] = new JsonArray([.. Stall.Skip(skip).Take(first).Select(w => w.DeepClone())]),
                },
            }
        );
    }

    private IResult Found(JsonArray ids)
    {
        var wanted = ids.Select(i => i!.ToString()).ToHashSet();
        var nodes = Stall.Where(w => Offers(w).Any(o => wanted.Contains(o["id"]!.ToString()))).Select(w => w.DeepClone());
        return Answer(new JsonObject { ["wares"] = new JsonObject { ["nodes"] = new JsonArray([.. nodes]) } });
    }

    private IResult Change(JsonObject variables)
    {
        var input = variables["offer"]!.AsObject();
        if (Stall.SelectMany(Offers).FirstOrDefault(o => o["id"]!.ToString() == input["id"]?.ToString()) is not { } offer)
            return Json(new JsonObject { ["data"] = null, ["errors"] = Errors($"There is no offer {input["id"]}.") });
        foreach (var (name, value) in input.Where(i => i.Key != "id"))
            offer[name] = value?.DeepClone();
        return Answer(new JsonObject { ["saveOffer"] = new JsonObject { ["id"] = offer["id"]!.DeepClone() } });
    }

    private IResult Feed(HttpContext http, string type, Func<IEnumerable<JsonObject>, string> form)
    {
        var start = int.Parse(http.Request.Query["start"].FirstOrDefault() ?? "0", CultureInfo.InvariantCulture);
        var count = int.Parse(http.Request.Query["count"].FirstOrDefault() ?? "10", CultureInfo.InvariantCulture);
        return Results.Content(form(Stall.Skip(start).Take(count)), type);
    }

    private string Xml(IEnumerable<JsonObject> wares)
    {
        var text = new StringBuilder($"<?xml version=\"1.0\"?><feed xmlns=\"urn:tide\" count=\"{Stall.Count}\">");
        foreach (var ware in wares)
        {
            text.Append(CultureInfo.InvariantCulture, $"<ware id=\"{ware["id"]}\"><title><![CDATA[{ware["title"]}]]></title>");
            foreach (var offer in Offers(ware))
                text.Append(CultureInfo.InvariantCulture, $"<offer id=\"{offer["id"]}\"><code>{offer["code"]}</code>")
                    .Append(CultureInfo.InvariantCulture, $"<price currency=\"EUR\">{offer["priceCents"]}</price></offer>");
            text.Append("</ware>");
        }

        return text.Append("</feed>").ToString();
    }

    private static string Csv(IEnumerable<JsonObject> wares)
    {
        var text = new StringBuilder("id;code;title;price\r\n");
        foreach (var ware in wares)
        foreach (var offer in Offers(ware))
            text.Append(CultureInfo.InvariantCulture, $"{offer["id"]};{offer["code"]};\"{ware["title"]}; {ware["vendor"]}\";")
                .Append(CultureInfo.InvariantCulture, $"{offer["priceCents"]}\r\n");
        return text.ToString();
    }

    private IResult Keyset(HttpContext http)
    {
        var after = http.Request.Query["after"].FirstOrDefault();
        var all = Stall.SelectMany(Offers).OrderBy(o => o["id"]!.ToString(), StringComparer.Ordinal).ToList();
        var rest = all.Where(o => after is null || string.CompareOrdinal(o["id"]!.ToString(), after) > 0).Take(10);
        return Json(new JsonObject { ["offers"] = new JsonArray([.. rest.Select(o => o.DeepClone())]) });
    }

    private static JsonArray Errors(string words) => [new JsonObject { ["message"] = words }];

    private static IResult Answer(JsonObject data) => Json(new JsonObject { ["data"] = data });
}
