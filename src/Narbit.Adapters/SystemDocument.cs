using System.Text.Json;
using Narbit.Adapters.Files;
using Narbit.Adapters.Rest;
using Narbit.Core;

namespace Narbit.Adapters;

/// <summary>Reads descriptions of systems; their format says which adapter they are for.</summary>
public static class SystemDocument
{
    /// <summary>Reads and checks a description.</summary>
    /// <returns>The description, or a fault that names the first thing wrong with it.</returns>
    public static Outcome<ISystemDocument> Read(string json)
    {
        if (FormatOf(json) == FileDocument.CurrentFormat)
        {
            var files = FileDocument.Read(json);
            return files.Fault is { } wrong ? wrong : files.Value;
        }

        var rest = RestDocument.Read(json);
        return rest.Fault is { } fault ? fault : rest.Value;
    }

    private static string? FormatOf(string json)
    {
        try
        {
            using var document = JsonDocument.Parse(
                JsonText.Whole(json),
                new JsonDocumentOptions { CommentHandling = JsonCommentHandling.Skip }
            );
            return
                document.RootElement.ValueKind == JsonValueKind.Object
                && document.RootElement.TryGetProperty("format", out var format)
                && format.ValueKind == JsonValueKind.String
                ? format.GetString()
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
