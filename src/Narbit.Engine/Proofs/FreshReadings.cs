using Narbit.Adapters;
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
        var opened = await adapters.ForAsync(wanted.SystemId, cancel);
        if (opened.Fault is { } unknown)
            return unknown;
        var adapter = opened.Value.Adapter;
        // What comes with another list is read with it, and not a second time.
        var list = wanted with
        {
            Kind = adapter.Kinds.FirstOrDefault(k => k.Kind == wanted.Kind)?.ReadWith ?? wanted.Kind,
        };
        if (!_done.TryGetValue(list, out var fault))
            _done[list] = fault = await AfreshAsync(list, adapter, cancel);
        if (_since.TryGetValue(list, out var since))
            _since[wanted] = since;
        return fault;
    }

    private async Task<Reason?> AfreshAsync(LaneRead list, IAdapter adapter, CancellationToken cancel)
    {
        if (adapter.ReadsChanges(list.Kind))
        {
            if ((await reader.ReadAsync(list.SystemId, list.Kind, full: false, cancel)).Fault is { } unread)
                return unread;
            _since[list] = clock.GetUtcNow();
        }

        return (await reader.ReadAsync(list.SystemId, list.Kind, full: true, cancel)).Fault;
    }
}
