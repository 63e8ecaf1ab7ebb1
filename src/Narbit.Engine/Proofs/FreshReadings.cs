using Narbit.Core;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Proofs;

/// <summary>The full readings of a round: each kind of record once, whatever number of lanes needs it.</summary>
/// <param name="adapters">How systems are reached.</param>
/// <param name="reader">How they are read.</param>
/// <param name="clock">The time.</param>
internal sealed class FreshReadings(AdapterSource adapters, MirrorReader reader, TimeProvider clock)
{
    private readonly Dictionary<LaneRead, Reason?> _done = [];
    private readonly Dictionary<LaneRead, DateTimeOffset> _since = [];

    /// <summary>When the full reading of a kind began that was read for what has changed just before.</summary>
    public IReadOnlyDictionary<LaneRead, DateTimeOffset> Since => _since;

    /// <summary>Reads all of a kind, unless that was done.</summary>
    /// <returns>Why it could not be read; null: it was.</returns>
    public async Task<Reason?> ReadAsync(LaneRead wanted, CancellationToken cancel)
    {
        if (!_done.TryGetValue(wanted, out var fault))
            _done[wanted] = fault = await AfreshAsync(wanted, cancel);
        return fault;
    }

    private async Task<Reason?> AfreshAsync(LaneRead wanted, CancellationToken cancel)
    {
        var opened = await adapters.ForAsync(wanted.SystemId, cancel);
        if (opened.Fault is { } unknown)
            return unknown;
        if (opened.Value.Adapter.ReadsChanges(wanted.Kind))
        {
            if ((await reader.ReadAsync(wanted.SystemId, wanted.Kind, full: false, cancel)).Fault is { } unread)
                return unread;
            _since[wanted] = clock.GetUtcNow();
        }

        return (await reader.ReadAsync(wanted.SystemId, wanted.Kind, full: true, cancel)).Fault;
    }
}
