using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>
/// A system's webhooks: signed with HMAC-SHA256 in hexadecimal over the time stamp (seconds since 1970), a point, and the body.
/// </summary>
public sealed record HookDescription
{
    /// <summary>The header with the signature.</summary>
    public required string SignatureHeader { get; init; }

    /// <summary>The header with the time stamp.</summary>
    public required string TimeHeader { get; init; }

    /// <summary>The kind of record that they are about.</summary>
    public required RecordKind Kind { get; init; }

    /// <summary>Where the body has the record's key: names joined by dots.</summary>
    public required string Record { get; init; }

    /// <summary>Where the body has the event's own name, so that the same twice is one.</summary>
    public string Id { get; init; } = "id";
}
