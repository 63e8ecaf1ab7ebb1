using System.Globalization;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;

namespace Narbit.Unknown;

/// <summary>
/// An office whose requests for work have their lines at a path of their own; replies have entity tags, changes are made later, and what
/// was touched last is listed first.
/// </summary>
public sealed class SlipwayOffice : UnknownServer
{
    private readonly Dictionary<string, (string Job, JsonObject Change, int Asked)> _operations = [];

    public static DateTimeOffset Begin { get; } = new(2026, 11, 20, 8, 0, 0, TimeSpan.Zero);

    /// <summary>The requests, by what was touched first.</summary>
    public List<JsonObject> Jobs { get; } =
    [
        .. Enumerable
            .Range(1, 23)
            .Select(n => new JsonObject
            {
                ["no"] = $"J{n}",
                ["for"] = n % 2 == 0 ? "Quarry Works" : "Moor Pottery",
                ["total"] = 10m * n,
                ["touched"] = Begin.AddMinutes(n).ToString("O", CultureInfo.InvariantCulture),
            }),
    ];

    /// <summary>How many lines each request has, by its number.</summary>
    public Func<int, int> LinesOf { get; set; } = n => n % 4;

    /// <summary>How often an operation is asked for before it is done.</summary>
    public int AskedBeforeDone { get; set; } = 2;

    /// <summary>Whether an operation that is done points to the request that it has changed.</summary>
    public bool PointsElsewhere { get; set; }

    /// <summary>How many replies had content, since it was not known there already.</summary>
    public int Told { get; private set; }

    protected override void Map(WebApplication app)
    {
        app.MapGet("/office/jobs", List);
        app.MapGet(
            "/office/jobs/{no}",
            (HttpContext http, string no) => Find(no) is { } job ? Tagged(http, job.DeepClone()) : NotFound(no)
        );
        app.MapGet("/office/jobs/{no}/lines", Lines);
        app.MapPatch("/office/jobs/{no}", ChangeAsync);
        app.MapGet("/office/operations/{id}", Operation);
    }

    private IResult List(HttpContext http, int page, string? order)
    {
        const int size = 5;
        var jobs = order == "-touched" ? Jobs.OrderByDescending(j => j["touched"]!.ToString(), StringComparer.Ordinal).ToList() : Jobs;
        var some = jobs.Skip((page - 1) * size).Take(size).Select(j => j.DeepClone());
        return Tagged(http, new JsonObject { ["count"] = jobs.Count, ["jobs"] = new JsonArray([.. some]) });
    }

    private IResult Lines(HttpContext http, string no, int? from)
    {
        var all = LinesOf(int.Parse(no[1..], CultureInfo.InvariantCulture));
        if (all == 0)
            return NotFound(no);
        var line = from ?? 0;
        if (line + 2 < all)
            http.Response.Headers.Link = $"<{Address}/office/jobs/{no}/lines?from={line + 2}>; rel=\"next\"";
        var some = Enumerable.Range(line, Math.Min(2, all - line)).Select(l => new JsonObject { ["code"] = $"{no}-{l}", ["pcs"] = l + 1 });
        return Tagged(http, new JsonArray([.. some]));
    }

    private async Task<IResult> ChangeAsync(HttpContext http, string no)
    {
        if (Find(no) is not { } job)
            return NotFound(no);
        if (http.Request.Headers.IfMatch is [{ } tag] && tag != TagOf(job))
            return Json(new JsonObject { ["problem"] = "Somebody was here." }, 412);
        var id = Begun(no, (await JsonNode.ParseAsync(http.Request.Body))!.AsObject());
        http.Response.Headers.Location = $"/office/operations/{id}";
        return Json(new JsonObject { ["operation"] = id }, 202);
    }

    // Changes of several records arrive at once.
    private string Begun(string job, JsonObject change)
    {
        lock (_operations)
        {
            var id = $"op{_operations.Count + 1}";
            _operations[id] = (job, change, 0);
            return id;
        }
    }

    private (string Job, JsonObject Change, int Asked) Asked(string id)
    {
        lock (_operations)
        {
            var operation = _operations[id];
            _operations[id] = operation with { Asked = operation.Asked + 1 };
            return operation;
        }
    }

    private IResult Operation(HttpContext http, string id)
    {
        var (no, change, asked) = Asked(id);
        if (asked < AskedBeforeDone)
            return Json(new JsonObject { ["state"] = "at work" }, 202);
        if (change["total"]!.GetValue<decimal>() < 0)
            return Json(new JsonObject { ["state"] = "refused", ["problem"] = "Less than nothing." });
        foreach (var (name, value) in change)
            Find(no)![name] = value?.DeepClone();
        if (!PointsElsewhere)
            return Json(new JsonObject { ["state"] = "made" });
        http.Response.Headers.Location = $"/office/jobs/{no}";
        return Results.StatusCode(303);
    }

    private JsonObject? Find(string no) => Jobs.Find(j => j["no"]!.ToString() == no);

    private static IResult NotFound(string no) => Json(new JsonObject { ["problem"] = $"No {no} here." }, 404);

    private static string TagOf(JsonNode node) =>
        $"\"{Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(node.ToJsonString())))}\"";

    private IResult Tagged(HttpContext http, JsonNode node)
    {
        http.Response.Headers.ETag = TagOf(node);
        if (http.Request.Headers.IfNoneMatch == TagOf(node))
            return Results.StatusCode(304);
        lock (_operations)
            Told++;
        return Json(node);
    }
}
