using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Logging;
using Narbit.Adapters;
using Narbit.Adapters.Rest;

namespace Narbit.Engine.Tests;

/// <summary>
/// A small system of a test's own, over real HTTP: orders with lines and their customers in one list. It misbehaves on demand in ways
/// that no dial of the stand-ins knows.
/// </summary>
public sealed class OrderBook : IAsyncDisposable
{
    private readonly WebApplication _app;

    private OrderBook(WebApplication app) => _app = app;

    /// <summary>What it holds.</summary>
    public List<JsonObject> Orders { get; } = [];

    /// <summary>The bodies of all writes, in order.</summary>
    public List<JsonObject> Received { get; } = [];

    /// <summary>How the list answers; null: as described.</summary>
    public Func<string?, JsonObject>? Page { get; set; }

    /// <summary>How a creation is answered; null: the order is made.</summary>
    public Func<JsonObject, IResult>? Creation { get; set; }

    /// <summary>Whether the next write is carried out and answered as if the system had failed.</summary>
    public bool FailsOnce { get; set; }

    /// <summary>Held back until it is released, so that a test can act while a request is on its way.</summary>
    public TaskCompletionSource? Gate { get; set; }

    public Uri Address => new(_app.Urls.First() + "/");

    public static async Task<OrderBook> StartAsync(int orders = 3)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        var app = builder.Build();
        var book = new OrderBook(app);
        for (var i = 1; i <= orders; i++)
            book.Orders.Add(Order(i));
        app.MapGet("/orders", book.ListAsync);
        app.MapMethods("/orders/batch", ["POST", "PUT"], book.AmendAsync);
        app.MapPost("/orders/new", book.MakeAsync);
        app.MapGet("/ping", () => new { name = "Order Book" });
        await app.StartAsync();
        return book;
    }

    /// <summary>An order of two lines and one payment, by the customer with its parity.</summary>
    public static JsonObject Order(int number) =>
        new()
        {
            ["no"] = $"{7000 + number}",
            ["note"] = $"order {number}",
            ["customer"] = new JsonObject { ["id"] = number % 2 == 0 ? "even" : "odd", ["name"] = $"Potter {number % 2}" },
            ["lines"] = new JsonArray(Line("GLZ-CEL-250", 2, "10.50"), Line("KLN-SHF-40", 1, "48.00")),
            ["payments"] = new JsonArray(new JsonObject { ["way"] = "card", ["amount"] = "69.00" }),
        };

    public static JsonObject Line(string sku, int count, string price) =>
        new()
        {
            ["sku"] = sku,
            ["count"] = count,
            ["price"] = price,
        };

    public static JsonObject Description() =>
        JsonNode
            .Parse(
                """
                {
                  "format": "narbit/rest-system/1", "name": "Order Book", "kind": "webStore", "mark": "OB", "currency": "EUR",
                  "address": "http://127.0.0.1/", "test": { "path": "ping", "namePath": "name" },
                  "limits": { "requestsPerSecond": 1000, "timeoutSeconds": 2, "attempts": 2 },
                  "errorPaths": ["error"],
                  "resources": [
                    { "kind": "order", "label": "orders",
                      "list": { "path": "orders", "records": "orders", "paging": "cursor", "pageParameter": "after",
                                "nextPath": "next", "sizeParameter": "limit", "size": 2 },
                      "key": "no",
                      "fields": [
                        { "name": "number", "label": "Number", "path": "no", "type": "text", "role": "number" },
                        { "name": "note", "label": "Note", "path": "note", "type": "text", "writeAs": "note" } ],
                      "children": [
                        { "name": "lines", "label": "lines", "path": "lines", "writeAs": "lines", "fields": [
                          { "name": "sku", "label": "SKU", "path": "sku", "type": "text", "writeAs": "sku" },
                          { "name": "count", "label": "Count", "path": "count", "type": "integer", "unit": "pcs", "writeAs": "count" },
                          { "name": "price", "label": "Price", "path": "price", "type": "money", "writeAs": "price" },
                          { "name": "order", "label": "Order", "path": "^no", "type": "text" } ] },
                        { "name": "payments", "path": "payments", "fields": [
                          { "name": "way", "label": "Way", "path": "way", "type": "text" },
                          { "name": "amount", "label": "Amount", "path": "amount", "type": "money" } ] } ],
                      "lookup": { "path": "orders", "parameter": "numbers", "size": 50 },
                      "write": { "path": "orders/batch", "records": "orders", "key": "no", "idempotencyKey": "once", "batchSize": 10,
                                 "results": "results", "resultKey": "no", "resultState": "state", "resultOk": "ok",
                                 "resultMessage": "words" },
                      "create": { "path": "orders/new", "records": "orders", "idempotencyKey": "once", "batchSize": 10,
                                  "results": "results", "resultRequest": "once", "resultKey": "no", "resultState": "state",
                                  "resultOk": "ok", "resultMessage": "words" } },
                    { "kind": "customer", "label": "customers", "list": { "with": "order", "each": "customer" }, "key": "id",
                      "fields": [ { "name": "name", "label": "Name", "path": "name", "type": "text", "role": "title" } ] }
                  ]
                }
                """
            )!
            .AsObject();

    /// <summary>An adapter for it.</summary>
    /// <param name="edit">Changes the description first.</param>
    public IAdapter Adapter(Action<JsonObject>? edit = null)
    {
        var description = Description();
        edit?.Invoke(description);
        var document = RestDocument.Read(description.ToJsonString());
        document.Fault.ShouldBeNull();
        return new RestAdapter(document.Value, Address, null, new OutboundPolicy(true), TimeProvider.System);
    }

    /// <summary>Adds it to a workbench.</summary>
    public async Task<string> AddToAsync(Workbench bench, Action<JsonObject>? edit = null)
    {
        var description = Description();
        edit?.Invoke(description);
        await using var db = bench.Database.CreateDbContext();
        db.Systems.Add(
            new Data.Systems.ConnectedSystem
            {
                Id = "order-book",
                Name = "Order Book",
                Kind = Core.Records.SystemKind.WebStore,
                Mark = "OB",
                Currency = "EUR",
                Document = description.ToJsonString(),
                Address = Address.ToString(),
            }
        );
        await db.SaveChangesAsync();
        return "order-book";
    }

    private async Task<IResult> ListAsync(string? after, int? limit, string? numbers)
    {
        if (Gate is { } gate)
            await gate.Task;
        if (numbers is not null)
            return Json(numbers.Split(',').Select(n => Orders.Find(o => No(o) == n)).OfType<JsonObject>(), null);
        if (Page is { } page)
            return Results.Json(page(after));
        var from = after is null ? 0 : Orders.FindIndex(o => No(o) == after) + 1;
        var some = Orders.Skip(from).Take(limit ?? 100).ToList();
        return Json(some, from + some.Count < Orders.Count ? No(some[^1]) : null);
    }

    private async Task<IResult> AmendAsync(HttpRequest request)
    {
        var body = await BodyAsync(request);
        var results = new JsonArray();
        foreach (var update in body["orders"]!.AsArray().Select(o => o!.AsObject()))
        {
            var order = Orders.Find(o => No(o) == No(update));
            foreach (var (name, value) in update.Where(p => p.Key is "note" or "lines"))
                order![name] = value?.DeepClone();
            results.Add(
                new JsonObject
                {
                    ["no"] = No(update),
                    ["state"] = order is null ? "no" : "ok",
                    ["words"] = order is null ? "there is no such order" : null,
                }
            );
        }

        if (FailsOnce)
        {
            FailsOnce = false;
            return Results.StatusCode(502);
        }

        return Results.Json(new JsonObject { ["results"] = results });
    }

    private async Task<IResult> MakeAsync(HttpRequest request)
    {
        var body = await BodyAsync(request);
        if (Creation is { } answer)
            return answer(body);
        return Results.Json(
            new JsonObject { ["results"] = new JsonArray([.. body["orders"]!.AsArray().Select(o => Make(o!.AsObject()))]) }
        );
    }

    /// <summary>Makes an order, once for each key.</summary>
    public JsonNode Make(JsonObject wanted)
    {
        var once = wanted["once"]!.GetValue<string>();
        var order = Orders.Find(o => o["once"]?.GetValue<string>() == once);
        if (order is null)
        {
            order = wanted.DeepClone().AsObject();
            order["no"] = $"{9001 + Orders.Count}";
            Orders.Add(order);
        }

        return new JsonObject
        {
            ["once"] = once,
            ["no"] = No(order),
            ["state"] = "ok",
        };
    }

    private async Task<JsonObject> BodyAsync(HttpRequest request)
    {
        var body = (await JsonNode.ParseAsync(request.Body))!.AsObject();
        Received.Add(body);
        return body;
    }

    private static string No(JsonObject order) => order["no"]!.GetValue<string>();

    private static IResult Json(IEnumerable<JsonObject> orders, string? next) =>
        Results.Json(new JsonObject { ["orders"] = new JsonArray([.. orders.Select(o => o.DeepClone())]), ["next"] = next });

    public async ValueTask DisposeAsync() => await _app.DisposeAsync();
}
