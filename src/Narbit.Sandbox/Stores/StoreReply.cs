using System.Text.Json;

namespace Narbit.Sandbox.Stores;

/// <summary>Writes replies, and reads the edits that programs send.</summary>
public static class StoreReply
{
    public static IResult Json(Action<Utf8JsonWriter> write)
    {
        using var buffer = new MemoryStream();
        using (var json = new Utf8JsonWriter(buffer))
            write(json);
        return Results.Bytes(buffer.ToArray(), "application/json");
    }

    /// <summary>The edits in a body, or null where it cannot be read.</summary>
    public static async Task<IReadOnlyList<ListingEdit>?> EditsAsync(HttpRequest request, string list, Func<JsonElement, ListingEdit> read)
    {
        try
        {
            using var body = await JsonDocument.ParseAsync(request.Body);
            return [.. body.RootElement.GetProperty(list).EnumerateArray().Select(read)];
        }
        catch (Exception error)
            when (error is JsonException or KeyNotFoundException or InvalidOperationException or FormatException or OverflowException)
        {
            return null;
        }
    }

    public static string? Text(JsonElement edit, string name) =>
        edit.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString() : null;

    public static bool? Flag(JsonElement edit, string name) =>
        edit.TryGetProperty(name, out var value) && value.ValueKind is JsonValueKind.True or JsonValueKind.False
            ? edit.GetProperty(name).GetBoolean()
            : null;

    public static decimal? Number(JsonElement edit, string name) =>
        edit.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.Number ? value.GetDecimal() : null;

    /// <summary>A list of texts; an explicit null empties it.</summary>
    public static IReadOnlyList<string>? List(JsonElement edit, string name) =>
        !edit.TryGetProperty(name, out var value) ? null
        : value.ValueKind == JsonValueKind.Array ? [.. value.EnumerateArray().Select(v => v.GetString()!)]
        : [];

    /// <summary>A text; an explicit null empties it.</summary>
    public static string? Emptied(JsonElement edit, string name) =>
        edit.TryGetProperty(name, out var value)
            ? value.ValueKind == JsonValueKind.String
                ? value.GetString()
                : ""
            : null;

    public static int? Whole(JsonElement edit, string name) =>
        edit.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.Number ? value.GetInt32() : null;
}
