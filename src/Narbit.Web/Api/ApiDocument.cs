using System.Text.Json.Serialization;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Narbit.Web.Api;

/// <summary>The API's own description.</summary>
public static class ApiDocument
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
