using System.Text.Json;
using Narbit.Adapters.Files;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>What every description of a system says, whichever adapter reads it.</summary>
public interface ISystemDocument
{
    /// <summary>The system's name.</summary>
    string Name { get; }

    /// <summary>What it is to the business.</summary>
    SystemKind Kind { get; }

    /// <summary>Two letters that stand for it on screen.</summary>
    string Mark { get; }

    /// <summary>ISO 4217 code of its amounts.</summary>
    string Currency { get; }

    /// <summary>The currency's digits after the point.</summary>
    int Decimals { get; }

    /// <summary>Where it is: an address, or a folder.</summary>
    string Address { get; }

    /// <summary>How it signs callers in, in one word.</summary>
    string SignsInWith { get; }

    /// <summary>Another address to which the credentials are sent, e.g. where tokens are given; null: there is none.</summary>
    string? SignInAddress => null;

    /// <summary>The most requests a second; 0 where that makes no sense.</summary>
    double RequestsPerSecond { get; }

    /// <summary>How its webhooks are told; null: it sends none.</summary>
    HookDescription? Hook => null;

    /// <summary>An adapter for the system at an address.</summary>
    /// <param name="address">The address, which may be another than the document's.</param>
    /// <param name="credential">How to sign in, or null.</param>
    /// <param name="outbound">What may be reached.</param>
    /// <param name="clock">The time.</param>
    /// <returns>The adapter, or why the address cannot be used.</returns>
    Outcome<IAdapter> Adapter(string address, Credential? credential, OutboundPolicy outbound, TimeProvider clock);
}

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
