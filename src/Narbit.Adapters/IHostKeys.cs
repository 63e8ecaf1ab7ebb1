namespace Narbit.Adapters;

/// <summary>The keys by which servers are known again: learnt when one is met for the first time, and asked for ever after.</summary>
public interface IHostKeys
{
    /// <summary>The fingerprint (SHA-256, base64) of a server's key; null: it was never met.</summary>
    /// <param name="server">Its name and port, e.g. <c>files.example:22</c>.</param>
    string? Known(string server);

    /// <summary>Keeps the fingerprint of a server that was met for the first time.</summary>
    void Learn(string server, string fingerprint);
}
