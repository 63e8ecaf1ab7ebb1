using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Logging;
using Narbit.Core.Records;
using Narbit.Data.Systems;

namespace Narbit.Engine.Tests;

/// <summary>A system that sends what a test says, byte for byte: a list in numbered pages, and its records one by one.</summary>
public sealed class LooseList : IAsyncDisposable
{
    public const string Id = "loose-list";

    private readonly WebApplication _app;

    private LooseList(WebApplication app) => _app = app;

    /// <summary>Its records, each as it is sent.</summary>
    public List<(string Key, string Json)> Records { get; } = [];

    /// <summary>What happens before a page is answered, by the page's number.</summary>
    public Action<int>? BeforePage { get; set; }

    /// <summary>How replies are encoded.</summary>
    public Encoding Encoding { get; set; } = new UTF8Encoding(false);

    public string ContentType { get; set; } = "application/json";

    /// <summary>What its clock shows; null: it has none.</summary>
    public Func<DateTimeOffset?> Clock { get; set; } = () => DateTimeOffset.UtcNow;

    /// <summary>Since when it was asked for changes, in order; null: for everything.</summary>
    public List<string?> AskedSince { get; } = [];

    /// <summary>Which records count as changed since an instant; null: all.</summary>
    public Func<DateTimeOffset, IEnumerable<(string Key, string Json)>>? Changes { get; set; }

    public bool HasTotals { get; set; } = true;

    public int LookedUp => _lookedUp;

    private int _lookedUp;

    public static async Task<LooseList> StartAsync(int records = 0)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.ConfigureKestrel(k => k.AddServerHeader = false).UseUrls("http://127.0.0.1:0");
        var app = builder.Build();
        var list = new LooseList(app);
        for (var n = 1; n <= records; n++)
            list.Add(n);
        app.MapGet("/things", (HttpContext http, int? page, int size, string? since) => list.Page(http, page, size, since));
        app.MapGet("/things/{key}", list.One);
        await app.StartAsync();
        return list;
    }

    public void Add(int number) => Records.Add(($"K{number}", Thing($"K{number}", $"Thing {number}")));

    public static string Thing(string key, string name, string more = "") => $$"""{"key":"{{key}}","name":"{{name}}"{{more}}}""";

    private IResult Page(HttpContext http, int? asked, int size, string? since)
    {
        var page = asked ?? 1;
        if (page == 1)
            AskedSince.Add(since);
        BeforePage?.Invoke(page);
        if (Clock() is { } now)
            http.Response.Headers.Date = now.UtcDateTime.ToString("r", CultureInfo.InvariantCulture);
        else
            http.Response.Headers.Date = "";
        var all =
            since is not null && Changes is { } changes ? [.. changes(DateTimeOffset.Parse(since, CultureInfo.InvariantCulture))] : Records;
        var some = string.Join(',', all.Skip((page - 1) * size).Take(size).Select(r => r.Json));
        return Sent($$"""{ {{(HasTotals ? $"\"total\":{all.Count}," : "")}} "things":[{{some}}] }""");
    }

    private IResult One(string key)
    {
        Interlocked.Increment(ref _lookedUp);
        return Records.Find(r => r.Key == key) is { Json: { } json } ? Sent($$"""{ "things":[{{json}}] }""") : Results.NotFound();
    }

    private IResult Sent(string json) => Results.Bytes(Encoding.GetBytes(json), ContentType);

    /// <summary>Adds it to a workbench.</summary>
    /// <param name="bench">Where.</param>
    /// <param name="edit">Changes the description of its things.</param>
    public async Task AddToAsync(Workbench bench, Action<JsonObject>? edit = null)
    {
        var document = Description();
        edit?.Invoke(document["resources"]![0]!.AsObject());
        await using var db = bench.Database.CreateDbContext();
        db.Systems.Add(
            new ConnectedSystem
            {
                Id = Id,
                Name = "Loose List",
                Kind = SystemKind.WebStore,
                Mark = "LL",
                Currency = "EUR",
                Document = document.ToJsonString(),
                Address = _app.Urls.First() + "/",
            }
        );
        await db.SaveChangesAsync();
    }

    public static JsonObject Description() =>
        JsonNode
            .Parse(
                """
                {
                  "format": "narbit/rest-system/1", "name": "Loose List", "kind": "webStore", "mark": "LL", "currency": "EUR",
                  "address": "http://127.0.0.1/", "limits": { "requestsPerSecond": 1000, "timeoutSeconds": 5, "attempts": 2 },
                  "resources": [
                    { "kind": "item", "label": "things", "key": "key",
                      "list": { "path": "things", "records": "things", "paging": "page", "pageParameter": "page",
                                "sizeParameter": "size", "size": 10, "totalPath": "total", "changedSince": "since" },
                      "lookup": { "path": "things/{key}", "records": "things" },
                      "fields": [
                        { "name": "name", "label": "Name", "path": "name", "type": "text", "role": "title" },
                        { "name": "count", "label": "Count", "path": "count", "type": "integer" } ] }
                  ]
                }
                """
            )!
            .AsObject();

    public async ValueTask DisposeAsync() => await _app.DisposeAsync();
}
