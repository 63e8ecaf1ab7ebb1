using System.Text.Json;

namespace Narbit.Adapters.Rest;

/// <summary>A request to a system.</summary>
internal sealed record RestRequest
{
    public required HttpMethod Method { get; init; }

    /// <summary>Relative to the system's address, with its query.</summary>
    public required string Path { get; init; }

    /// <summary>A JSON body, or empty.</summary>
    public ReadOnlyMemory<byte> Body { get; init; }

    /// <summary>How often to try in all.</summary>
    public required int Attempts { get; init; }

    /// <summary>Whether a request without an answer may be sent again.</summary>
    public bool RepeatUnanswered { get; init; } = true;

    /// <summary>Whether a reply may be without content.</summary>
    public bool MayBeEmpty { get; init; }

    /// <summary>A header that goes along, e.g. the one with the idempotency key.</summary>
    public (string Name, string Value)? Header { get; init; }
}

/// <summary>What a system answered.</summary>
/// <param name="json">The content.</param>
/// <param name="link">The Link headers, joined; null: there are none.</param>
/// <param name="location">The Location header; null: there is none.</param>
internal sealed class RestReply(JsonDocument json, string? link, string? location) : IDisposable
{
    public JsonElement Root => json.RootElement;

    public string? Link { get; } = link;

    public string? Location { get; } = location;

    public void Dispose() => json.Dispose();
}
