using System.Collections.Concurrent;

namespace Narbit.Adapters;

/// <summary>Keys that are known as long as the program runs.</summary>
public sealed class PassingHostKeys : IHostKeys
{
    private readonly ConcurrentDictionary<string, string> _known = new(StringComparer.OrdinalIgnoreCase);

    /// <inheritdoc/>
    public string? Known(string server) => _known.GetValueOrDefault(server);

    /// <inheritdoc/>
    public void Learn(string server, string fingerprint) => _known.TryAdd(server, fingerprint);
}
