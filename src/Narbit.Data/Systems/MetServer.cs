namespace Narbit.Data.Systems;

/// <summary>A server that files are fetched from, and the key by which it is known again.</summary>
public sealed class MetServer
{
    /// <summary>Its name and port.</summary>
    public required string Server { get; set; }

    /// <summary>SHA-256 of its host key, base64.</summary>
    public required string Fingerprint { get; set; }

    public required DateTimeOffset MetAt { get; set; }
}
