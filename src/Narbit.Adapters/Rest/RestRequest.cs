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

    /// <summary>
    /// Whether it may be sent again though the system may have acted on it already: it reads, or nothing is made twice of it.
    /// </summary>
    public bool RepeatsSafely { get; init; } = true;

    /// <summary>Whether a reply may be without content.</summary>
    public bool MayBeEmpty { get; init; }

    /// <summary>Whether the reply is taken as the text that it is.</summary>
    public bool AsText { get; init; }

    /// <summary>Whether “see other” (RFC 9110, section 15.4.4) is an answer without content: what was begun is done.</summary>
    public bool MayPointElsewhere { get; init; }

    /// <summary>Whether its answer counts until the system says otherwise.</summary>
    public bool IsRepeatable => Method == HttpMethod.Get && Body.IsEmpty;

    /// <summary>Headers that go along, e.g. the one with the idempotency key.</summary>
    public IReadOnlyList<(string Name, string Value)> Headers { get; init; } = [];
}

/// <summary>What a system answered.</summary>
/// <param name="json">The content.</param>
internal sealed class RestReply(JsonDocument json) : IDisposable
{
    public JsonElement Root => json.RootElement;

    public int Status { get; init; } = 200;

    /// <summary>The Link headers, joined; null: there are none.</summary>
    public string? Link { get; init; }

    /// <summary>The Location header; null: there is none.</summary>
    public string? Location { get; init; }

    /// <summary>When it was answered by the system's own clock (RFC 9110, section 6.6.1: Date); null: it does not say.</summary>
    public DateTimeOffset? AnsweredAt { get; init; }

    /// <summary>When the system wants to be asked again; null: it does not say.</summary>
    public TimeSpan? RetryAfter { get; init; }

    public void Dispose() => json.Dispose();
}
