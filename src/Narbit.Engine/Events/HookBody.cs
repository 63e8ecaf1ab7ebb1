using System.Security.Cryptography;
using System.Text.Json;
using Narbit.Adapters;
using Narbit.Core;

namespace Narbit.Engine.Events;

/// <summary>What a webhook says of itself; all else in it is left unread.</summary>
/// <param name="Id">What the event is called, at most 200 characters; where it has no name of its own, a digest of the body.</param>
/// <param name="Record">The key of the record that it is about, at most 200 characters.</param>
public sealed record HookBody(string Id, string Record)
{
    private const int Longest = 200;

    /// <summary>Reads a body.</summary>
    /// <param name="hook">Where it says what.</param>
    /// <param name="body">The bytes that came.</param>
    /// <returns>What it says; or <c>hook.unreadable</c>.</returns>
    public static Outcome<HookBody> Read(HookDescription hook, ReadOnlyMemory<byte> body)
    {
        try
        {
            using var document = JsonDocument.Parse(body);
            var record = Text(document.RootElement, hook.Record);
            return record is null
                ? Unreadable($"The webhook does not say under “{hook.Record}” which record it is about.")
                : new HookBody(Text(document.RootElement, hook.Id) ?? Convert.ToHexStringLower(SHA256.HashData(body.Span)), record);
        }
        catch (JsonException)
        {
            return Unreadable("The webhook's body is no JSON.");
        }
        catch (InvalidOperationException)
        {
            return Unreadable("The webhook's body holds what is no valid text: half a character, or bytes that are no UTF-8.");
        }
    }

    private static Reason Unreadable(string words) => new("hook.unreadable", words);

    private static string? Text(JsonElement root, string path)
    {
        var at = root;
        foreach (var name in path.Split('.'))
            if (at.ValueKind != JsonValueKind.Object || !at.TryGetProperty(name, out at))
                return null;
        var text = at.ValueKind switch
        {
            JsonValueKind.String => at.GetString(),
            JsonValueKind.Number => at.GetRawText(),
            _ => null,
        };
        return text is { Length: > 0 and <= Longest } ? text : null;
    }
}
