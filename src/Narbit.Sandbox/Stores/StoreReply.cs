using System.Globalization;
using System.Text.Json;
using Narbit.Sandbox.Orders;

namespace Narbit.Sandbox.Stores;

/// <summary>Writes replies, and reads the edits that programs send.</summary>
internal static class StoreReply
{
    public static IResult Json(Action<Utf8JsonWriter> write)
    {
        using var buffer = new MemoryStream();
        using (var json = new Utf8JsonWriter(buffer))
            write(json);
        return Results.Bytes(buffer.ToArray(), "application/json");
    }

    /// <summary>The edits in a body, or null where it cannot be read.</summary>
    public static Task<IReadOnlyList<ListingEdit>?> EditsAsync(HttpRequest request, string list, Func<JsonElement, ListingEdit> read) =>
        ReadAsync(request, list, read);

    /// <summary>What a body lists, or null where it cannot be read.</summary>
    public static async Task<IReadOnlyList<T>?> ReadAsync<T>(HttpRequest request, string list, Func<JsonElement, T> read)
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

    /// <summary>An instant in a question; null: none was asked for.</summary>
    public static DateTimeOffset? Since(string? text) =>
        text is null ? null : DateTimeOffset.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);

    /// <summary>The parcels in a list, by what the store calls their parts; null: nothing is said of them.</summary>
    public static IReadOnlyList<Parcel>? Parcels(JsonElement edit, string list, string id, string at, string carrier, string tracking) =>
        edit.TryGetProperty(list, out var parcels)
            ?
            [
                .. parcels
                    .EnumerateArray()
                    .Select(p => new Parcel(
                        Text(p, id) ?? "",
                        p.TryGetProperty(at, out var sent) && sent.ValueKind == JsonValueKind.String ? sent.GetDateTimeOffset() : null,
                        Text(p, carrier) ?? "",
                        Text(p, tracking) ?? ""
                    )),
            ]
            : null;

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
