using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>Says what another description of a system does to kept records and to lanes. Nothing is changed or called.</summary>
/// <param name="database">Where both are.</param>
/// <param name="adapters">How systems are described now.</param>
public sealed class DescriptionEffects(Database database, AdapterSource adapters)
{
    private const int MostRecords = 20_000;
    private const int MostShown = 20;

    /// <summary>The effect, or why the description cannot be used.</summary>
    /// <param name="systemId">The system.</param>
    /// <param name="document">The other description.</param>
    /// <param name="address">The address that goes with it.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<DescriptionEffect>> OfAsync(string systemId, string document, string address, CancellationToken cancel)
    {
        var now = await adapters.ForAsync(systemId, cancel);
        if (now.Fault is { } unknown)
            return unknown;
        var made = adapters.Make(document, address, null);
        if (made.Fault is { } unusable)
            return unusable;
        using var adapter = made.Value;
        var then = now.Value with { Adapter = adapter };
        var kinds = new List<KindEffect>();
        foreach (var kind in now.Value.Adapter.Kinds.Concat(adapter.Kinds).DistinctBy(k => k.Kind))
            if (await KindAsync(now.Value, then, kind, document, cancel) is { } effect)
                kinds.Add(effect);
        return new DescriptionEffect(kinds, await LanesAsync(systemId, then, cancel));
    }

    private async Task<KindEffect?> KindAsync(Connection now, Connection then, OfferedKind kind, string document, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var kept = db.Records.AsNoTracking().Where(r => r.SystemId == now.System.Id && r.Kind == kind.Kind && r.GoneAt == null);
        if (then.Adapter.Kinds.All(k => k.Kind != kind.Kind))
            return Only(kind, await kept.CountAsync(cancel), "they would be read no more; what is kept of them stays as it is");
        if (now.Adapter.Kinds.All(k => k.Kind != kind.Kind))
            return Only(kind, 0, "they are new, and come with the next reading");
        if (then.Adapter.KeptAs(kind.Kind) is not { } shape || shape != now.Adapter.KeptAs(kind.Kind))
            return now.System.Document == document
                ? null
                : Only(kind, await kept.CountAsync(cancel), "what changes in them shows with the next reading");
        var tally = new Tally(kind);
        var around = await db
            .Parents.AsNoTracking()
            .Where(p => p.SystemId == now.System.Id && p.Kind == kind.Kind)
            .ToDictionaryAsync(p => p.Key, p => p.Raw, StringComparer.Ordinal, cancel);
        await foreach (var record in kept.OrderBy(r => r.Id).Take(MostRecords).AsAsyncEnumerable().WithCancellation(cancel))
        {
            var parent = record.Parent is { } key ? around.GetValueOrDefault(key) : null;
            var read = then.Adapter.Understand(
                kind.Kind,
                Encoding.UTF8.GetBytes(record.Raw),
                parent is null ? default : Encoding.UTF8.GetBytes(parent)
            );
            tally.Add(record, read);
        }

        return tally.Effect;
    }

    private static KindEffect Only(OfferedKind kind, int records, string said) =>
        new()
        {
            Kind = kind.Kind,
            Label = kind.Label,
            Looked = records,
            Otherwise = 0,
            Troubled = 0,
            Fields = [],
            Said = said,
        };

    private async Task<IReadOnlyList<LaneEffect>> LanesAsync(string systemId, Connection then, CancellationToken cancel)
    {
        List<string> ids;
        await using (var db = database.CreateDbContext())
            ids = await db.Lanes.Where(l => l.SourceId == systemId || l.TargetId == systemId).Select(l => l.Id).ToListAsync(cancel);
        var effects = new List<LaneEffect>();
        foreach (var id in ids)
        {
            var lane = await OpenLane.ForAsync(database, adapters, id, cancel);
            // One that cannot be used now has nothing to lose.
            if (lane.Fault is null && await FaultsAsync(lane.Value, systemId, then, cancel) is { Count: > 0 } faults)
                effects.Add(new LaneEffect(id, lane.Value.Lane.Name ?? lane.Value.Name, faults));
        }

        return effects;
    }

    private async Task<List<string>> FaultsAsync(OpenLane lane, string systemId, Connection then, CancellationToken cancel)
    {
        var source = lane.Lane.SourceId == systemId ? then : lane.Source;
        var target = lane.Lane.TargetId == systemId ? then : lane.Target;
        var sides = LaneSides.Of(lane.Work.Record, source, target);
        if (lane.Work.Computing.Unfit(sides) is { } unfit)
            return [unfit.Words];
        var known = (await lane.CheckAsync(lane.Document, database, cancel)).Select(f => (f.Path, f.Message)).ToHashSet();
        var faults = await (lane with { Source = source, Target = target, Sides = sides }).CheckAsync(lane.Document, database, cancel);
        return [.. faults.Where(f => !known.Contains((f.Path, f.Message))).Select(f => f.Message)];
    }

    // What changes in the records of a kind, one after the other.
    private sealed class Tally(OfferedKind kind)
    {
        private readonly Dictionary<string, List<ReadOtherwise>> _first = new(StringComparer.Ordinal);
        private readonly Dictionary<string, int> _changed = new(StringComparer.Ordinal);
        private int _looked;
        private int _otherwise;
        private int _troubled;

        public KindEffect? Effect =>
            _otherwise == 0 && _troubled == 0
                ? null
                : new KindEffect
                {
                    Kind = kind.Kind,
                    Label = kind.Label,
                    Looked = _looked,
                    Otherwise = _otherwise,
                    Troubled = _troubled,
                    Fields =
                    [
                        .. _changed
                            .OrderByDescending(c => c.Value)
                            .ThenBy(c => c.Key, StringComparer.Ordinal)
                            .Select(c => new FieldReadOtherwise(c.Key, c.Value, _first[c.Key])),
                    ],
                };

        public void Add(MirrorRecord record, ReadRecord? read)
        {
            _looked++;
            if (read is null)
            {
                (_otherwise, _troubled) = (_otherwise + 1, _troubled + 1);
                return;
            }

            var before = StoredRecord.Values(record.Values);
            var fields = before.Keys.Union(read.Values.Keys, StringComparer.Ordinal);
            var changed = false;
            foreach (var field in fields)
            {
                var (was, now) = (before.GetValueOrDefault(field), read.Values.GetValueOrDefault(field));
                if (was == now)
                    continue;
                changed = true;
                _changed[field] = _changed.GetValueOrDefault(field) + 1;
                if (!_first.TryGetValue(field, out var first))
                    _first[field] = first = [];
                if (first.Count < MostShown)
                    first.Add(new ReadOtherwise(record.Key, was, now));
            }

            if (read.Key != record.Key || record.Children != read.Children.Write())
                changed = true;
            if (changed)
                _otherwise++;
            if (record.Problems is null && read.Problems.Count > 0)
                _troubled++;
        }
    }
}
