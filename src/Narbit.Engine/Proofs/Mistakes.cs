using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Proofs;

/// <summary>A value that was taken for granted, and that a full reading found to be another, though nothing had told of a change.</summary>
/// <param name="Field">The field.</param>
/// <param name="Believed">What it was taken for.</param>
/// <param name="Found">What it was found to be.</param>
internal sealed record Mistake(string Field, string? Believed, string? Found);

/// <summary>What the full readings of a round found otherwise than it had been told, by record.</summary>
internal sealed class Mistakes
{
    private readonly Dictionary<(bool OfSource, string Key), List<Mistake>> _byRecord = [];

    /// <summary>Those that concern a lane: of the fields that it reads or writes.</summary>
    /// <param name="db">Where changes are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="since">
    /// When the full reading of a kind began, after one of what the system says has changed. A kind without such a list has none: each
    /// of its readings is a full one.
    /// </param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<Mistakes> OfAsync(
        NarbitContext db,
        OpenLane lane,
        IReadOnlyDictionary<LaneRead, DateTimeOffset> since,
        CancellationToken cancel
    )
    {
        var mistakes = new Mistakes();
        foreach (var used in lane.Work.Computing.Uses(lane.Document, lane.Sides).GroupBy(u => (u.OfSource, u.Kind)))
        {
            var system = (used.Key.OfSource ? lane.Source : lane.Target).System.Id;
            if (!since.TryGetValue(new LaneRead(system, used.Key.Kind), out var after))
                continue;
            var fields = used.Select(u => u.Field).ToHashSet(StringComparer.Ordinal);
            await mistakes.AddAsync(db, (system, used.Key.Kind, used.Key.OfSource), fields, after, cancel);
        }

        return mistakes;
    }

    private async Task AddAsync(
        NarbitContext db,
        (string System, RecordKind Kind, bool OfSource) of,
        HashSet<string> fields,
        DateTimeOffset after,
        CancellationToken cancel
    )
    {
        var found = await (
            from change in db.ValueChanges.AsNoTracking()
            where change.SystemId == of.System && change.Kind == of.Kind && change.At >= after && change.WriteId == null
            join record in db.Records
                on new
                {
                    change.SystemId,
                    change.Kind,
                    change.Key,
                } equals new
                {
                    record.SystemId,
                    record.Kind,
                    record.Key,
                }
            select new { change, record.Parent }
        ).ToListAsync(cancel);
        foreach (var one in found.Where(f => fields.Contains(f.change.Field)))
        {
            // A stock level is its item's.
            var key = of.Kind == RecordKind.StockLevel ? one.Parent ?? one.change.Key : one.change.Key;
            if (!_byRecord.TryGetValue((of.OfSource, key), out var some))
                _byRecord[(of.OfSource, key)] = some = [];
            some.Add(new Mistake(one.change.Field, one.change.Old, one.change.New));
        }
    }

    /// <summary>Those of a record.</summary>
    public IReadOnlyList<Mistake> Of(bool ofSource, string key) => _byRecord.GetValueOrDefault((ofSource, key)) ?? [];
}
