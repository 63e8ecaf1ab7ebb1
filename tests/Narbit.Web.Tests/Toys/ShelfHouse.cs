using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Narbit.Unknown;

namespace Narbit.Web.Tests.Toys;

/// <summary>A house with shelves, a kind of record that Narbit does not have.</summary>
/// <param name="shelves">Its shelves, and where they stand.</param>
internal sealed class ShelfHouse(params (string Code, string Name, string Place)[] shelves) : UnknownServer
{
    /// <summary>Where its shelves stand.</summary>
    public Dictionary<string, string> Places { get; } = shelves.ToDictionary(s => s.Code, s => s.Place, StringComparer.Ordinal);

    /// <summary>How it is called.</summary>
    public static string Description(string name, string mark) =>
        $$"""
            {
              "format": "narbit/rest-system/1", "name": "{{name}}", "kind": "webStore", "mark": "{{mark}}", "currency": "EUR",
              "address": "http://127.0.0.1/", "test": { "path": "shelves" },
              "resources": [
                { "kind": "shelf", "label": "shelves", "list": { "path": "shelves", "records": "shelves" }, "key": "code",
                  "fields": [
                    { "name": "code", "label": "Code", "path": "code", "type": "text", "role": "sku" },
                    { "name": "name", "label": "Name", "path": "name", "type": "text", "role": "title" },
                    { "name": "place", "label": "Place", "path": "place", "type": "text", "writeAs": "place" } ],
                  "lookup": { "path": "shelves", "parameter": "codes", "size": 50 },
                  "write": { "path": "shelves", "method": "PUT", "records": "shelves", "key": "code", "batchSize": 10,
                             "results": "results", "resultKey": "code", "resultState": "state", "resultOk": "ok" } }
              ]
            }
            """;

    /// <inheritdoc/>
    protected override void Map(WebApplication app)
    {
        app.MapGet("/shelves", (string? codes) => Json(new JsonObject { ["shelves"] = Listed(codes?.Split(',')) }));
        app.MapPut("/shelves", WriteAsync);
    }

    private JsonArray Listed(string[]? codes) =>
        [
            .. shelves
                .Where(s => codes?.Contains(s.Code) != false)
                .Select(s => new JsonObject
                {
                    ["code"] = s.Code,
                    ["name"] = s.Name,
                    ["place"] = Places[s.Code],
                }),
        ];

    private async Task<IResult> WriteAsync(HttpRequest request)
    {
        var sent = (await JsonNode.ParseAsync(request.Body))!["shelves"]!.AsArray();
        var results = new JsonArray();
        foreach (var shelf in sent)
        {
            var code = shelf!["code"]!.GetValue<string>();
            Places[code] = shelf["place"]!.GetValue<string>();
            results.Add(new JsonObject { ["code"] = code, ["state"] = "ok" });
        }

        return Json(new JsonObject { ["results"] = results });
    }
}
