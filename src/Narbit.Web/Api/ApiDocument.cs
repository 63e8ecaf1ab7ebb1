using System.Text.Json.Serialization;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Web.Api;

/// <summary>The API's own description.</summary>
internal static class ApiDocument
{
    public const string Name = "narbit";

    /// <summary>Says of amounts that may be missing what the document says of the others by itself: they may be numbers or text.</summary>
    public static Task AmountsMayBeText(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancel)
    {
        var inRule = context.JsonPropertyInfo?.DeclaringType.IsDefined(typeof(JsonNumberHandlingAttribute), inherit: false) ?? false;
        if (inRule && context.JsonTypeInfo.Type == typeof(decimal?))
            schema.Type = JsonSchemaType.Number | JsonSchemaType.String | JsonSchemaType.Null;
        return Task.CompletedTask;
    }

    /// <summary>Says what is in the parts of an order that are written in a way of their own.</summary>
    public static Task OrdersAsWritten(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancel)
    {
        var type = context.JsonTypeInfo.Type;
        var may = JsonSchemaType.String | JsonSchemaType.Null;
        if (type == typeof(OrderAddress))
            Object(schema, ["name", "company", "street", "city", "postcode", "country", "phone"], may);
        else if (type == typeof(ShippingRate))
            schema.Type = JsonSchemaType.String | JsonSchemaType.Number;
        return Task.CompletedTask;
    }

    /// <summary>Says which kinds of records there are.</summary>
    public static Task KindsAsWords(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancel)
    {
        if (context.JsonTypeInfo.Type == typeof(RecordKind))
        {
            schema.Type = JsonSchemaType.String;
            schema.Enum = [.. RecordKind.All.Select(k => (System.Text.Json.Nodes.JsonNode)k.Word)];
        }

        return Task.CompletedTask;
    }

    private static void Object(OpenApiSchema schema, string[] properties, JsonSchemaType type)
    {
        schema.Type = JsonSchemaType.Object;
        schema.Properties = properties.ToDictionary(p => p, IOpenApiSchema (_) => new OpenApiSchema { Type = type });
    }

    /// <summary>Says of what only answers carry that all of it is always there; a request may leave out what has a usual value.</summary>
    public static Task AnswersAreWhole(OpenApiDocument document, OpenApiDocumentTransformerContext context, CancellationToken cancel)
    {
        var schemas = document.Components?.Schemas ?? new Dictionary<string, IOpenApiSchema>();
        var asked = new HashSet<string>(StringComparer.Ordinal);
        var bodies = document.Paths.Values.SelectMany(p => p.Operations ?? []).Select(o => o.Value).Select(o => o.RequestBody?.Content);
        foreach (var schema in bodies.SelectMany(c => c?.Values ?? []).Select(c => c.Schema))
            Follow(schema, schemas, asked);
        foreach (var (_, schema) in schemas.Where(s => !asked.Contains(s.Key)))
            if (schema is OpenApiSchema { Properties.Count: > 0 } answered)
                answered.Required = answered.Properties.Keys.ToHashSet(StringComparer.Ordinal);
        return Task.CompletedTask;
    }

    // Notes every schema that one is made of.
    private static void Follow(IOpenApiSchema? schema, IDictionary<string, IOpenApiSchema> all, HashSet<string> met)
    {
        if (schema is null || schema is OpenApiSchemaReference { Reference.Id: { } id } && !met.Add(id))
            return;
        if (schema is OpenApiSchemaReference { Reference.Id: { } name } && all.TryGetValue(name, out var target))
            schema = target;
        IEnumerable<IOpenApiSchema?> parts =
        [
            .. schema.Properties?.Values ?? [],
            .. schema.AnyOf ?? [],
            .. schema.OneOf ?? [],
            .. schema.AllOf ?? [],
            schema.Items,
            schema.AdditionalProperties,
        ];
        foreach (var part in parts)
            Follow(part, all, met);
    }

    /// <summary>Writes the OpenAPI document to a file.</summary>
    public static async Task WriteAsync(WebApplication app, string path)
    {
        // The endpoints are known once the routes are built, which starting does; nothing is served on the way.
        app.Urls.Clear();
        app.Urls.Add("http://127.0.0.1:0");
        await app.StartAsync();
        var document = await app.Services.GetRequiredKeyedService<IOpenApiDocumentProvider>(Name).GetOpenApiDocumentAsync();
        document.Servers?.Clear();
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(path))!);
        await File.WriteAllTextAsync(path, await document.SerializeAsJsonAsync(OpenApiSpecVersion.OpenApi3_1) + "\n");
        await app.StopAsync();
    }
}
