using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization.Metadata;
using Narbit.Adapters.Files;
using Narbit.Adapters.Rest;
using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>The JSON Schemas (draft 2020-12) of descriptions, as docs/schemas publishes them.</summary>
public static class SystemSchema
{
    private static readonly JsonSerializerOptions Shape = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.Strict,
        UnmappedMemberHandling = System.Text.Json.Serialization.JsonUnmappedMemberHandling.Disallow,
        TypeInfoResolver = new DefaultJsonTypeInfoResolver(),
    };

    private static readonly JsonSerializerOptions Legible = new()
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>Of systems that are called.</summary>
    public static string Rest => Of(typeof(RestDocument), RestDocument.CurrentFormat);

    /// <summary>Of systems that are reached by files.</summary>
    public static string Files => Of(typeof(FileDocument), FileDocument.CurrentFormat);

    private static string Of(Type document, string format)
    {
        var schema = SchemaNodes.Of(Shape, document, takesNulls: true);
        schema["type"] = "object";
        schema["properties"]!["format"] = new JsonObject { ["const"] = format };
        var whole = new JsonObject { ["$schema"] = "https://json-schema.org/draft/2020-12/schema", ["title"] = format };
        foreach (var (name, value) in schema.ToList())
            whole[name] = value?.DeepClone();
        return whole.ToJsonString(Legible) + "\n";
    }
}
