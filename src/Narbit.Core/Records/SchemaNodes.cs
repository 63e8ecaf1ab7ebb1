using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;

namespace Narbit.Core.Records;

/// <summary>JSON Schemas of documents: what is written in a way of its own is said there too.</summary>
public static class SchemaNodes
{
    private static readonly JsonSchemaExporterOptions Strict = new()
    {
        TreatNullObliviousAsNonNullable = true,
        TransformSchemaNode = Kinds,
    };
    private static readonly JsonSchemaExporterOptions Lenient = new() { TransformSchemaNode = Kinds };

    /// <summary>The schema (draft 2020-12) of a type, as <paramref name="options"/> write it.</summary>
    /// <param name="options">How its documents are written.</param>
    /// <param name="type">The type of the document.</param>
    /// <param name="takesNulls">Whether null is taken where the type does not say that it is not.</param>
    public static JsonObject Of(JsonSerializerOptions options, Type type, bool takesNulls = false) =>
        (JsonObject)options.GetJsonSchemaAsNode(type, takesNulls ? Lenient : Strict);

    private static JsonNode Kinds(JsonSchemaExporterContext context, JsonNode node)
    {
        var type = Nullable.GetUnderlyingType(context.TypeInfo.Type) ?? context.TypeInfo.Type;
        if (type != typeof(RecordKind))
            return node;
        IEnumerable<JsonNode?> words = RecordKind.All.Select(k => (JsonNode?)k.Word);
        if (type != context.TypeInfo.Type)
            words = words.Append(null);
        return new JsonObject { ["enum"] = new JsonArray([.. words]) };
    }
}
